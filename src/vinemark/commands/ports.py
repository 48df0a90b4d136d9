"""The ports that are listened on."""

import socket

from vinemark.commands.failing import fail

PORT = 8600
OFFICE_PORT = 8601
MAIL_PORT = 8602
SMTP_PORT = 8603
IDENTITY_PORT = 8604


def refuse_taken(port: int, option: str) -> None:
    """Fail where something listens on a port already."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            fail(f"port {port} is taken; choose another with {option}")
