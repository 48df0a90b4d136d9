"""Several processes that serve one port, and what runs beside them: each answers requests by itself, one that dies is
replaced, and all end with the first process, however that ends."""

import logging
import os
import signal
import socket
import sys
import threading
import time
from collections.abc import Callable, Sequence
from typing import Final, NoReturn

TOO_SOON: Final = 2.0
"""Seconds: one that dies sooner is replaced after a pause."""
PAUSE: Final = 1.0
PATIENCE: Final = 10.0

_log = logging.getLogger("vinemark.workers")


def listen(host: str, port: int) -> socket.socket:
    """The socket that all processes take connections from."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    return socket.create_server((host, port), family=family, backlog=1024)


class Workers:
    """Processes that each run one function until they are ended."""

    def __init__(self, works: Sequence[Callable[[], None]]) -> None:
        self._works = works
        self._begun: dict[int, tuple[float, Callable[[], None]]] = {}
        self._ending = False
        # The end of this pipe is what a worker sees of the first process's end, even of one by SIGKILL.
        self._theirs, self._ours = os.pipe()

    def run(self) -> NoReturn:
        """Start them, replace those that die, and end them on SIGTERM or Ctrl-C."""
        signal.signal(signal.SIGTERM, self._end)
        signal.signal(signal.SIGINT, self._end)
        for work in self._works:
            self._start(work)
        while self._begun:
            try:
                process, status = os.wait()
            except ChildProcessError:
                break
            begun = self._begun.pop(process, None)
            if begun is None or self._ending:
                continue
            _log.error("a process of the server ended (%s) and is replaced", os.waitstatus_to_exitcode(status))
            if time.monotonic() - begun[0] < TOO_SOON:
                time.sleep(PAUSE)
            if not self._ending:
                self._start(begun[1])
        sys.exit(0)

    def _end(self, *_: object) -> None:
        self._ending = True
        for process in self._begun:
            os.kill(process, signal.SIGTERM)
        signal.signal(signal.SIGALRM, self._kill)
        signal.setitimer(signal.ITIMER_REAL, PATIENCE)

    def _kill(self, *_: object) -> None:
        for process in self._begun:
            os.kill(process, signal.SIGKILL)

    def _start(self, work: Callable[[], None]) -> None:
        process = os.fork()
        if process:
            self._begun[process] = (time.monotonic(), work)
            return
        os.close(self._ours)
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        threading.Thread(target=self._end_with_the_first, name="first process", daemon=True).start()
        code = 1
        try:
            work()
            code = 0
        except SystemExit as ended:
            code = int(ended.code or 0) if isinstance(ended.code, int | None) else 1
        except BaseException:
            _log.exception("a process of the server failed")
        finally:
            os._exit(code)

    def _end_with_the_first(self) -> None:
        os.read(self._theirs, 1)
        os._exit(0)
