"""A registrar that takes its time: those who wait for it stop nobody from saving."""

import re
import sqlite3
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing
from pathlib import Path

import httpx

from tests.browser.stage import DEMO_EMAIL, DEMO_PASSWORD, Stage
from vinemark.section.delivery.gateway import SEATS

TOKEN = re.compile(r'name="csrf-token" content="([^"]+)"')


def signed_in(stage: Stage) -> httpx.Client:
    """A browser of its own, with its token."""
    client = httpx.Client(base_url=stage.url, follow_redirects=True, timeout=60)
    page = client.get("/sign-in").text
    token = re.search(r'name="csrf_token" value="([^"]+)"', page)
    assert token
    client.post("/sign-in", data={"email": DEMO_EMAIL, "password": DEMO_PASSWORD, "csrf_token": token[1]})
    found = TOKEN.search(client.get("/").text)
    assert found
    client.headers["X-CSRFToken"] = found[1]
    return client


def run(database: Path, query: str) -> object:
    with closing(sqlite3.connect(database)) as connection, connection:
        row = connection.execute(query).fetchone()
    return row[0] if row else None


def test_nobody_who_saves_waits_for_the_registrar(tmp_path: Path) -> None:
    with Stage.demo(tmp_path) as stage, ExitStack() as open_:
        people = [open_.enter_context(closing(signed_in(stage))) for _ in range(10)]
        writer = people.pop()
        run(stage.folder / "office.sqlite", "UPDATE weather SET slow_seconds = 30")
        student = run(stage.folder / "vinemark.sqlite", "SELECT id FROM student WHERE section_id = 1")
        cell = {"student": student, "item": "q1", "typed": "3"}
        with ThreadPoolExecutor(len(people)) as pool:
            waiting = [pool.submit(one.post, "/s/1/submit/update") for one in people]
            time.sleep(1)
            for number in range(6):
                saved = writer.post("/s/1/scores/cells", json={"key": f"slow-{number}", "cells": [cell]})
                assert saved.status_code == 200, saved.text[:200]
            still_waiting = sum(not one.done() for one in waiting)
            answered = [one.result() for one in waiting]
        # Those in the registrar's seats wait on while everything is saved; nobody else holds a thread.
        assert still_waiting == SEATS
        assert all(answer.status_code == 200 for answer in answered)
        assert sum("others are waiting for its answers" in answer.text for answer in answered) >= 4
