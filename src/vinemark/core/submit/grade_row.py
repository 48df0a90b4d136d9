"""A grade as it is submitted and as the registrar has it: one row, its text, its digest."""

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from vinemark.core.course.course import Course, Settled


@dataclass(frozen=True)
class HeldRow:
    """A grade as the office holds it, or as it was sent: the code and what stands beside it.

    `never_attended` is said only to an office that wants it as zero hours; to the other, the date is the term's first.
    """

    id: str
    code: str
    last_attended: str | None = None
    never_attended: bool = False
    fallback_grade: str | None = None
    finish_by: str | None = None
    owed: str | None = None


def sending_row(course: Course, student_id: str, settled: Settled) -> HeldRow:
    """What a sending says about one student, as this office wants it said; at midterm the code alone."""
    if course.run == "midterm":
        return HeldRow(student_id, settled.grade)
    zero_hours = course.records is None or course.records.never_attended == "zero_hours"
    attended = course.term.starts if settled.never_attended and not zero_hours else settled.last_attended
    return HeldRow(
        student_id,
        settled.grade,
        attended.isoformat() if attended else None,
        settled.never_attended and zero_hours,
        settled.fallback_grade,
        settled.finish_by.isoformat() if settled.finish_by else None,
        settled.owed,
    )


def row_values(row: HeldRow) -> dict[str, Any]:
    """A row as JSON values; a note on what is owed stands there only where there is one."""
    return {key: value for key, value in vars(row).items() if key != "owed" or value}


def canonical(rows: Iterable[HeldRow]) -> str:
    """The rows as text that is the same wherever it is made: sorted by id, sorted keys, no blanks."""
    values = [row_values(row) for row in sorted(rows, key=lambda row: row.id)]
    return json.dumps(values, sort_keys=True, separators=(",", ":"), ensure_ascii=True)


def digest(rows: Iterable[HeldRow]) -> str:
    """SHA-256 (FIPS 180-4) of the canonical text, in hexadecimal."""
    return text_digest(canonical(rows))


def text_digest(text: str | bytes) -> str:
    """SHA-256 of bytes, or of a text in UTF-8, in hexadecimal."""
    return hashlib.sha256(text if isinstance(text, bytes) else text.encode()).hexdigest()


def held_row(value: Mapping[str, Any]) -> HeldRow:
    """A row from JSON values."""
    return HeldRow(
        str(value["id"]),
        str(value["code"]),
        value.get("last_attended"),
        bool(value.get("never_attended")),
        value.get("fallback_grade"),
        value.get("finish_by"),
        value.get("owed") or None,
    )
