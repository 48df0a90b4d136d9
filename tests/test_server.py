"""The server stands slow, idle and many clients: others are answered, and what does not end is ended."""

import contextlib
import http.client
import socket
import threading
import time
from collections.abc import Iterator

import pytest
from flask import Flask, request
from waitress import wasyncore

from vinemark.commands import server as serving
from vinemark.commands.server import PatientServer, server_of

SLOW_HEAD = b"GET / HTTP/1.1\r\nHost: x\r\nX-Slow: a"
SLOW_BODY = b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 400\r\n\r\na"


def _app() -> Flask:
    app = Flask("served")
    app.add_url_rule("/", "root", lambda: str(request.remote_addr), methods=["GET", "POST"])
    return app


@contextlib.contextmanager
def served(trusted_proxy: str = "") -> Iterator[PatientServer]:
    server = server_of(_app(), "127.0.0.1", 0, trusted_proxy)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.task_dispatcher.shutdown()
        # The pipe may be closed before its own byte is written: another request's end runs what waits there, too.
        with contextlib.suppress(OSError):
            server.trigger.pull_trigger(lambda: wasyncore.close_all(server._map))
        thread.join(10)


def connected(server: PatientServer, begin: bytes = b"") -> socket.socket:
    made = socket.create_connection(("127.0.0.1", server.effective_port), 10)
    made.sendall(begin)
    return made


def asking(server: PatientServer, source: str = "127.0.0.1") -> contextlib.closing[http.client.HTTPConnection]:
    port = server.effective_port
    return contextlib.closing(http.client.HTTPConnection("127.0.0.1", port, timeout=10, source_address=(source, 0)))


def answer(server: PatientServer, source: str = "127.0.0.1", **headers: str) -> str:
    with asking(server, source) as asked:
        asked.request("GET", "/", headers=headers)
        return asked.getresponse().read().decode()


def test_slow_and_idle_clients_keep_nobody_out() -> None:
    with served() as server:
        held = [connected(server, begin) for begin in (SLOW_HEAD, SLOW_BODY, b"") for _ in range(4 * serving.THREADS)]
        assert answer(server) == "127.0.0.1"
        for one in held:
            one.close()


@pytest.mark.parametrize("begin", [SLOW_HEAD, SLOW_BODY])
def test_a_request_without_an_end_is_ended(begin: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(serving, "HEADER_SECONDS", 0.2)
    monkeypatch.setattr(serving, "REQUEST_SECONDS", 0.4)
    with served() as server, connected(server, begin) as slow:
        slow.settimeout(0.1)
        until = time.monotonic() + 20
        ended = False
        while not ended and time.monotonic() < until:
            with contextlib.suppress(TimeoutError):
                try:
                    slow.sendall(b"a")
                    ended = slow.recv(100) == b""
                except ConnectionError:
                    ended = True
        assert ended
        assert answer(server) == "127.0.0.1"


def test_one_address_gets_only_so_many_connections(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(serving, "FROM_ONE_ADDRESS", 3)
    with served() as server:
        held = [connected(server, SLOW_HEAD) for _ in range(3)]
        with connected(server) as one_more:
            assert one_more.recv(10) == b""
        assert answer(server, "127.0.0.2") == "127.0.0.2"
        for one in held:
            one.close()


def test_a_body_too_large_is_refused() -> None:
    with served() as server, asking(server) as asked:
        asked.putrequest("POST", "/")
        asked.putheader("Content-Length", str(serving.LARGEST_REQUEST + 1))
        asked.endheaders()
        assert asked.getresponse().status == 413


def test_only_a_trusted_proxy_says_who_asks() -> None:
    with served() as server:
        assert answer(server, **{"X-Forwarded-For": "10.1.2.3"}) == "127.0.0.1"
    with served("127.0.0.1") as server:
        assert answer(server, **{"X-Forwarded-For": "10.1.2.3"}) == "10.1.2.3"
