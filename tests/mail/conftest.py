"""The simulated mail server on a port of its own."""

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

from tests.browser.stage import free_port
from vinemark.mail.box import Mailroom
from vinemark.mail.sending import MailServer
from vinemark.mail.server import serve_smtp


@dataclass
class Mails:
    """Where to send, and what came."""

    server: MailServer
    room: Mailroom
    folder: Path


@pytest.fixture
def mails(tmp_path: Path) -> Iterator[Mails]:
    port, folder = free_port(), tmp_path / "mail"
    controller = serve_smtp(folder, "127.0.0.1", port)
    server = MailServer("127.0.0.1", port, "none", "", "", "vine.mark@larkmoor.example")
    yield Mails(server, Mailroom(folder), folder)
    controller.stop()
