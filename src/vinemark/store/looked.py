"""Who looked at students' records, or took something of them out: once a day for each person and thing, with how often.

Apart from the history, which tells what was changed.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from vinemark.core.base.moments import moment_of, stamp
from vinemark.store.database import Connection, Row

ALL_STUDENTS = ""
"""Stands for everybody in the section."""


@dataclass(frozen=True)
class Looker:
    """Somebody who looks, with their part in the section."""

    email: str
    name: str
    role: str


@dataclass(frozen=True)
class Look:
    """What somebody looked at on a day; without a student it was of all."""

    student_id: str
    who: Looker
    what: str
    first_at: datetime
    last_at: datetime
    times: int


def note_look(connection: Connection, section_id: int, student_id: str, at: datetime, who: Looker, what: str) -> None:
    """Somebody looks at a student's record, or at everybody's."""
    connection.execute(
        "INSERT INTO looked VALUES (:section, :student, :day, :email, :name, :role, :what, :at, :at, 1)"
        " ON CONFLICT DO UPDATE SET last_at = excluded.last_at, times = times + 1, name = excluded.name",
        {
            "section": section_id, "student": student_id, "day": at.date().isoformat(), "email": who.email,
            "name": who.name, "role": who.role, "what": what, "at": stamp(at),
        },
    )  # fmt: skip


def looks_at(connection: Connection, section_id: int, student_id: str = ALL_STUDENTS) -> Sequence[Look]:
    """Everything in a section, or only what was of one student or of all, the latest first."""
    rows = connection.execute(
        "SELECT * FROM looked WHERE section_id = ? AND (? = '' OR student_id IN (?, ''))"
        " ORDER BY last_at DESC, email, what LIMIT 2000",
        (section_id, student_id, student_id),
    ).fetchall()
    return [_look(row) for row in rows]


def _look(row: Row) -> Look:
    who = Looker(row["email"], row["name"], row["role"])
    times = (moment_of(row["first_at"]), moment_of(row["last_at"]))
    return Look(row["student_id"], who, row["what"], *times, row["times"])


def looks_at_student(connection: Connection, student_id: str) -> Sequence[tuple[str, str, Look]]:
    """Everything that was of a student, by a registrar’s number, in any section of theirs: term, section, look."""
    rows = connection.execute(
        "SELECT l.*, s.term_name, s.course || CASE s.number WHEN '' THEN '' ELSE '-' || s.number END AS short"
        " FROM student t JOIN section s ON s.id = t.section_id"
        " JOIN looked l ON l.section_id = t.section_id AND l.student_id IN (t.id, '')"
        " WHERE t.id = ? ORDER BY l.last_at, l.email, l.what",
        (student_id,),
    ).fetchall()
    return [(row["term_name"], row["short"], _look(row)) for row in rows]
