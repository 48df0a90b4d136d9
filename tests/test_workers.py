"""Several processes serve one port: what one of them told is kept, whoever is killed, and none is left behind."""

import http.client
import json
import os
import random
import re
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path

import pytest

from tests.builders import TERM, category, plan
from tests.passwords import PASSWORD
from tests.seeds import seed
from vinemark.core.course.course import SectionName, Student
from vinemark.passwords import hashed
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act

EMAIL = "typist@larkmoor.example"
STUDENTS, ITEMS = 12, 6
LOAD_SECONDS = 1.2


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
    process: subprocess.Popen[bytes] | None = None

    @property
    def database(self) -> str:
        return str(self.folder / "v.sqlite")

    def prepare(self) -> None:
        connection = connect(self.database)
        migrate(connection)
        act = Act(None, datetime(2026, 12, 19, 10))
        owner = people.add_person(connection, act, EMAIL, "Tove Arnesen", hashed(PASSWORD))
        students = [Student(f"s{n}", f"Ode {n}", "Mai") for n in range(STUDENTS)]
        name = SectionName("HYDR 230", "Watershed", "01")
        made = plan(category(*["10"] * ITEMS))
        sections.create_section(connection, Act(owner, act.at), TERM, name, students, made)
        connection.close()

    def start(self) -> None:
        command = [
            sys.executable,
            "-m",
            "vinemark.cli",
            "serve",
            "--port",
            str(self.port),
            "--workers",
            str(self.workers),
        ]
        environment = {**os.environ, "VINEMARK_DATABASE": self.database, "VINEMARK_DELIVER_SECONDS": "0"}
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
        assert self.process is not None
        self.process.send_signal(how)
        return self.process.wait(20)


class Typist:
    """Somebody signed in who types scores, and remembers what was confirmed."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.told: dict[tuple[str, str], str] = {}
        self.open: dict[tuple[str, str], str] = {}
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

    def type(self, student: str, item: str, score: str) -> None:
        """Type one score; what the server did not answer may be kept or not."""
        place = (student, item)
        self.open[place] = score
        cells = [{"student": student, "item": item, "typed": score}]
        body = json.dumps({"key": f"{student}{item}{score}{time.monotonic_ns()}", "cells": cells})
        try:
            status, text = self.ask("POST", "/s/1/scores/cells", body, "application/json")
        except (OSError, http.client.HTTPException):
            return
        if status == 200 and json.loads(text)["entry"]:
            self.told[place] = score
            del self.open[place]


def kept(database: str) -> dict[tuple[str, str], str]:
    connection = connect(database)
    rows = connection.execute("SELECT student_id, item_id, cell FROM score").fetchall()
    integrity = connection.execute("PRAGMA integrity_check").fetchone()[0]
    connection.close()
    assert integrity == "ok"
    return {(row["student_id"], row["item_id"]): row["cell"] for row in rows}


@contextmanager
def load(served: Served, typists: list[Typist]) -> Iterator[None]:
    """Each types into rows of their own, as fast as it is answered."""
    stopped = threading.Event()

    def hammer(number: int, typist: Typist) -> None:
        draw = random.Random(seed(40 + number))
        while not stopped.is_set():
            student = f"s{draw.randrange(STUDENTS // len(typists)) * len(typists) + number}"
            typist.type(student, f"i{draw.randrange(ITEMS)}", f"{draw.randrange(1, 1000) / 100:g}")

    threads = [threading.Thread(target=hammer, args=pair) for pair in enumerate(typists)]
    for thread in threads:
        thread.start()
    try:
        yield
    finally:
        stopped.set()
        for thread in threads:
            thread.join()


@pytest.mark.many
@pytest.mark.parametrize("workers", [1, 2, 4])
def test_killed_under_load_nothing_that_was_told_is_lost(tmp_path: Path, workers: int) -> None:
    served = Served(tmp_path, workers)
    served.prepare()
    served.start()
    typists = [Typist(served.port) for _ in range(3)]
    with load(served, typists):
        time.sleep(LOAD_SECONDS)
        if workers > 1:
            os.kill(served.processes()[0], signal.SIGKILL)
            time.sleep(LOAD_SECONDS)
        children = served.processes()
        served.stop(signal.SIGKILL)
    deadline = time.monotonic() + 10
    while any(Path(f"/proc/{child}").exists() for child in children) and time.monotonic() < deadline:
        time.sleep(0.05)
    assert not any(Path(f"/proc/{child}").exists() for child in children)
    found = kept(served.database)
    told = {place: score for typist in typists for place, score in typist.told.items()}
    unsure = {place: score for typist in typists for place, score in typist.open.items()}
    assert len(told) > 10
    for place, score in told.items():
        assert found[place] in {score, unsure.get(place)}
    served.start()
    again = Typist(served.port)
    again.type("s0", "i0", "7.25")
    assert again.told
    assert served.stop() == 0


@pytest.mark.many
def test_every_process_answers_and_a_dead_one_is_replaced(tmp_path: Path) -> None:
    served = Served(tmp_path, 3)
    served.prepare()
    served.start()
    try:
        before = served.processes()
        assert len(before) == 3
        typist = Typist(served.port)
        for number in range(20):
            assert typist.ask("GET", "/s/1/scores/since/0")[0] == 200, number
        os.kill(before[1], signal.SIGKILL)
        deadline = time.monotonic() + 15
        while (len(served.processes()) < 3 or before[1] in served.processes()) and time.monotonic() < deadline:
            time.sleep(0.1)
        after = served.processes()
        assert len(after) == 3
        assert len(set(before) & set(after)) == 2
        assert typist.ask("GET", "/s/1/scores")[0] == 200
    finally:
        assert served.stop() == 0
