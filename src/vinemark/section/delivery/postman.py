"""The postman: sends the letters that wait, tries those again that were not taken, and gives up after three days."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import ClassVar

from vinemark.core.base.moments import elapsed, later
from vinemark.mail.sending import MailServer, NotDeliveredError, Outgoing, Post, opened_post
from vinemark.section.delivery.rounds import Rounds, log
from vinemark.store import outbox
from vinemark.store.database import Connection
from vinemark.store.outbox import DueLetter, LetterState

PAUSES = tuple(timedelta(minutes=minutes) for minutes in (1, 5, 15, 60, 180, 360))
"""How long until the next try; the last one from then on (RFC 5321, 4.5.4.1)."""
GIVEN_UP = timedelta(days=3)
LETTERS_A_ROUND = 50


@dataclass
class Postman(Rounds[LetterState]):
    """Sends what waits, so many letters a round."""

    server: MailServer
    LEASE: ClassVar[str] = "mail"
    LEASE_SECONDS: ClassVar[int] = 600

    def round(self, connection: Connection, now: datetime) -> list[LetterState]:
        """Send what is due; what became of each."""
        outbox.recall_undone(connection, now)
        due = outbox.due_letters(connection, now, LETTERS_A_ROUND)
        if not due:
            return []
        try:
            with opened_post(self.server) as post:
                return [self._send(connection, post, one, now) for one in due]
        except OSError as error:
            log.warning("mail waits: %s", error)
            # Those that were sent before the connection went are noted as sent.
            left = {one.id for one in outbox.due_letters(connection, now, LETTERS_A_ROUND)}
            return [_again(connection, one, now, str(error)) for one in due if one.id in left]

    def _send(self, connection: Connection, post: Post, due: DueLetter, now: datetime) -> LetterState:
        letter = due.letter
        try:
            post.send(Outgoing(due.name, letter.to, letter.subject, letter.text, due.made_at))
        except NotDeliveredError as error:
            log.warning("letter %s was not taken: %s", due.name, error)
            if not error.for_good:
                return _again(connection, due, now, str(error))
            outbox.note_letter_ended(connection, due.id, now, "not delivered", str(error))
            return "not delivered"
        outbox.note_letter_ended(connection, due.id, now, "sent")
        return "sent"


def _again(connection: Connection, due: DueLetter, now: datetime, why: str) -> LetterState:
    if elapsed(due.made_at, now) > GIVEN_UP:
        outbox.note_letter_ended(connection, due.id, now, "not delivered", why)
        return "not delivered"
    pause = PAUSES[min(due.tries, len(PAUSES) - 1)]
    outbox.note_letter_later(connection, due.id, later(now, pause), why)
    return "waiting"
