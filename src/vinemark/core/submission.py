"""Submitting: which rows can go, what a sending says, and how it compares with what the office holds."""

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from vinemark.core.audit.finding import Finding, stops_by_student
from vinemark.core.course import Course, RosterEntry, Settled, Student

RowState = Literal["ready", "stopped", "received", "to correct", "withdrawn", "auditing", "set aside"]
LEFT_TO_DO: frozenset[RowState] = frozenset({"ready", "stopped", "to correct"})


@dataclass(frozen=True)
class HeldRow:
    """A grade as the office holds it, or as it was sent: the code and what stands beside it."""

    id: str
    code: str
    last_attended: str | None = None
    never_attended: bool = False
    fallback_grade: str | None = None
    finish_by: str | None = None


@dataclass(frozen=True)
class Row:
    """One student on the submit page. `stops` are the findings that hold the row back."""

    student_id: str
    name: str
    state: RowState
    settled: Settled | None = None
    stops: Sequence[Finding] = ()
    refused: str | None = None


def sending_row(student_id: str, settled: Settled) -> HeldRow:
    """What a sending says about one student."""
    return HeldRow(
        student_id,
        settled.grade,
        settled.last_attended.isoformat() if settled.last_attended else None,
        settled.never_attended,
        settled.fallback_grade,
        settled.finish_by.isoformat() if settled.finish_by else None,
    )


def canonical(rows: Iterable[HeldRow]) -> str:
    """The rows as text that is the same wherever it is made: sorted by id, sorted keys, no blanks."""
    values = [vars(row) for row in sorted(rows, key=lambda row: row.id)]
    return json.dumps(values, sort_keys=True, separators=(",", ":"), ensure_ascii=True)


def digest(rows: Iterable[HeldRow]) -> str:
    """SHA-256 (FIPS 180-4) of the canonical text, in hexadecimal."""
    return text_digest(canonical(rows))


def text_digest(text: str) -> str:
    """SHA-256 of a text in UTF-8, in hexadecimal."""
    return hashlib.sha256(text.encode()).hexdigest()


def held_row(value: Mapping[str, Any]) -> HeldRow:
    """A row from JSON values."""
    return HeldRow(
        str(value["id"]),
        str(value["code"]),
        value.get("last_attended"),
        bool(value.get("never_attended")),
        value.get("fallback_grade"),
        value.get("finish_by"),
    )


def plan_stops(findings: Iterable[Finding]) -> list[Finding]:
    """The findings that stop the whole section: every `stop` that is not about one student."""
    return [f for f in findings if f.level == "stop" and f.student is None]


def submission_rows(
    course: Course, findings: Sequence[Finding], held: Mapping[str, HeldRow], refused: Mapping[str, str]
) -> list[Row]:
    """Every student of the section and of the roster, with where their row stands.

    `held` is what the office has accepted, `refused` its reason for rows of the last sending it refused.
    """
    stops = stops_by_student(findings)
    people: list[Student | RosterEntry] = [*course.students, *course.not_in_section()]
    rows = [_row(course, person.id, person.name, stops.get(person.id, []), held, refused) for person in people]
    roster = course.records.roster if course.records else ()
    places = {entry.id: place for place, entry in enumerate(roster)}
    return sorted(rows, key=lambda row: (places.get(row.student_id, len(places)), row.name))


def _row(
    course: Course,
    student_id: str,
    name: str,
    stops: Sequence[Finding],
    held: Mapping[str, HeldRow],
    refused: Mapping[str, str],
) -> Row:
    settled = course.settled.get(student_id)
    aside = _aside(course, student_id)
    if aside is not None:
        return Row(student_id, name, aside, settled)
    there = held.get(student_id)
    reason = refused.get(student_id)
    if there is not None and settled is not None and there == sending_row(student_id, settled):
        return Row(student_id, name, "received", settled)
    if stops or settled is None:
        return Row(student_id, name, "stopped", settled, stops, reason)
    return Row(student_id, name, "to correct" if there else "ready", settled, refused=reason)


def _aside(course: Course, student_id: str) -> RowState | None:
    student = course.student(student_id)
    if student is not None and student.set_aside is not None:
        return "set aside"
    entry = course.records.entry(student_id) if course.records else None
    if entry is None or entry.status == "enrolled":
        return None
    return entry.status


def sendable(rows: Iterable[Row]) -> list[HeldRow]:
    """The rows that can go now."""
    return [sending_row(r.student_id, r.settled) for r in rows if r.settled and r.state in {"ready", "to correct"}]


def left(rows: Iterable[Row]) -> int:
    """How many students still have to reach the office."""
    return sum(row.state in LEFT_TO_DO for row in rows)


@dataclass(frozen=True)
class Line:
    """One line of the comparison of what was sent with what the office holds."""

    student_id: str
    sent: HeldRow | None
    held: HeldRow | None

    @property
    def agrees(self) -> bool:
        """Whether both sides say the same."""
        return self.sent == self.held


def compare(sent: Mapping[str, HeldRow], held: Mapping[str, HeldRow]) -> list[Line]:
    """What was sent and what the office holds, line by line; a line that one side lacks counts as different."""
    ids = [*sent, *(student for student in held if student not in sent)]
    return [Line(student, sent.get(student), held.get(student)) for student in ids]
