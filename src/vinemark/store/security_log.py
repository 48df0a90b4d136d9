"""The log of security events: apart from the history, without scores, and kept when what it speaks of is deleted."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from vinemark.core.base.moments import moment_of, stamp
from vinemark.store.database import Connection

EventKind = Literal[
    "signed in", "wrong password", "kept waiting", "signed out", "signed out there", "password changed",
    "password link", "email changed", "account made", "account closed", "account deleted", "refused", "file taken out",
    "record seen", "part given", "part taken", "sign-on refused", "section deleted", "student deleted",
]  # fmt: skip
KEPT_DAYS = 400
LONGEST = 200


@dataclass(frozen=True)
class SecurityEvent:
    """One event: who (by email address, as it was typed), from where, and what it was about."""

    at: datetime
    kind: str
    email: str
    address: str
    what: str


def note_event(connection: Connection, event: SecurityEvent) -> None:
    """Write an event down; those of more than a year ago are forgotten."""
    connection.execute(
        "DELETE FROM security_event WHERE at < ?",
        (stamp(event.at - timedelta(days=KEPT_DAYS)),),
    )
    values = (text[:LONGEST] for text in (event.email, event.address, event.what))
    connection.execute(
        "INSERT INTO security_event (at, kind, email, address, what) VALUES (?, ?, ?, ?, ?)",
        (stamp(event.at), event.kind, *values),
    )


def events_since(connection: Connection, at: datetime) -> Sequence[SecurityEvent]:
    """Events since a time, oldest first."""
    rows = connection.execute(
        "SELECT at, kind, email, address, what FROM security_event WHERE at >= ? ORDER BY id",
        (stamp(at),),
    ).fetchall()
    return [SecurityEvent(moment_of(row["at"]), *tuple(row)[1:]) for row in rows]
