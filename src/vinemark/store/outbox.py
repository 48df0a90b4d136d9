"""Letters by email: put down together with what they tell of, sent in their own time, recalled where that is undone."""

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from vinemark.core.base.moments import later, moment_of, stamp
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act, writing

LetterState = Literal["waiting", "sent", "recalled", "not delivered"]
KNOWN_FOR = timedelta(days=90)
"""So long it is known what became of a letter."""
RECALL = timedelta(minutes=1)
"""So long what can be undone waits before anything of it is sent."""


@dataclass(frozen=True)
class Letter:
    """What is to be told to somebody by email."""

    to: str
    subject: str
    text: str


@dataclass(frozen=True)
class DueLetter:
    """A letter whose time has come; `name` is the same at every try."""

    id: int
    name: str
    letter: Letter
    made_at: datetime
    tries: int


@dataclass(frozen=True)
class LetterFate:
    """What became of a letter, and since when it is so; `said` is what the mail server said."""

    to: str
    subject: str
    state: LetterState
    at: datetime
    said: str


def put_letters(
    connection: Connection,
    at: datetime,
    letters: Sequence[Letter],
    section_id: int | None = None,
    entry_id: int | None = None,
) -> None:
    """Have letters sent; with an entry that can be undone after a pause, in which undoing it recalls them."""
    due = later(at, RECALL) if entry_id is not None else at
    with transaction(connection):
        connection.executemany(
            "INSERT INTO letter (name, made_at, section_id, entry_id, recipient, subject, text, due_at)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (secrets.token_hex(16), stamp(at), section_id, entry_id, one.to, one.subject, one.text, stamp(due))
                for one in letters
            ],
        )


def write_told(connection: Connection, act: Act, letters: Sequence[Letter], students: Sequence[str], what: str) -> int:
    """Have letters sent to students; the entry's id."""
    with writing(connection, act, "told") as entry:
        entry.what, entry.after = what, {"students": list(students)}
        put_letters(connection, act.at, letters, act.section_id)
    return entry.id


def recall_undone(connection: Connection, at: datetime) -> int:
    """Recall what waits and tells of something that was undone, and forget what became of old ones; how many."""
    with transaction(connection):
        connection.execute(
            "DELETE FROM letter WHERE made_at < ? AND state <> 'waiting'", (stamp(later(at, -KNOWN_FOR)),)
        )
        done = connection.execute(
            "UPDATE letter SET state = 'recalled', text = NULL, ended_at = ? WHERE state = 'waiting'"
            " AND entry_id IN (SELECT undoes FROM history WHERE undoes IS NOT NULL AND undoes = letter.entry_id)",
            (stamp(at),),
        )
    return done.rowcount


def due_letters(connection: Connection, at: datetime, most: int) -> Sequence[DueLetter]:
    """Letters to be sent now, those due first first."""
    rows = connection.execute(
        "SELECT * FROM letter WHERE state = 'waiting' AND unixepoch(due_at) <= unixepoch(?) ORDER BY due_at, id"
        " LIMIT ?",
        (stamp(at), most),
    ).fetchall()
    return [
        DueLetter(
            row["id"],
            row["name"],
            Letter(row["recipient"], row["subject"], row["text"]),
            moment_of(row["made_at"]),
            row["tries"],
        )
        for row in rows
    ]


def note_letter_ended(connection: Connection, letter_id: int, at: datetime, state: LetterState, said: str = "") -> None:
    """A letter was sent, or is given up; its text goes."""
    connection.execute(
        "UPDATE letter SET state = ?, said = ?, ended_at = ?, text = NULL, tries = tries + 1 WHERE id = ?",
        (state, said, stamp(at), letter_id),
    )


def note_letter_later(connection: Connection, letter_id: int, due: datetime, said: str) -> None:
    """A letter was not taken, and is tried again."""
    connection.execute(
        "UPDATE letter SET due_at = ?, said = ?, tries = tries + 1 WHERE id = ?", (stamp(due), said, letter_id)
    )


def letter_fates(connection: Connection, section_id: int) -> Sequence[LetterFate]:
    """What became of a section's letters, for each address the latest."""
    rows = connection.execute(
        "SELECT *, max(id) FROM letter WHERE section_id = ? GROUP BY recipient ORDER BY recipient", (section_id,)
    ).fetchall()
    return [_fate(row) for row in rows]


def _fate(row: Row) -> LetterFate:
    at = row["ended_at"] or row["made_at"]
    return LetterFate(row["recipient"], row["subject"], row["state"], moment_of(at), row["said"])


def letters_since(connection: Connection, to: str, subject: str, since: datetime) -> int:
    """How many letters of a subject somebody was written since a time."""
    row = connection.execute(
        "SELECT count(*) AS n FROM letter WHERE recipient = ? AND subject = ? AND unixepoch(made_at) >= unixepoch(?)",
        (to, subject, stamp(since)),
    ).fetchone()
    return int(row["n"])


def forget_letters(connection: Connection, section_id: int | None, to: str) -> None:
    """Take out what speaks of an address: a section's letters, or with None those of no section."""
    connection.execute("DELETE FROM letter WHERE section_id IS ? AND recipient = ?", (section_id, to))
