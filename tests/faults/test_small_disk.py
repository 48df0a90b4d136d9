"""A disk that really is full, and one that really cannot be written: a small file system in memory, mounted for it."""

import json
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.faults.test_lost_machine import run
from tests.served import Served, Typist

pytestmark = pytest.mark.many
SIZE = 24 * 2**20


@pytest.fixture
def small(tmp_path: Path) -> Iterator[Path]:
    """A folder on a disk of its own."""
    folder = tmp_path / "small"
    folder.mkdir()
    if mount("-t", "tmpfs", "-o", f"size={SIZE}", "none", str(folder)):
        pytest.skip("nothing can be mounted here")
    yield folder
    subprocess.run(["umount", "--lazy", str(folder)], check=True)


def mount(*arguments: str) -> int:
    return subprocess.run(["mount", *arguments], capture_output=True, check=False).returncode


def fill(folder: Path) -> Path:
    """Write until nothing more can be."""
    file = folder / "fills it"
    with file.open("wb", buffering=0) as out:
        try:
            for size in (2**16, 2**10, 1):
                while out.write(b"\0" * size) == size:
                    pass
        except OSError:
            pass
    return file


def save(typist: Typist, score: str) -> tuple[int, str]:
    cells = {"key": f"k{score}", "cells": [{"student": "s1", "item": "i1", "typed": score}]}
    return typist.ask("POST", "/s/1/scores/cells", json.dumps(cells), "application/json")


def test_with_a_full_disk_pages_are_read_and_with_room_it_goes_on(small: Path) -> None:
    served = Served(small, 1)
    served.prepare()
    served.start()
    try:
        typist = Typist(served.port)
        assert save(typist, "5")[0] == 200
        filling = fill(small)
        # What the log has room for already may be saved on; what is confirmed then is there.
        last, status, text = "5", 200, ""
        for number in range(1, 3_000):
            status, text = save(typist, f"{number % 10}.{number % 7}")
            if status != 200:
                break
            last = f"{number % 10}.{number % 7}"
        assert (status, "The disk is full" in text or "Nothing was changed" in text) == (507, True)
        for page in ("/", "/s/1/scores", "/s/1/plan", "/s/1/history"):
            assert typist.ask("GET", page)[0] == 200, page
        assert typist.ask("GET", "/health")[0] == 200
        found = run(small, "check", "--offline")
        assert (found.returncode, "make room" in found.stderr) == (2, True)
        assert run(small, "backup", str(small / "copy.sqlite")).returncode == 2
        assert not (small / "copy.sqlite").exists()
        filling.unlink()
        history = typist.ask("GET", "/s/1/history")[1]
        assert last in history
        assert save(typist, "6.5")[0] == 200
    finally:
        served.stop()
    assert run(small, "check", "--offline").returncode in {0, 2}


def test_on_a_disk_that_cannot_be_written_commands_say_what_to_do(small: Path) -> None:
    served = Served(small, 1)
    served.prepare()
    served.start()
    served.stop()
    assert mount("-o", "remount,ro", str(small)) == 0
    for command in (
        ("serve", "--port", str(served.port)),
        ("user", "a@b.example", "A", "--password", "mosses on granite"),
    ):
        said = run(small, *command)
        assert (said.returncode, said.stderr.count("\n")) == (2, 1), said.stderr
        assert str(small) in said.stderr
        assert "Traceback" not in said.stderr
    found = run(small, "check", "--offline")
    assert (found.returncode, f"{small} cannot be written" in found.stderr) == (2, True), found.stderr
    assert mount("-o", "remount,rw", str(small)) == 0
    served.start()
    typist = Typist(served.port)
    assert save(typist, "5")[0] == 200
    served.stop()
