"""Reading apart: what a reader does to its process stays there, and becomes a sentence."""

import os
import resource
import signal
import threading
import time
from collections.abc import Iterator
from dataclasses import replace

import pytest

from vinemark.core.base.refused import Refused
from vinemark.exchange import apart
from vinemark.exchange.apart import read_apart

# Readers that misbehave; they are run in a process of their own.


def _process() -> int:
    return os.getpid()


def _parent() -> int:
    return os.getppid()


def _doubled(text: str, times: int = 2) -> list[str]:
    return [text] * times


def _refuse() -> None:
    raise Refused("plan.scale", "is no scale")


def _stumble() -> None:
    raise KeyError("a fault of the reader")


def _nest(depth: int = 0) -> int:
    return _nest(depth + 1)


def _take_memory() -> int:
    return len(bytearray(2 * apart.MEMORY))


def _take_time() -> None:
    while True:
        pass


def _die() -> None:
    os.kill(os.getpid(), signal.SIGSEGV)


def _leave() -> None:
    os._exit(3)


def _write() -> None:
    with open("/dev/shm/never", "w", encoding="ascii") as file:  # noqa: PTH123, S108  # refused before it is there
        file.write("x" * 100)


def _answer_long() -> bytes:
    return bytes(apart.ANSWER + 1)


def _open_many() -> None:
    held = [os.open("/dev/null", os.O_RDONLY) for _ in range(apart.OPEN_FILES + 10)]
    assert held


def _limits() -> list[int]:
    return [resource.getrlimit(what)[0] for what in (resource.RLIMIT_CPU, resource.RLIMIT_CORE)]


def test_it_is_another_process_that_reads() -> None:
    assert read_apart(_process) != os.getpid()
    assert read_apart(_doubled, "a", times=3) == ["a", "a", "a"]


def _priorities() -> tuple[int, int]:
    return os.getpriority(os.PRIO_PROCESS, 0), os.getpriority(os.PRIO_PROCESS, os.getppid())


def test_it_gives_way_to_those_who_answer_people_and_so_does_the_one_it_is_forked_from() -> None:
    assert min(read_apart(_priorities)) >= apart.GIVES_WAY


def test_the_readers_refusal_comes_back_with_its_place() -> None:
    with pytest.raises(Refused) as caught:
        read_apart(_refuse)
    assert (caught.value.field, caught.value.reason) == ("plan.scale", "is no scale")


@pytest.mark.parametrize(
    ("reader", "reason"),
    [
        (_stumble, apart.BROKEN),
        (_nest, apart.BROKEN),
        (_take_memory, apart.TOO_LARGE),
        (_answer_long, apart.TOO_LARGE),
        (_write, apart.BROKEN),
        (_open_many, apart.BROKEN),
        (_die, apart.TOO_LONG),
        (_leave, apart.BROKEN),
    ],
)
def test_a_reader_that_fails_is_a_sentence(reader: object, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_apart(reader)  # type: ignore[arg-type]
    assert caught.value.reason == reason
    assert read_apart(_doubled, "a") == ["a", "a"]


def test_a_reader_without_an_end_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(apart, "READING", replace(apart.READING, patience=0.5))
    with pytest.raises(Refused) as caught:
        read_apart(_take_time)
    assert caught.value.reason == apart.TOO_LONG


def test_time_is_limited_and_nothing_of_the_memory_is_kept() -> None:
    assert read_apart(_limits) == [apart.CPU_SECONDS, 0]


@pytest.fixture
def one_turn(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    monkeypatch.setattr(apart, "_turns", threading.Semaphore(1))
    monkeypatch.setattr(apart, "_queue", threading.Semaphore(2))
    yield


def _wait(seconds: float) -> str:
    time.sleep(seconds)
    return "read"


@pytest.mark.usefixtures("one_turn")
def test_few_are_read_at_once_and_few_wait() -> None:
    found: list[str] = []

    def read() -> None:
        try:
            found.append(read_apart(_wait, 1.5))
        except Refused as refused:
            found.append(refused.reason)

    threads = [threading.Thread(target=read) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(found) == sorted([apart.BUSY, "read", "read"])


def test_a_command_is_forked_itself() -> None:
    """Its own child reads, within the same limits; what reads later has another parent again."""
    with apart.forked_from_here():
        assert read_apart(_parent) == os.getpid()
        with pytest.raises(Refused):
            read_apart(_take_memory)
    assert read_apart(_parent) != os.getpid()
