"""Submitting: which rows can go, what a sending says, and how it compares with what the office holds."""

import hashlib
import json
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any, Literal

from vinemark.core.audit import audit
from vinemark.core.audit.finding import Finding, stops_by_student
from vinemark.core.base.number import fixed
from vinemark.core.course.course import Course, RosterEntry, Settled, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.settle.settling import needs_of

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


@dataclass(frozen=True)
class Row:
    """One student on the submit page. `stops` are the findings that hold the row back."""

    student_id: str
    name: str
    state: RowState
    settled: Settled | None = None
    stops: Sequence[Finding] = ()
    refused: str | None = None


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


def submission_rows(course: Course, findings: Sequence[Finding], there: AtTheOffice) -> list[Row]:
    """Every student of the section and of the roster in the roster's order, with where their row stands.

    Once the office has posted, a row that it holds otherwise is not to be sent again.
    """
    stops = stops_by_student(findings)
    people: list[Student | RosterEntry] = [*course.students, *course.not_in_section()]
    rows = [_row(course, person.id, person.name, stops.get(person.id, []), there) for person in people]
    roster = course.records.roster if course.records else ()
    places = {entry.id: place for place, entry in enumerate(roster)}
    return sorted(rows, key=lambda row: (places.get(row.student_id, len(places)), row.name))


def _row(course: Course, student_id: str, name: str, stops: Sequence[Finding], there: AtTheOffice) -> Row:
    settled = course.settled.get(student_id)
    state = _aside(course, student_id) or _done(course, student_id, settled, there)
    if state is not None:
        return Row(student_id, name, state, settled)
    reason = there.refused.get(student_id)
    if settled is not None and there.on_the_way.get(student_id) == sending_row(course, student_id, settled):
        return Row(student_id, name, "signed", settled, refused=reason)
    if stops or settled is None:
        return Row(student_id, name, "stopped", settled, stops, reason)
    return Row(student_id, name, "to correct" if student_id in there.held else "ready", settled, refused=reason)


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


def sendable(course: Course, rows: Iterable[Row]) -> list[HeldRow]:
    """The rows that can go now."""
    return [
        sending_row(course, r.student_id, r.settled) for r in rows if r.settled and r.state in {"ready", "to correct"}
    ]


def left(rows: Iterable[Row]) -> int:
    """How many students still have to reach the office; withdrawn, auditing and set aside ones never."""
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


@dataclass(frozen=True)
class ProofLine:
    """One line of the proof sheet, as text."""

    student_id: str
    name: str
    percent: str
    letter: str
    settled: str
    beside: str
    state: str


def proof_lines(course: Course, rows: Iterable[Row], grades: Mapping[str, Grade]) -> list[ProofLine]:
    """The proof sheet in the rows' order, which is the roster's."""
    return [_proof_line(course, row, grades.get(row.student_id)) for row in rows]


def _proof_line(course: Course, row: Row, grade: Grade | None) -> ProofLine:
    percent = "" if grade is None or grade.percent is None else fixed(grade.percent, 2)
    letter = (grade.letter or "") if grade else ""
    settled = row.settled.grade if row.settled else ""
    beside = beside_words(course, row.settled) if row.settled else ""
    return ProofLine(row.student_id, row.name, percent, letter, settled, beside, row.state)


def beside_words(course: Course, settled: Settled) -> str:
    """What stands beside a settled grade, in words: 'last attended 2026-11-02', 'falls back to F, by 2027-12-01'."""
    if course.run == "midterm":
        return ""
    parts = []
    if settled.never_attended:
        zero = course.records is not None and course.records.never_attended == "zero_hours"
        parts.append("never attended" + (", zero hours" if zero else f", {course.term.starts.isoformat()}"))
    elif settled.last_attended:
        parts.append(f"last attended {settled.last_attended.isoformat()}")
    if settled.fallback_grade:
        parts.append(f"falls back to {settled.fallback_grade}")
    if settled.finish_by:
        parts.append(f"by {settled.finish_by.isoformat()}")
    if settled.owed:
        parts.append(f"owes {settled.owed}")
    return ", ".join(parts)


def code_column(course: Course, rows: Iterable[Row]) -> str:
    """The settled codes alone, one line for each row of the office's roster and in its order; to be copied.

    A line is empty where no code is due or none is settled; who is not on the roster has no line.
    """
    listed = [row for row in rows if course.records is None or course.records.entry(row.student_id)]
    return "\n".join(row.settled.grade if row.settled and row.state not in ASIDE else "" for row in listed)
