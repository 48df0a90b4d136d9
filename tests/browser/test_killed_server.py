"""kill -9 in a burst of saves, again and again: what was told kept is kept, the rest is sent again under its key."""

import random
import re
import signal
import sqlite3
import threading
import time
from pathlib import Path

import httpx
import pytest

from tests.browser.stage import DEMO_EMAIL, DEMO_PASSWORD, Stage
from tests.seeds import seed

KILLS = 6
PATIENCE = 120
"""Seconds in which a server that was killed has to answer again, on a machine that does much else."""
ENOUGH = 20
"""Cells that must have been told kept: a slow machine takes longer for them."""
SEED = 20261123


class Hands:
    """Somebody who types cells as fast as they are answered, and sends again what was not."""

    def __init__(self, stage: Stage) -> None:
        self.stage = stage
        self.client = httpx.Client(base_url=stage.url, timeout=5)
        page = self.client.get("/sign-in").text
        token = re.search(r'name="csrf_token" value="([^"]+)"', page)
        assert token is not None
        form = {"email": DEMO_EMAIL, "password": DEMO_PASSWORD, "csrf_token": token[1]}
        assert self.client.post("/sign-in", data=form).status_code == 302
        found = re.search(r'name="csrf-token" content="([^"]+)"', self.client.get("/s/1/scores").text)
        assert found is not None
        self.token = found[1]
        self.told: dict[tuple[str, str], str] = {}
        self.lost = 0

    def type(self, number: int, student: str, item: str, typed: str) -> None:
        """One cell, repeated under its key until there is an answer."""
        sent = {"cells": [{"student": student, "item": item, "typed": typed}], "key": f"burst-{number}"}
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until:
            try:
                answer = self.client.post("/s/1/scores/cells", json=sent, headers={"X-CSRFToken": self.token})
            except httpx.TransportError:
                self.lost += 1
                time.sleep(0.05)
                continue
            assert answer.status_code == 200, answer.text
            assert answer.json()["refused"] == []
            self.told[student, item] = typed
            return
        raise AssertionError("the server did not come back")


def kept(folder: Path) -> dict[tuple[str, str], str]:
    connection = sqlite3.connect(folder / "vinemark.sqlite")
    found = {
        (s, i): c for s, i, c in connection.execute("SELECT student_id, item_id, cell FROM score WHERE section_id = 1")
    }
    keys = [k for (k,) in connection.execute("SELECT request_key FROM history WHERE request_key LIKE '%burst-%'")]
    assert len(keys) == len(set(keys))
    connection.close()
    return found


@pytest.mark.many
def test_nothing_told_kept_is_lost_and_nothing_is_written_twice(tmp_path: Path) -> None:
    chance = random.Random(seed(SEED))
    with Stage.demo(tmp_path) as stage:
        hands = Hands(stage)
        students = sorted({student for student, _ in kept(stage.folder)})[:20]
        stop = threading.Event()

        def burst() -> None:
            number = 0
            while not stop.is_set():
                number += 1
                hands.type(number, chance.choice(students), f"q{number % 8 + 1}", str(number % 11))

        typing = threading.Thread(target=burst)
        typing.start()
        for _ in range(KILLS):
            time.sleep(0.25 + chance.random() * 0.4)
            stage.stop("app", signal.SIGKILL)
            told = dict(hands.told)
            now = kept(stage.folder)
            # The cell on its way when the server died may be newer than what was told; every other is as told.
            assert sum(now.get(place) != typed for place, typed in told.items()) <= 1
            stage.start("app", "serve", "--port", str(stage.port))
        while len(hands.told) <= ENOUGH:
            time.sleep(0.1)
        stop.set()
        typing.join()
        hands.client.close()
        assert hands.lost > 0
        assert len(hands.told) > ENOUGH
        assert {place: kept(stage.folder).get(place) for place in hands.told} == hands.told
