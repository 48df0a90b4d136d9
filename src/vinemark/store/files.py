"""Files of scores: one being looked at, how its shape was matched, and where taken numbers came from."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from vinemark.core.base.moments import later, stamp
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.class_list import ClassChange, write_class
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, ChangedSinceError, writing
from vinemark.store.scores import conflicts_of, replace_cells

KEPT_FOR = timedelta(days=2)


@dataclass(frozen=True)
class LookedAt:
    """A file as it was put in."""

    id: int
    name: str
    digest: str
    content: bytes
    sheet: str


def write_file(connection: Connection, act: Act, name: str, digest: str, content: bytes) -> int:
    """Keep a file for looking at; older ones that nobody took go."""
    with transaction(connection):
        connection.execute(
            "DELETE FROM file_looked_at WHERE unixepoch(at) < unixepoch(?)",
            (stamp(later(act.at, -KEPT_FOR)),),
        )
        row = connection.execute(
            # Never a number that another file had: an old window would show and take the wrong one.
            "INSERT INTO file_looked_at (id, section_id, person_id, name, digest, content, at)"
            " VALUES (abs(random()) % 9007199254740992, ?, ?, ?, ?, ?, ?) RETURNING id",
            (act.section_id, act.person_id, name, digest, content, stamp(act.at)),
        ).fetchone()
    return int(row["id"])


def looked_at(connection: Connection, section_id: int, person_id: int, file_id: int) -> LookedAt | None:
    """A file that this person put into this section."""
    row = connection.execute(
        "SELECT id, name, digest, content, sheet FROM file_looked_at WHERE id = ? AND section_id = ? AND person_id = ?",
        (file_id, section_id, person_id),
    ).fetchone()
    return LookedAt(*row) if row else None


def write_sheet(connection: Connection, file_id: int, sheet: str) -> None:
    """Read another sheet of the file."""
    connection.execute("UPDATE file_looked_at SET sheet = ? WHERE id = ?", (sheet, file_id))


def matching_of(connection: Connection, section_id: int, shape: str) -> str | None:
    """How files of this shape were matched, if any were."""
    row = connection.execute(
        "SELECT matching FROM file_matching WHERE section_id = ? AND shape = ?", (section_id, shape)
    ).fetchone()
    return str(row["matching"]) if row else None


def remember_matching(connection: Connection, section_id: int, shape: str, matching: str) -> None:
    """Keep how files of this shape are matched; it changes no score."""
    connection.execute(
        "INSERT INTO file_matching VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET matching = excluded.matching",
        (section_id, shape, matching),
    )


def write_import(
    connection: Connection, act: Act, file: LookedAt, changes: Sequence[CellWrite], what: str, matching: str
) -> int:
    """Write a file's cells in one act with one undo, and keep where they came from; the entry's id.

    Raises ChangedSinceError where a cell is no longer as it was when the file was looked at.
    """
    assert act.section_id is not None  # noqa: S101
    with transaction(connection):
        with writing(connection, act, "import") as entry:
            if conflicts_of(connection, act.section_id, changes):
                raise ChangedSinceError("Some of these scores were changed meanwhile. Check the changes again.")
            entry.what = what
            entry.before, entry.after = replace_cells(connection, act.section_id, changes)
        _taken(connection, act.section_id, entry.id, file, matching)
    return entry.id


def write_brought(connection: Connection, act: Act, file: LookedAt, change: ClassChange, what: str) -> int:
    """Write all that a file brings in one act with one undo, and keep where it came from; the entry's id.

    Raises ChangedSinceError where a cell is no longer as it was when the file was looked at.
    """
    assert act.section_id is not None  # noqa: S101
    with transaction(connection):
        if conflicts_of(connection, act.section_id, change.cells):
            raise ChangedSinceError("Some of these scores were changed meanwhile. Look at the file again.")
        entry = write_class(connection, act, change, what)
        _taken(connection, act.section_id, entry, file, "{}")
    return entry


def _taken(connection: Connection, section_id: int, entry: int, file: LookedAt, matching: str) -> None:
    connection.execute(
        "INSERT INTO file_taken VALUES (?, ?, ?, ?, ?)", (entry, section_id, file.name, file.digest, matching)
    )
    connection.execute("DELETE FROM file_looked_at WHERE id = ?", (file.id,))
