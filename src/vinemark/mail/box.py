"""Where the simulated mail server puts what it takes: a maildir, one file for each message."""

import mailbox
import re
from collections.abc import Sequence
from dataclasses import dataclass
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import parsedate_to_datetime
from pathlib import Path

MESSAGES_SHOWN = 200


_KEY = re.compile(r"(?<!\d)(\d{1,12})\.M(\d{1,7})P\d{1,9}Q(\d{1,9})")
"""Seconds, the part of a second in millionths and without leading zeros, and how many before it in the process."""


def _order(key: str) -> tuple[int, int, int, str]:
    """What orders messages by when they were taken: as text, millionth 99 would come after millionth 100."""
    told = _KEY.match(key)
    seconds, millionths, count = (int(part) for part in told.groups()) if told else (0, 0, 0)
    return seconds, millionths, count, key


@dataclass(frozen=True)
class Received:
    """A message that was taken; `at` as its head has it."""

    key: str
    to: str
    sender: str
    subject: str
    at: str
    text: str


class Mailroom:
    """Messages in a folder."""

    def __init__(self, folder: Path) -> None:
        self._box = mailbox.Maildir(str(folder), create=True)

    def put(self, content: bytes) -> str:
        """Keep a message; its key."""
        return self._box.add(content)

    def received(self, to: str = "") -> Sequence[Received]:
        """The messages, the latest first; of one address where that is named."""
        found = [self._read(key) for key in sorted(self._box.keys(), key=_order, reverse=True)]
        return [one for one in found if not to or to.casefold() in one.to.casefold()][:MESSAGES_SHOWN]

    def message(self, key: str) -> Received | None:
        """One message."""
        return self._read(key) if key in self._box else None

    def empty(self) -> None:
        """Throw all messages away."""
        self._box.clear()

    def _read(self, key: str) -> Received:
        message = message_from_bytes(self._box.get_bytes(key), policy=policy.default)
        assert isinstance(message, EmailMessage)  # noqa: S101
        body = message.get_body(("plain",))
        at = message["Date"]
        when = parsedate_to_datetime(at).isoformat() if at else ""
        text = body.get_content() if body is not None else ""
        return Received(key, str(message["To"]), str(message["From"]), str(message["Subject"]), when, text)
