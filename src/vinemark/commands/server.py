"""What serves a Flask application on a port: slow and idle clients wait in one loop, whole requests in few threads."""

import gc
import resource
import signal
import socket
import sys
import time
from collections.abc import Callable, Sequence
from typing import Any, Final

from flask import Flask
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer

from vinemark.commands.workers import Workers, listen

THREADS: Final = 12
CONNECTIONS: Final = 2_000
FROM_ONE_ADDRESS: Final = 500
"""A whole college may come from one address."""
HEADER_SECONDS: Final = 10
REQUEST_SECONDS: Final = 60
QUIET_SECONDS: Final = 30
LARGEST_REQUEST: Final = 33 * 1024 * 1024
SPARE_FILES: Final = 200
GARBAGE_AFTER: Final = 20_000
"""So many new objects before what goes round in circles is looked for."""


class PatientChannel(HTTPChannel):  # type: ignore[misc]
    """A connection that knows since when its present request has been coming in."""

    begun: float | None = None

    def received(self, data: bytes) -> bool:
        """Take in a part of a request."""
        taken: bool = super().received(data)
        self.begun = None if self.request is None else self.begun or time.time()
        return taken

    def is_late(self, now: float) -> bool:
        """Whether its request has been coming in for longer than a request may."""
        if self.begun is None or self.request is None:
            return False
        return now - self.begun > (REQUEST_SECONDS if self.request.headers_finished else HEADER_SECONDS)


class PatientServer(TcpWSGIServer):  # type: ignore[misc]
    """A server that ends requests without an end, and takes only so many connections from one address."""

    channel_class = PatientChannel

    def accept(self) -> tuple[Any, Any] | None:
        """The next connection, unless its address has enough."""
        found: tuple[Any, Any] | None = super().accept()
        if found is None or found[1][0] == self.adj.trusted_proxy:
            return found
        if sum(channel.addr[0] == found[1][0] for channel in self.active_channels.values()) < FROM_ONE_ADDRESS:
            return found
        found[0].close()
        return None

    def maintenance(self, now: float) -> None:
        """Close what is idle, and what takes too long to ask."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.is_late(now):
                channel.will_close = True


def run_server(
    app: Flask,
    host: str,
    port: int,
    on_start: Callable[[], None] = lambda: None,
    trusted_proxy: str = "",
    workers: int = 1,
    beside: Sequence[Callable[[], None]] = (),
) -> None:
    """Serve until SIGTERM or Ctrl-C, in so many processes with a few threads each; `on_start` is run in each.

    `trusted_proxy` is the address of a proxy whose word on the client's address and scheme is believed; what runs
    `beside` has a process of its own each.
    """
    if workers > 1 or beside:
        shared = listen(host, port)
        Workers([lambda: _serve(app, host, port, on_start, trusted_proxy, shared)] * workers + list(beside)).run()
    _serve(app, host, port, on_start, trusted_proxy)


def _serve(
    app: Flask,
    host: str,
    port: int,
    on_start: Callable[[], None],
    trusted_proxy: str,
    shared: socket.socket | None = None,
) -> None:
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    server = server_of(app, host, port, trusted_proxy, shared)
    on_start()
    # What is there by now stays: it is not looked through again, and the rest less often than for a small program.
    gc.freeze()
    gc.set_threshold(GARBAGE_AFTER, 20, 20)
    server.run()


def server_of(
    app: Flask, host: str, port: int, trusted_proxy: str = "", shared: socket.socket | None = None
) -> PatientServer:
    """The server, listening, on a socket that others share or on one of its own; `run` serves."""
    proxy: dict[str, Any] = {"clear_untrusted_proxy_headers": True}
    if trusted_proxy:
        headers = {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"}
        proxy |= {"trusted_proxy": trusted_proxy, "trusted_proxy_headers": headers}
    settings = Adjustments(
        host=host,
        port=port,
        threads=THREADS,
        connection_limit=min(CONNECTIONS, _open_files() - SPARE_FILES),
        channel_timeout=QUIET_SECONDS,
        cleanup_interval=2,
        asyncore_use_poll=True,
        max_request_body_size=LARGEST_REQUEST,
        ident=None,
        **proxy,
    )
    return PatientServer(app, adj=settings, _sock=shared, bind_socket=shared is None)


def _open_files() -> int:
    """How many files this process may have open, after taking all that it is allowed."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = CONNECTIONS + SPARE_FILES if hard == resource.RLIM_INFINITY else min(hard, CONNECTIONS + SPARE_FILES)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, hard))
    return most
