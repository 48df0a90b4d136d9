"""The grade record of a student: everything that made one grade, for an appeals board that has nothing else."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from vinemark.core.after.grade_change import GradeChange
from vinemark.core.audit.accept import ReviewedFinding
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import RUNS, Course, Run, Settled, Student
from vinemark.core.course.read_records import read_settled
from vinemark.core.grade.calculation import CategoryResult, Grade
from vinemark.core.grade.codes import computed_code
from vinemark.core.grade.steps import BECAME, Steps, steps_of
from vinemark.core.plan.sentences import plan_text
from vinemark.core.scores.adjusting import reason_of
from vinemark.core.submit.submission import Submission
from vinemark.section.snapshot import RunSnapshot
from vinemark.section.state import SectionState
from vinemark.store.history import LaterEntry, later_entries
from vinemark.store.texts import parsed

LONGEST_SYLLABUS = 3000
BY_HAND = ("settled-final", "adjustment", "set-aside", "grade-change")


@dataclass(frozen=True)
class RecordedWork:
    """One item of a student: when it was due, what is recorded, what becomes of it, and the remark at it."""

    category: str
    name: str
    points: str
    due: date | None
    own_due: bool
    score: str
    state: str
    remark: str


@dataclass(frozen=True)
class SubmittedGrade:
    """A grade as it was submitted, and the registrar's answer to it."""

    run: str
    code: str
    submission: Submission
    answer: str


@dataclass(frozen=True)
class SettledAct:
    """Who settled or changed the grade, and when."""

    at: str
    person: str | None
    what: str


@dataclass(frozen=True)
class GradeRecord:
    """All that made the grade of one student. `at_registrar` is the code that the registrar has, where it is known."""

    student: Student
    status: str
    work: Sequence[RecordedWork]
    grade: Grade
    worked: Steps
    computed: str | None
    settled: Settled | None
    acts: Sequence[SettledAct]
    findings: Sequence[ReviewedFinding]
    submitted: Sequence[SubmittedGrade]
    changes: Sequence[GradeChange]
    at_registrar: str | None


def grade_records(section: SectionState, students: Iterable[Student]) -> list[GradeRecord]:
    """The records of students, for the final grade; the history is read once."""
    entries = entries_by_hand(section)
    return [_record(section, student, entries) for student in students]


def _record(section: SectionState, student: Student, entries: Sequence[LaterEntry]) -> GradeRecord:
    snapshot = section.snapshot
    course, run, grade = snapshot.course, snapshot.run("final"), snapshot.grades[student.id]
    there = run.there(student.id)
    return GradeRecord(
        student,
        course.status(student) or "not on the roster",
        [line for result in grade.categories for line in _work(section, student, result)],
        grade,
        steps_of(course.plan, grade, reason_of(course, student)),
        computed_code(course, student.id, grade),
        course.settled.get(student.id),
        settled_acts(entries, student),
        [one for one in snapshot.reviewed if one.finding.student == student.id],
        [line for name in RUNS for line in _submitted(snapshot.run(name), student)],
        [change for change in run.changes if change.student_id == student.id],
        there.code if there else None,
    )


def _work(section: SectionState, student: Student, result: CategoryResult) -> Iterator[RecordedWork]:
    course, remarks = section.course, section.snapshot.loaded.remarks
    own = course.extended.get(student.id, {})
    for item, cell, state in result.states():
        yield RecordedWork(
            result.category.name,
            item.name,
            cell_text(item.points),
            own.get(item.id, item.due),
            item.id in own,
            cell_text(cell),
            BECAME[state],
            remarks.get((student.id, item.id), ""),
        )


def entries_by_hand(section: SectionState, run: Run = "final") -> list[LaterEntry]:
    """What was done to the grades of a run by hand, oldest first."""
    kinds = BY_HAND if run == "final" else ("settled-midterm",)
    return later_entries(section.connection, section.id, 0, kinds, None)


def settled_acts(entries: Iterable[LaterEntry], student: Student) -> list[SettledAct]:
    """What of that was done to one student."""
    return [SettledAct(one.at, one.person, _words(one, student)) for one in entries if _names(one, student.id)]


def _names(entry: LaterEntry, student_id: str) -> bool:
    """Whether an entry is about a student: what is kept by student, or a row of the registrar's."""
    values = [value for value in (entry.before, entry.after) if isinstance(value, Mapping)]
    rows = [row for value in values for row in (value.get("old"), value.get("new")) if isinstance(row, Mapping)]
    return any(student_id in value for value in values) or any(row.get("id") == student_id for row in rows)


def _words(entry: LaterEntry, student: Student) -> str:
    what = entry.what.removeprefix(f"{student.plain_name}: ")
    if not entry.kind.startswith("settled-") or what != entry.what:
        return what
    text = entry.after.get(student.id)
    grade = read_settled(parsed(text), "settled").grade if text else None
    return f"{what}: {f'settled as {grade}' if grade else 'open again'}"


def _submitted(run: RunSnapshot, student: Student) -> Iterator[SubmittedGrade]:
    for submission in run.submissions:
        for row in submission.rows:
            if row.id == student.id:
                yield SubmittedGrade(run.name, row.code, submission, _answer(submission, student))


def _answer(submission: Submission, student: Student) -> str:
    if submission.receipt is None:
        return "refused as a whole" if submission.state == "refused" else "no answer yet"
    answer = next((one for one in submission.receipt.rows if one.id == student.id), None)
    return answer.words if answer else "not named in the receipt"


@dataclass(frozen=True)
class GradingRules:
    """What the syllabus said and what the plan says, in words."""

    said: Sequence[str]
    plan: Sequence[str]


def grading_rules(section: SectionState) -> GradingRules:
    """The rules that all records of a section share."""
    match = section.snapshot.match
    clauses = {clause.text: None for noted in match.rules for clause in noted.rule.clauses} if match else {}
    said = list(clauses) or _beginning(section.course)
    lines = [line.strip() for line in plan_text(section.course.plan).splitlines()]
    return GradingRules(said, [line for line in lines if line])


def _beginning(course: Course) -> list[str]:
    text = (course.syllabus or "")[:LONGEST_SYLLABUS]
    return [line.strip() for line in text.splitlines() if line.strip()]
