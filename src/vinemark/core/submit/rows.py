"""Submitting: which rows can go, what a sending says, and how it compares with what the registrar has."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from vinemark.core.audit import audit_facts
from vinemark.core.audit.finding import LEVELS, Facts, Finding, stops_by_student
from vinemark.core.course.course import Course, RosterEntry, Settled, Student
from vinemark.core.grade.codes import needs_of
from vinemark.core.scores.trial_student import is_trial
from vinemark.core.submit.grade_row import GradeRow, grade_row
from vinemark.core.submit.hours import Gate
from vinemark.core.submit.submission import AtRegistrar

RowState = Literal[
    "ready",
    "stopped",
    "signed",
    "answered",
    "received",
    "refused",
    "to correct",
    "changed after submitting",
    "fallen back",
    "withdrawn",
    "auditing",
    "set aside",
]
LEFT_TO_DO: frozenset[RowState] = frozenset({"ready", "stopped", "signed", "answered", "refused", "to correct"})
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

    @property
    def left(self) -> bool:
        """Whether it still has to reach the registrar, or to be seen there."""
        return self.state in LEFT_TO_DO


def midterm_findings(facts: Facts) -> list[Finding]:
    """What stops rows of the midterm run. `facts` are of that run's course, with every grade due."""
    return audit_facts(facts, MIDTERM_CODES)


def with_every_grade_due(facts: Facts, findings: Iterable[Finding]) -> list[Finding]:
    """Findings of a course with every grade that is not settled among them, as submitting needs it."""
    due = Facts(facts.course, facts.as_of, submitting=True, grades=facts.grades)
    found = [*(f for f in findings if f.code != "unsettled"), *audit_facts(due, {"unsettled"})]
    return sorted(found, key=lambda finding: LEVELS.index(finding.level))


def plan_stops(findings: Iterable[Finding]) -> list[Finding]:
    """The findings that stop the whole section: every `stop` that is not about one student."""
    return [f for f in findings if f.level == "stop" and f.student is None]


def submission_rows(course: Course, findings: Sequence[Finding], there: AtRegistrar) -> list[SubmitRow]:
    """Every student of the section and of the roster in the roster's order, with where their row stands.

    Once the registrar has posted, a row that it holds otherwise is not to be sent again.
    """
    stops = stops_by_student(findings)
    people: list[Student | RosterEntry] = [s for s in course.students if not is_trial(s)]
    people += course.not_in_section()
    rows = [_row(course, person.id, person.name, stops.get(person.id, []), there) for person in people]
    roster = course.records.roster if course.records else ()
    order = {entry.id: index for index, entry in enumerate(roster)}
    return sorted(rows, key=lambda row: (order.get(row.student_id, len(order)), row.name))


def _row(course: Course, student_id: str, name: str, stops: Sequence[Finding], there: AtRegistrar) -> SubmitRow:
    settled = course.settled.get(student_id)
    state = _aside(course, student_id) or _done(course, student_id, settled, there)
    if state is not None:
        return SubmitRow(student_id, name, state, settled)
    refused = there.refused.get(student_id)
    if settled is None:
        return SubmitRow(student_id, name, "stopped", None, stops, refused.reason if refused else None)
    row = grade_row(course, student_id, settled)
    # What was refused stays so until it is another row: then its reason is gone.
    reason = refused.reason if refused and refused.row == row else None
    if there.on_the_way.get(student_id) == row:
        return SubmitRow(student_id, name, "signed", settled, refused=reason)
    if stops:
        return SubmitRow(student_id, name, "stopped", settled, stops, reason)
    if reason is not None:
        return SubmitRow(student_id, name, "refused", settled, refused=reason)
    known = student_id in there.held or student_id in there.seen
    return SubmitRow(student_id, name, "to correct" if known else "ready", settled)


def _done(course: Course, student_id: str, settled: Settled | None, there: AtRegistrar) -> RowState | None:
    """Where a row stands that nothing is to be sent of any more."""
    row = grade_row(course, student_id, settled) if settled else None
    if row is not None and there.has(row):
        return "received"
    if row is not None and there.answered(row):
        return "answered"
    held = there.held.get(student_id) or there.seen.get(student_id)
    if student_id in there.fell_back and settled is not None and "fallback_grade" in needs_of(course, settled.grade):
        return "fallen back"
    return "changed after submitting" if there.posted and (held or settled) is not None else None


def _aside(course: Course, student_id: str) -> RowState | None:
    student = course.student(student_id)
    if student is not None and student.set_aside is not None:
        return "set aside"
    entry = course.records.entry(student_id) if course.records else None
    if entry is None or entry.status == "enrolled":
        return None
    return entry.status


def submittable(
    course: Course,
    rows: Iterable[SubmitRow],
    stops: Sequence[Finding],
    posted: bool,
    gate: Gate,
    refused_again: bool = False,
) -> list[GradeRow]:
    """The rows that can go now: none where the plan stops the section, the registrar posted, or the run is closed.

    What was refused goes again unchanged only where that is wanted.
    """
    if stops or posted or gate.state == "closed":
        return []
    wanted = {"ready", "to correct", *(["refused"] if refused_again else [])}
    ready = [row for row in rows if row.state in wanted]
    return [grade_row(course, row.student_id, row.settled) for row in ready if row.settled]


def changed_since_signed(course: Course, rows: Iterable[GradeRow]) -> list[str]:
    """The names of those whose settled grade is another than the row that was signed."""
    found = []
    for row in rows:
        student, settled = course.student(row.id), course.settled.get(row.id)
        if settled is None or grade_row(course, row.id, settled) != row:
            found.append(student.plain_name if student else row.id)
    return found


def left(rows: Iterable[SubmitRow]) -> int:
    """How many students still have to reach the registrar; withdrawn, auditing and set aside ones never."""
    return sum(row.left for row in rows)
