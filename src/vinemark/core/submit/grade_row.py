"""A grade as it is submitted and as the registrar has it: one row, its text, its digest."""

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any, NamedTuple

from vinemark.core.base.refused import Keys, any_text, flag, iso_day, one_line
from vinemark.core.course.course import Course, Settled


@dataclass(frozen=True)
class GradeRow:
    """A grade as the registrar has it, or as it was sent: the code and what stands beside it.

    `never_attended` is said only to an office that wants it as zero hours; to the other, the date is the term's first.
    """

    id: str
    code: str
    last_attended: str | None = None
    never_attended: bool = False
    fallback_grade: str | None = None
    finish_by: str | None = None
    owed: str | None = None


class Attendance(NamedTuple):
    """Until when a student attended, as this registrar wants it said: a day, or zero hours."""

    day: date | None
    zero_hours: bool


def attendance_of(course: Course, settled: Settled) -> Attendance:
    """Never attended is the term's first day, or zero hours, as the registrar wants it."""
    if not settled.never_attended:
        return Attendance(settled.last_attended, False)
    zero_hours = course.never_attended == "zero_hours"
    return Attendance(None if zero_hours else course.term.starts, zero_hours)


def grade_row(course: Course, student_id: str, settled: Settled) -> GradeRow:
    """What a sending says about one student, as this office wants it said; at midterm the code alone."""
    if course.run == "midterm":
        return GradeRow(student_id, settled.grade)
    attendance = attendance_of(course, settled)
    return GradeRow(
        student_id,
        settled.grade,
        attendance.day.isoformat() if attendance.day else None,
        attendance.zero_hours,
        settled.fallback_grade,
        settled.finish_by.isoformat() if settled.finish_by else None,
        settled.owed,
    )


def row_values(row: GradeRow) -> dict[str, Any]:
    """A row as JSON values; a note on what is owed stands there only where there is one."""
    return {key: value for key, value in vars(row).items() if key != "owed" or value}


def canonical(rows: Iterable[GradeRow]) -> str:
    """The rows as text that is the same wherever it is made: sorted by id, sorted keys, no blanks."""
    values = [row_values(row) for row in sorted(rows, key=lambda row: row.id)]
    return json.dumps(values, sort_keys=True, separators=(",", ":"), ensure_ascii=True)


def digest(rows: Iterable[GradeRow]) -> str:
    """SHA-256 (FIPS 180-4) of the canonical text, in hexadecimal."""
    return text_digest(canonical(rows))


def text_digest(text: str | bytes) -> str:
    """SHA-256 of bytes, or of a text in UTF-8, in hexadecimal."""
    return hashlib.sha256(text if isinstance(text, bytes) else text.encode()).hexdigest()


def read_grade_row(value: object, field: str = "row") -> GradeRow:
    """A row from parsed JSON. Keys that are not known here are left alone. Raises Refused at the field."""
    keys = Keys(value, field, None)
    return GradeRow(
        keys.needed("id", one_line),
        keys.needed("code", one_line),
        keys.maybe("last_attended", _iso_text),
        keys.maybe("never_attended", flag) or False,
        keys.maybe("fallback_grade", one_line),
        keys.maybe("finish_by", _iso_text),
        keys.maybe("owed", any_text) or None,
    )


def _iso_text(value: object, field: str) -> str:
    return iso_day(value, field).isoformat()
