"""Several processes serve one port: what one of them told is kept, whoever is killed, and none is left behind."""

import os
import random
import signal
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from tests.seeds import seed
from tests.served import ITEMS, STUDENTS, Served, Typist
from vinemark.store.database import connect

LOAD_SECONDS = 1.2


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
        assert found[place] in {score, *unsure.get(place, set())}
    served.start()
    again = Typist(served.port)
    again.type("s0", "i0", "7.25")
    assert again.told
    assert served.stop() == 0


def all_of(served: Served) -> list[int]:
    """The processes, once all are there: the port listens before they are begun."""
    deadline = time.monotonic() + 15
    while len(served.processes()) < served.workers and time.monotonic() < deadline:
        time.sleep(0.05)
    found = served.processes()
    assert len(found) == served.workers
    return found


@pytest.mark.many
def test_every_process_answers_and_a_dead_one_is_replaced(tmp_path: Path) -> None:
    served = Served(tmp_path, 3)
    served.prepare()
    served.start()
    try:
        before = all_of(served)
        typist = Typist(served.port)
        for number in range(20):
            assert typist.ask("GET", "/s/1/scores/since/0")[0] == 200, number
        os.kill(before[1], signal.SIGKILL)
        deadline = time.monotonic() + 15
        while before[1] in served.processes() and time.monotonic() < deadline:
            time.sleep(0.1)
        after = all_of(served)
        assert len(set(before) & set(after)) == 2
        assert typist.ask("GET", "/s/1/scores")[0] == 200
    finally:
        assert served.stop() == 0
