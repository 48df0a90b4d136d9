"""Making what takes long: in a process apart, one after the other, watched from a thread that notes how far it is."""

import logging
import threading
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotYetError
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final

from vinemark.core.base.refused import Refused
from vinemark.exchange.apart import make_apart
from vinemark.store import made_files
from vinemark.store.database import connect
from vinemark.store.made_files import Wanted

WAITED_SECONDS: Final = 8.0
"""Seconds that a request waits for its file before it shows a page with the progress."""
WAITERS: Final = 2
QUEUED: Final = 8
NOTED_EVERY: Final = 0.5
FULL: Final = "Other files are being made now. Try again in a moment."

_log = logging.getLogger("vinemark.making")


@dataclass
class Making:
    """What this process makes."""

    _pool: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(1, thread_name_prefix="making"))
    _queued: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(QUEUED))
    _waiters: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(WAITERS))

    def make(self, database: Path, token: str, maker: Callable[..., bytes], *args: object) -> Future[None] | None:
        """Put a file into the queue; None where it is full, and the file is refused."""
        if not self._queued.acquire(blocking=False):
            _finish(database, token, None, FULL)
            return None
        return self._pool.submit(self._make, database, token, maker, args)

    def wait(self, future: Future[None] | None) -> None:
        """Wait a little for it; of many who ask, a few."""
        if future is None or not self._waiters.acquire(blocking=False):
            return
        try:
            future.result(WAITED_SECONDS)
        except NotYetError:
            return
        finally:
            self._waiters.release()

    def _make(self, database: Path, token: str, maker: Callable[..., bytes], args: tuple[object, ...]) -> None:
        try:
            content, refused = make_apart(_notes(database, token), maker, *args), None
        except Refused as error:
            content, refused = None, f"It {error.reason}."
        except Exception:
            _log.exception("a file could not be made")
            content, refused = None, "It could not be made."
        finally:
            self._queued.release()
        _finish(database, token, content, refused)


def _notes(database: Path, token: str) -> Callable[[str], None]:
    last = 0.0

    def note(progress: str) -> None:
        nonlocal last
        if time.monotonic() - last < NOTED_EVERY:
            return
        last = time.monotonic()
        connection = connect(database)
        made_files.note_progress(connection, token, progress, time.time())
        connection.close()

    note("begun")
    return note


def _finish(database: Path, token: str, content: bytes | None, refused: str | None) -> None:
    connection = connect(database)
    made_files.finish(connection, token, content, refused)
    connection.close()


__all__ = ["Making", "Wanted"]
