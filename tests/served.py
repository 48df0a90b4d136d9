"""Vine Mark served from the command line, and somebody who types scores over HTTP."""

import http.client
import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path

from tests.builders import TERM, category, plan
from tests.passwords import PASSWORD
from vinemark.core.course.course import Course, SectionName, Student
from vinemark.passwords import hashed
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act

EMAIL = "typist@larkmoor.example"
STUDENTS, ITEMS = 12, 6


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Served:
    """A database with one section, and the processes that serve it."""

    folder: Path
    workers: int
    port: int = field(default_factory=free_port)
    more: tuple[str, ...] = ()
    settings: Mapping[str, str] = field(default_factory=dict)
    process: subprocess.Popen[bytes] | None = None

    @property
    def database(self) -> str:
        return str(self.folder / "v.sqlite")

    def prepare(self, courses: Iterable[Course] = ()) -> None:
        """A database with somebody's sections, by default a small one."""
        connection = connect(self.database)
        migrate(connection)
        act = Act(None, datetime(2026, 12, 19, 10))
        owner = people.add_person(connection, act, EMAIL, "Tove Arnesen", hashed(PASSWORD))
        students = [Student(f"s{n}", f"Ode {n}", "Mai") for n in range(STUDENTS)]
        name = SectionName("HYDR 230", "Watershed", "01")
        small = Course(TERM, name, plan(category(*["10"] * ITEMS)), tuple(students))
        for course in courses or [small]:
            sections.create_from_course(connection, Act(owner, act.at), course)
        connection.close()

    def start(self) -> None:
        """Serve, and wait until the port answers."""
        command = [
            sys.executable,
            "-m",
            "vinemark.cli",
            "serve",
            "--port",
            str(self.port),
            "--workers",
            str(self.workers),
            *self.more,
        ]
        environment = {
            **os.environ,
            "VINEMARK_DATABASE": self.database,
            "VINEMARK_DELIVER_SECONDS": "0",
            **self.settings,
        }
        self.process = subprocess.Popen(command, env=environment, start_new_session=True)
        for _ in range(300):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            time.sleep(0.1)
        raise AssertionError("the server does not listen")

    def processes(self) -> list[int]:
        """The first process's children that serve."""
        assert self.process is not None
        children = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text()
        return [int(child) for child in children.split()]

    def stop(self, how: signal.Signals = signal.SIGTERM) -> int:
        """End it; the status it ends with."""
        assert self.process is not None
        self.process.send_signal(how)
        return self.process.wait(20)


class Typist:
    """Somebody signed in who types scores, and remembers what was confirmed."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.told: dict[tuple[str, str], str] = {}
        self.told_at: dict[str, float] = {}
        # What was sent since and not answered: any of it may be kept.
        self.open: dict[tuple[str, str], set[str]] = {}
        self.cookie = ""
        form = self.ask("GET", "/sign-in")[1]
        token = re.search(r'name="csrf_token" value="([^"]+)"', form)
        assert token is not None
        body = f"csrf_token={token[1]}&email={EMAIL}&password={PASSWORD.replace(' ', '+')}"
        assert self.ask("POST", "/sign-in", body, "application/x-www-form-urlencoded")[0] == 302
        page = self.ask("GET", "/s/1/scores")[1]
        found = re.search(r'name="csrf-token" content="([^"]+)"', page)
        assert found is not None
        self.token = found[1]

    def ask(self, method: str, path: str, body: str = "", kind: str = "") -> tuple[int, str]:
        """One request over a connection of its own: status and text."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=15)
        headers = {"Cookie": self.cookie, "Content-Type": kind, "X-CSRFToken": getattr(self, "token", "")}
        try:
            connection.request(method, path, body or None, headers)
            answer = connection.getresponse()
            text = answer.read().decode()
        finally:
            connection.close()
        for name, value in answer.getheaders():
            if name == "Set-Cookie" and value.startswith("vinemark="):
                self.cookie = value.partition(";")[0]
        return answer.status, text

    def type(self, student: str, item: str, score: str, section: int = 1) -> None:
        """Type one score; what the server did not answer may be kept or not."""
        place = (student, item)
        self.open.setdefault(place, set()).add(score)
        cells = [{"student": student, "item": item, "typed": score}]
        key = f"{student}{item}{score}{time.monotonic_ns()}"
        body = json.dumps({"key": key, "cells": cells})
        try:
            status, text = self.ask("POST", f"/s/{section}/scores/cells", body, "application/json")
        except (OSError, http.client.HTTPException):
            return
        if status == 200 and json.loads(text)["entry"]:
            self.told[place] = score
            self.told_at[key] = time.monotonic()
            del self.open[place]
