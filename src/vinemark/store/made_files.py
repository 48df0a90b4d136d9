"""Files that take long to make: who asked for them, how far they are, and what they became, for an hour.

Times are seconds of the epoch, by the machine's clock: what is in the making is no record of the section.
"""

import secrets
from dataclasses import dataclass

from vinemark.store.database import Connection, Row, transaction

KEPT_SECONDS = 3600.0
QUEUED_SECONDS = 1200.0
SILENT_SECONDS = 60.0


@dataclass(frozen=True)
class Wanted:
    """A file to be made: in words, the state of the section it is made of, its name, and its media type."""

    what: str
    of: str
    name: str
    kind: str


@dataclass(frozen=True)
class MadeFile:
    """A file in the making or made."""

    token: str
    section_id: int
    role: str
    wanted: Wanted
    progress: str
    refused: str | None
    ready: bool
    interrupted: bool

    @property
    def going(self) -> bool:
        """Whether it is still being made."""
        return not (self.ready or self.refused or self.interrupted)


def ask(
    connection: Connection, person_id: int, section_id: int, role: str, wanted: Wanted, at: float
) -> tuple[str, bool]:
    """The token of a file, and whether it is to be made: one that was asked for, of the same, is used again."""
    with transaction(connection):
        forget_old(connection, at)
        there = connection.execute(
            "SELECT token FROM made_file WHERE person_id = ? AND section_id = ? AND of = ? AND role = ?"
            " AND refused IS NULL AND (content IS NOT NULL OR until > ?)",
            (person_id, section_id, wanted.of, role, at),
        ).fetchone()
        if there is not None:
            return str(there["token"]), False
        token = secrets.token_urlsafe(16)
        connection.execute(
            "INSERT INTO made_file (token, person_id, section_id, role, what, of, name, kind, at, until)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (token, person_id, section_id, role, wanted.what, wanted.of, wanted.name, wanted.kind, at,
             at + QUEUED_SECONDS),
        )  # fmt: skip
    return token, True


def forget_old(connection: Connection, at: float) -> None:
    """Remove what was asked for more than an hour ago."""
    connection.execute("DELETE FROM made_file WHERE at < ?", (at - KEPT_SECONDS,))


def note_progress(connection: Connection, token: str, progress: str, at: float) -> None:
    """It is being made, and this far."""
    connection.execute(
        "UPDATE made_file SET progress = ?, until = ? WHERE token = ?", (progress, at + SILENT_SECONDS, token)
    )


def finish(connection: Connection, token: str, content: bytes | None, refused: str | None) -> None:
    """It is made, or cannot be."""
    connection.execute("UPDATE made_file SET content = ?, refused = ? WHERE token = ?", (content, refused, token))


_SEEN = (
    "SELECT token, section_id, role, what, of, name, kind, until, progress, refused, content IS NOT NULL AS ready"
    " FROM made_file WHERE person_id = ? AND section_id = ?"
)


def made_file(connection: Connection, person_id: int, section_id: int, token: str, at: float) -> MadeFile | None:
    """A person's file of a section, without what is in it."""
    since = at - KEPT_SECONDS
    row = connection.execute(f"{_SEEN} AND token = ? AND at >= ?", (person_id, section_id, token, since)).fetchone()
    return _file(row, at) if row else None


def files_of(connection: Connection, person_id: int, section_id: int, at: float) -> list[MadeFile]:
    """A person's files of a section, the latest first."""
    rows = connection.execute(f"{_SEEN} AND at >= ? ORDER BY at DESC", (person_id, section_id, at - KEPT_SECONDS))
    return [_file(row, at) for row in rows]


def content_of(connection: Connection, person_id: int, token: str) -> bytes:
    """What is in a person's file; empty where it is not made."""
    row = connection.execute(
        "SELECT content FROM made_file WHERE token = ? AND person_id = ?", (token, person_id)
    ).fetchone()
    return bytes(row["content"]) if row and row["content"] is not None else b""


def _file(row: Row, at: float) -> MadeFile:
    return MadeFile(
        row["token"], row["section_id"], row["role"], Wanted(row["what"], row["of"], row["name"], row["kind"]),
        row["progress"], row["refused"], bool(row["ready"]), row["until"] <= at,
    )  # fmt: skip
