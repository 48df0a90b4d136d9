"""Submitting: which rows can go, what a sending says, and how it compares with what the office holds."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from vinemark.core.audit import audit
from vinemark.core.audit.finding import Finding, stops_by_student
from vinemark.core.course.course import Course, RosterEntry, Settled, Student
from vinemark.core.grade.codes import needs_of
from vinemark.core.submit.grade_row import HeldRow, sending_row

RowState = Literal[
    "ready",
    "stopped",
    "signed",
    "received",
    "to correct",
    "changed since",
    "fallen back",
    "withdrawn",
    "auditing",
    "set aside",
]
LEFT_TO_DO: frozenset[RowState] = frozenset({"ready", "stopped", "signed", "to correct"})
ASIDE: frozenset[RowState] = frozenset({"withdrawn", "auditing", "set aside"})
MIDTERM_CODES = frozenset({"unsettled", "code-refused", "withdrawn-graded", "not-enrolled", "not-in-section"})
"""What stops a row of the midterm run: the roster and the code, never a date, and never the plan still being made."""


@dataclass(frozen=True)
class SubmitRow:
    """One student on the submit page. `stops` are the findings that hold the row back."""

    student_id: str
    name: str
    state: RowState
    settled: Settled | None = None
    stops: Sequence[Finding] = ()
    refused: str | None = None


def midterm_findings(course: Course, as_of: date) -> list[Finding]:
    """What stops rows of the midterm run. `course` is that run's."""
    return [f for f in audit(course, as_of, submitting=True) if f.code in MIDTERM_CODES]


def plan_stops(findings: Iterable[Finding]) -> list[Finding]:
    """The findings that stop the whole section: every `stop` that is not about one student."""
    return [f for f in findings if f.level == "stop" and f.student is None]


@dataclass(frozen=True)
class AtTheOffice:
    """What is known of a run at the office: rows it holds, its reason for each it refused last, rows that are signed
    and on their way, whether it has posted, and whose incomplete it let fall back."""

    held: Mapping[str, HeldRow] = field(default_factory=dict)
    refused: Mapping[str, str] = field(default_factory=dict)
    on_the_way: Mapping[str, HeldRow] = field(default_factory=dict)
    posted: bool = False
    fell_back: Collection[str] = ()


def submission_rows(course: Course, findings: Sequence[Finding], there: AtTheOffice) -> list[SubmitRow]:
    """Every student of the section and of the roster in the roster's order, with where their row stands.

    Once the office has posted, a row that it holds otherwise is not to be sent again.
    """
    stops = stops_by_student(findings)
    people: list[Student | RosterEntry] = [*course.students, *course.not_in_section()]
    rows = [_row(course, person.id, person.name, stops.get(person.id, []), there) for person in people]
    roster = course.records.roster if course.records else ()
    order = {entry.id: index for index, entry in enumerate(roster)}
    return sorted(rows, key=lambda row: (order.get(row.student_id, len(order)), row.name))


def _row(course: Course, student_id: str, name: str, stops: Sequence[Finding], there: AtTheOffice) -> SubmitRow:
    settled = course.settled.get(student_id)
    state = _aside(course, student_id) or _done(course, student_id, settled, there)
    if state is not None:
        return SubmitRow(student_id, name, state, settled)
    reason = there.refused.get(student_id)
    if settled is not None and there.on_the_way.get(student_id) == sending_row(course, student_id, settled):
        return SubmitRow(student_id, name, "signed", settled, refused=reason)
    if stops or settled is None:
        return SubmitRow(student_id, name, "stopped", settled, stops, reason)
    return SubmitRow(student_id, name, "to correct" if student_id in there.held else "ready", settled, refused=reason)


def _done(course: Course, student_id: str, settled: Settled | None, there: AtTheOffice) -> RowState | None:
    """Where a row stands that nothing is to be sent of any more."""
    held = there.held.get(student_id)
    if settled is not None and held == sending_row(course, student_id, settled):
        return "received"
    if student_id in there.fell_back and settled is not None and "fallback_grade" in needs_of(course, settled.grade):
        return "fallen back"
    return "changed since" if there.posted and (held or settled) is not None else None


def _aside(course: Course, student_id: str) -> RowState | None:
    student = course.student(student_id)
    if student is not None and student.set_aside is not None:
        return "set aside"
    entry = course.records.entry(student_id) if course.records else None
    if entry is None or entry.status == "enrolled":
        return None
    return entry.status


def sendable(course: Course, rows: Iterable[SubmitRow]) -> list[HeldRow]:
    """The rows that can go now."""
    return [
        sending_row(course, r.student_id, r.settled) for r in rows if r.settled and r.state in {"ready", "to correct"}
    ]


def left(rows: Iterable[SubmitRow]) -> int:
    """How many students still have to reach the office; withdrawn, auditing and set aside ones never."""
    return sum(row.state in LEFT_TO_DO for row in rows)
