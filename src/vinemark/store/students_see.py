"""What an instructor lets students see of visible work; and which sections somebody is a student of."""

import json
from dataclasses import asdict, dataclass
from typing import Any

from vinemark.core.statement.shown import StudentsSee, read_students_see
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing
from vinemark.store.sections import SectionRecord, as_student_has_it


def students_see(connection: Connection, section_id: int) -> StudentsSee:
    """What was chosen, or what holds where nothing was."""
    kept = kept_students_see(connection, section_id)
    return read_students_see(kept) if kept is not None else StudentsSee()


def kept_students_see(connection: Connection, section_id: int) -> dict[str, Any] | None:
    """The same as an entry of the history has it; None where nothing was chosen."""
    row = connection.execute("SELECT chosen FROM students_see WHERE section_id = ?", (section_id,)).fetchone()
    return json.loads(row["chosen"]) if row else None


def write_students_see(connection: Connection, act: Act, chosen: StudentsSee) -> int:
    """Choose; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "students-see") as entry:
        entry.what = chosen.words.removesuffix(".")
        entry.before, entry.after = kept_students_see(connection, act.section_id), asdict(chosen)
        put_students_see(connection, act.section_id, entry.after)
    return entry.id


def put_students_see(connection: Connection, section_id: int, kept: dict[str, Any] | None) -> None:
    """Put a choice in place; None is as if nothing had been chosen."""
    connection.execute("DELETE FROM students_see WHERE section_id = ?", (section_id,))
    if kept is not None:
        connection.execute("INSERT INTO students_see VALUES (?, ?)", (section_id, json.dumps(kept)))


@dataclass(frozen=True)
class Studied:
    """A section that somebody is a student of, and which student they are there."""

    record: SectionRecord
    student_id: str


def studied_sections(connection: Connection, email: str) -> list[Studied]:
    """The sections whose class list has this email address, latest term first; none that only somebody looks at."""
    return [Studied(*found) for found in as_student_has_it(connection, email)]


def studied_section(connection: Connection, email: str, section_id: int) -> Studied | None:
    """One of them."""
    return next((Studied(*found) for found in as_student_has_it(connection, email, section_id)), None)
