"""Reading what people bring in, in a process of its own with limits: a file that hurts hurts only its own reading.

The processes are forked from one that has loaded the readers, so that one more costs some milliseconds.
"""

import logging
import multiprocessing
import os
import pickle
import resource
import sys
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from typing import Any, Final, ParamSpec, TypeVar, cast

from vinemark.core.base.refused import Refused

CPU_SECONDS: Final = 6
MEMORY: Final = 300 * 1024 * 1024
"""Bytes beyond what a process has when it begins."""
ANSWER: Final = 64 * 1024 * 1024
OPEN_FILES: Final = 64
_PATIENCE: Final = 30
AT_ONCE: Final = 2
WAITING: Final = 2
NICE: Final = 10
PREPARED_AFTER: Final = 3.0
DEPTH: Final = 4_000

TOO_LONG: Final = f"takes more than {CPU_SECONDS} seconds to read; bring in less of it"
TOO_LARGE: Final = "takes too much memory to read; bring in less of it"
BROKEN: Final = "is damaged, or of a kind that cannot be read"
BUSY: Final = "cannot be read now, other files are being read; try again in a moment"

_P = ParamSpec("_P")
_T = TypeVar("_T")

_log = logging.getLogger(__name__)
_forks = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(["vinemark.exchange.readers"])
_turns = threading.Semaphore(AT_ONCE)
_queue = threading.Semaphore(AT_ONCE + WAITING)


def prepare_reading() -> None:
    """Start the process that the others are forked from, a moment later; a reader that comes first starts it too."""
    timer = threading.Timer(PREPARED_AFTER, read_apart, (_nothing,))
    timer.daemon = True
    timer.start()


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
            return _read(reader, args, kwargs)
    finally:
        _queue.release()


def _read(reader: Callable[_P, _T], args: Any, kwargs: Any) -> _T:
    here, there = _forks.Pipe(duplex=False)
    process = _forks.Process(target=_answer, args=(there, reader, args, kwargs))
    process.start()
    there.close()
    try:
        answer = _received(here, process)
    finally:
        here.close()
        process.join(1)
        if process.is_alive():
            process.kill()
            process.join()
        process.close()
    if isinstance(answer, Refused):
        raise answer
    return cast(_T, answer[0])


def _received(here: Connection, process: ForkServerProcess) -> Any:
    """What came back, in a list; or the refusal that stands for an answer that did not come."""
    try:
        if here.poll(_PATIENCE):
            return pickle.loads(here.recv_bytes(ANSWER))  # noqa: S301  # of a process of ours
    except (EOFError, OSError):
        process.join(1)
        # Ended by a signal: the limit of its time, or the system for want of memory.
        return Refused("file", TOO_LONG if (process.exitcode or 0) < 0 else BROKEN)
    return Refused("file", TOO_LONG)


def _answer(there: Connection, reader: Callable[..., object], args: Any, kwargs: Any) -> None:
    """In the process of its own: limits first, then the reading."""
    _limit()
    try:
        answer: Any = [reader(*args, **kwargs)]
    except Refused as refused:
        answer = refused
    except MemoryError:
        answer = Refused("file", TOO_LARGE)
    except Exception:
        _log.exception("%s failed", reader.__qualname__)
        answer = Refused("file", BROKEN)
    packed = pickle.dumps(answer)
    there.send_bytes(packed if len(packed) <= ANSWER else pickle.dumps(Refused("file", TOO_LARGE)))


def _limit() -> None:
    os.nice(NICE)
    sys.setrecursionlimit(DEPTH)
    used = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[0]) * resource.getpagesize()
    _set(resource.RLIMIT_AS, used + MEMORY)
    _set(resource.RLIMIT_CPU, CPU_SECONDS)
    _set(resource.RLIMIT_FSIZE, 0)
    _set(resource.RLIMIT_NOFILE, OPEN_FILES)
    _set(resource.RLIMIT_CORE, 0)


def _set(what: int, most: int) -> None:
    """Set a limit that the process cannot raise again; never above the one that it has."""
    _, hard = resource.getrlimit(what)
    most = most if hard == resource.RLIM_INFINITY else min(most, hard)
    resource.setrlimit(what, (most, most))
