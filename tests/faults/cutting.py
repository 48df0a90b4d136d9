"""A real office on a port, and a connection to it that is cut wherever a schedule says."""

import random
import re
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path

from werkzeug.serving import make_server

from vinemark.clock import Clock
from vinemark.office.app import OfficeSettings, create_office

TOKEN = "a-token-for-tests-known-to-both-sides"
STEPS = ("refused", "in the request", "after the request", "in the answer", "none")


@contextmanager
def office_on_a_port(database: Path, clock: Clock) -> Iterator[int]:
    """The registrar served over HTTP."""
    app = create_office(OfficeSettings(str(database), TOKEN, clock))
    server = make_server("127.0.0.1", 0, app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield int(server.server_port)
    finally:
        server.shutdown()
        thread.join()


@dataclass
class CuttingLine:
    """Forwards one request and its answer for each connection, and cuts it at the step that is drawn."""

    to: int
    draw: random.Random
    likely: float = 0.7
    cuts: dict[str, int] = field(default_factory=lambda: dict.fromkeys(STEPS, 0))
    listener: socket.socket = field(default_factory=lambda: socket.create_server(("127.0.0.1", 0)))

    @property
    def port(self) -> int:
        """Where it listens."""
        return int(self.listener.getsockname()[1])

    @contextmanager
    def open(self) -> Iterator["CuttingLine"]:
        """Take connections until the end of the block."""
        threading.Thread(target=self._take_all, daemon=True).start()
        try:
            yield self
        finally:
            self.listener.close()

    def _take_all(self) -> None:
        while True:
            try:
                here, _ = self.listener.accept()
            except OSError:
                return
            step = self.draw.choice(STEPS[:-1]) if self.draw.random() < self.likely else "none"
            part = self.draw.random()
            threading.Thread(target=self._serve, args=(here, step, part), daemon=True).start()

    def _serve(self, here: socket.socket, step: str, part: float) -> None:
        self.cuts[step] += 1
        with here, suppress(OSError):
            if step != "refused":
                self._forward(here, step, part)

    def _forward(self, here: socket.socket, step: str, part: float) -> None:
        request = _message(here)
        with socket.create_connection(("127.0.0.1", self.to)) as there:
            there.sendall(request[: int(part * len(request))] if step == "in the request" else request)
            if step == "in the request":
                return
            answer = _message(there)
            if step == "in the answer":
                answer = answer[: int(part * len(answer))]
            if step != "after the request":
                here.sendall(answer)


def _message(source: socket.socket) -> bytes:
    """One whole HTTP message with a length."""
    data = b""
    while b"\r\n\r\n" not in data:
        more = source.recv(65536)
        if not more:
            return data
        data += more
    head, _, body = data.partition(b"\r\n\r\n")
    told = re.search(rb"content-length: *(\d+)", head, re.IGNORECASE)
    while told and len(body) < int(told[1]):
        more = source.recv(65536)
        if not more:
            break
        body += more
    return head + b"\r\n\r\n" + body
