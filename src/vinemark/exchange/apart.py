"""Reading what people bring in, and making what takes long, each in a process of its own with limits: a file that hurts
hurts only its own reading, and saving never waits for a document.

The processes are forked from one that has loaded readers and makers, so that one more costs some milliseconds.
"""

import logging
import multiprocessing
import os
import pickle
import resource
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from multiprocessing.connection import Connection
from multiprocessing.context import ForkContext, ForkProcess, ForkServerContext, ForkServerProcess
from pathlib import Path
from typing import Any, Final, ParamSpec, TypeVar, cast

from vinemark.core.base.refused import Refused

CPU_SECONDS: Final = 6
MEMORY: Final = 300 * 1024 * 1024
"""Bytes beyond what a process has when it begins."""
ANSWER: Final = 64 * 1024 * 1024
OPEN_FILES: Final = 64
AT_ONCE: Final = 2
WAITING: Final = 2
GIVES_WAY: Final = 10
PREPARED_AFTER: Final = 3.0
DEPTH: Final = 4_000

TOO_LONG: Final = f"takes more than {CPU_SECONDS} seconds to read; import a smaller part of it"
TOO_LARGE: Final = "takes too much memory to read; import a smaller part of it"
BROKEN: Final = "is damaged, or of a kind that cannot be read"
BUSY: Final = "cannot be read now, other files are being read; try again in a moment"
TOO_MUCH: Final = "takes too long or too much memory to make"
NOT_MADE: Final = "could not be made"
NOT_NOW: Final = "cannot be made now, other files are being made; try again in a moment"
MAKERS_AT_ONCE: Final = 2
MAKERS_PATIENCE: Final = 20


@dataclass(frozen=True)
class Limits:
    """What a process may use: seconds of CPU and on the clock, bytes of memory, of files written and of its answer."""

    cpu: int
    patience: float
    memory: int
    written: int
    answer: int
    files: int
    too_long: str
    too_large: str
    broken: str


READING: Final = Limits(CPU_SECONDS, 30, MEMORY, 0, ANSWER, OPEN_FILES, TOO_LONG, TOO_LARGE, BROKEN)
MAKING: Final = Limits(600, 900, 2000 * 1024 * 1024, 500 * 1024 * 1024, 4 * ANSWER, 256, TOO_MUCH, TOO_MUCH, NOT_MADE)

_P = ParamSpec("_P")
_T = TypeVar("_T")

_log = logging.getLogger(__name__)
_forks: ForkServerContext | ForkContext = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(["vinemark.exchange.behind", "vinemark.exchange.readers", "vinemark.exchange.makers"])
_turns = threading.Semaphore(AT_ONCE)
_queue = threading.Semaphore(AT_ONCE + WAITING)
_makers = threading.Semaphore(MAKERS_AT_ONCE)
_telling: list[Connection] = []


def prepare_reading() -> None:
    """Start the process that the others are forked from, a moment later; a reader that comes first starts it too."""
    timer = threading.Timer(PREPARED_AFTER, read_apart, (_nothing,))
    timer.daemon = True
    timer.start()


@contextmanager
def forked_from_here() -> Iterator[None]:
    """For a command, which has one thread and has loaded its reader: no other process loads everything anew."""
    global _forks  # noqa: PLW0603  # what all readings of this process go by
    before, _forks = _forks, multiprocessing.get_context("fork")
    try:
        yield
    finally:
        _forks = before


def _nothing() -> None:
    """What is read to see that reading works."""


def read_apart(reader: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> _T:
    """What a reader, a function of a module, makes of what it is given; never in this process.

    Raises Refused: the reader's own, or that it takes too long, needs too much memory or breaks, whatever it breaks by.
    """
    if not _queue.acquire(blocking=False):
        raise Refused("file", BUSY)
    try:
        with _turns:
            return cast(_T, _run(READING, unheard, reader, args, kwargs))
    finally:
        _queue.release()


def make_apart(tell: Callable[[str], None], maker: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> _T:
    """What a maker, a function of a module, makes; `tell` hears what it says of its progress.

    Raises Refused as `read_apart` does, and where so many are made that it would wait too long.
    """
    if not _makers.acquire(timeout=MAKERS_PATIENCE):
        raise Refused("file", NOT_NOW)
    try:
        return cast(_T, _run(MAKING, tell, maker, args, kwargs))
    finally:
        _makers.release()


def say(progress: str) -> None:
    """For a maker: say how far it is, where somebody listens."""
    for listener in _telling:
        listener.send_bytes(pickle.dumps(progress))


def unheard(_: str) -> None:
    """For what says nothing, or nothing that somebody waits for."""


def _run(limits: Limits, tell: Callable[[str], None], function: Callable[..., object], args: Any, kwargs: Any) -> Any:
    here, there = _forks.Pipe(duplex=False)
    process = _forks.Process(target=_answer, args=(there, limits, function, args, kwargs))
    process.start()
    there.close()
    try:
        answer = _received(here, process, limits, tell)
    finally:
        here.close()
        process.join(1)
        if process.is_alive():
            process.kill()
            process.join()
        process.close()
    if isinstance(answer, Refused):
        raise answer
    return answer[0]


def _received(
    here: Connection, process: ForkServerProcess | ForkProcess, limits: Limits, tell: Callable[[str], None]
) -> Any:
    """What came back, in a list; or the refusal that stands for an answer that did not come."""
    until = time.monotonic() + limits.patience
    try:
        while here.poll(max(0, until - time.monotonic())):
            answer = pickle.loads(here.recv_bytes(limits.answer))  # noqa: S301  # of a process of ours
            if not isinstance(answer, str):
                return answer
            tell(answer)
    except (EOFError, OSError):
        process.join(1)
        # Ended by a signal: the limit of its time, or the system for want of memory.
        return Refused("file", limits.too_long if (process.exitcode or 0) < 0 else limits.broken)
    return Refused("file", limits.too_long)


def _answer(there: Connection, limits: Limits, function: Callable[..., object], args: Any, kwargs: Any) -> None:
    """In the process of its own: limits first, then the work."""
    _limit(limits)
    _telling[:] = [there]
    try:
        answer: Any = [function(*args, **kwargs)]
    except Refused as refused:
        answer = refused
    except MemoryError:
        answer = Refused("file", limits.too_large)
    except Exception:
        _log.exception("%s failed", function.__qualname__)
        answer = Refused("file", limits.broken)
    packed = pickle.dumps(answer)
    there.send_bytes(packed if len(packed) <= limits.answer else pickle.dumps(Refused("file", limits.too_large)))


def give_way() -> None:
    """Leave the machine to those who answer people."""
    os.setpriority(os.PRIO_PROCESS, 0, max(GIVES_WAY, os.getpriority(os.PRIO_PROCESS, 0)))


def _limit(limits: Limits) -> None:
    give_way()
    sys.setrecursionlimit(DEPTH)
    used = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[0]) * resource.getpagesize()
    _set(resource.RLIMIT_AS, used + limits.memory)
    _set(resource.RLIMIT_CPU, limits.cpu)
    _set(resource.RLIMIT_FSIZE, limits.written)
    _set(resource.RLIMIT_NOFILE, limits.files)
    _set(resource.RLIMIT_CORE, 0)


def _set(what: int, most: int) -> None:
    """Set a limit that the process cannot raise again; never above the one that it has."""
    _, hard = resource.getrlimit(what)
    most = most if hard == resource.RLIM_INFINITY else min(most, hard)
    resource.setrlimit(what, (most, most))
