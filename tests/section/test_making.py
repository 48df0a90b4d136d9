"""Making in the background: noted as it goes, one after the other, a few at most."""

import time
from pathlib import Path

import pytest

from tests.builders import TERM, category, plan
from tests.store.conftest import AT
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName
from vinemark.exchange.apart import say
from vinemark.section import making as module
from vinemark.section.making import FULL, Making, Wanted
from vinemark.store import made_files, people, sections
from vinemark.store.database import Connection, connect, migrate
from vinemark.store.history import Act

# Makers; they are run in a process of their own.


def _slow(seconds: float) -> bytes:
    for page in range(1, 4):
        say(f"page {page}")
        time.sleep(seconds)
    return b"made"


def _refuse() -> bytes:
    raise Refused("PDF", "needs a printer")


def _stumble() -> bytes:
    raise KeyError("a fault")


class Asked:
    """A person who asks for files of a section."""

    def __init__(self, path: Path) -> None:
        self.connection: Connection = connect(path)
        migrate(self.connection)
        self.person = people.add_person(self.connection, Act(None, AT), "maren@larkmoor.example", "Maren", "hash")
        name = SectionName("HYDR 230", "Watershed", "01")
        act = Act(self.person, AT)
        self.section = sections.create_section(self.connection, act, TERM, name, [], plan(category("10")))
        self.making, self.path = Making(), path

    def ask(self, of: str) -> str:
        wanted = Wanted("Audit as PDF", of, "audit.pdf", "application/pdf")
        return made_files.ask(self.connection, self.person, self.section, "instructor", wanted, time.time())[0]

    def file(self, token: str) -> made_files.MadeFile:
        found = made_files.made_file(self.connection, self.person, self.section, token, time.time())
        assert found is not None
        return found


@pytest.fixture
def asked(tmp_path: Path) -> Asked:
    return Asked(tmp_path / "test.sqlite")


def test_what_is_made_stays_with_whoever_asked(asked: Asked) -> None:
    token = asked.ask("1")
    asked.making.wait(asked.making.make(asked.path, token, _slow, 0))
    assert asked.file(token).ready
    assert made_files.content_of(asked.connection, asked.person, token) == b"made"


def test_its_progress_can_be_read_and_it_need_not_be_waited_for(asked: Asked, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "WAITED_SECONDS", 0.05)
    monkeypatch.setattr(module, "NOTED_EVERY", 0.0)
    token = asked.ask("1")
    future = asked.making.make(asked.path, token, _slow, 0.7)
    asked.making.wait(future)
    seen = set()
    while asked.file(token).going:
        seen.add(asked.file(token).progress)
    assert {"page 1", "page 2", "page 3"} <= seen
    assert asked.file(token).ready


@pytest.mark.parametrize(("maker", "said"), [(_refuse, "It needs a printer."), (_stumble, "It could not be made.")])
def test_what_cannot_be_made_says_why(asked: Asked, maker: object, said: str) -> None:
    token = asked.ask("1")
    asked.making.wait(asked.making.make(asked.path, token, maker))  # type: ignore[arg-type]
    assert asked.file(token).refused == said


def test_a_full_queue_refuses_at_once_and_what_is_in_it_is_made(asked: Asked, monkeypatch: pytest.MonkeyPatch) -> None:
    tokens = [asked.ask(str(number)) for number in range(module.QUEUED + 1)]
    futures = [asked.making.make(asked.path, token, _slow, 0.02) for token in tokens]
    assert futures[-1] is None
    assert asked.file(tokens[-1]).refused == FULL
    for future in futures[:-1]:
        assert future is not None
        future.result(60)
    assert all(asked.file(token).ready for token in tokens[:-1])


def test_few_wait_and_the_others_are_not_held_up(asked: Asked, monkeypatch: pytest.MonkeyPatch) -> None:
    # Whoever waited would wait until it is made.
    monkeypatch.setattr(module, "WAITED_SECONDS", 60.0)
    for _ in range(module.WAITERS):
        assert asked.making._waiters.acquire(blocking=False)
    token = asked.ask("1")
    future = asked.making.make(asked.path, token, _slow, 0.7)
    assert future is not None
    asked.making.wait(future)
    assert not future.done()
    future.result(60)
