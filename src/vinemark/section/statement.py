"""A student's statement as of now: what is visible of the section, the settled grade, and where that is."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from vinemark.core.course.course import RUNS, Run, Student
from vinemark.core.scores.sheet import Column
from vinemark.core.scores.visibility import item_visibility
from vinemark.core.statement.statement import Statement, statement_of
from vinemark.section.snapshot import RunSnapshot, Snapshot, Snapshots
from vinemark.store.database import Connection
from vinemark.store.questions import Question
from vinemark.store.sections import SectionRecord


@dataclass(frozen=True)
class GradeWords:
    """A run's grade as its student reads it: the code, and in words where it is. `follows` says that it is the
    computed letter so far, which each score can change."""

    run: Run
    code: str
    where: str
    follows: bool = False


@dataclass(frozen=True)
class StudentsSection:
    """A section as one of its students has it."""

    record: SectionRecord
    student: Student
    statement: Statement
    grades: Sequence[GradeWords]
    questions: Mapping[str, Sequence[Question]]
    now: datetime

    def may_ask(self, item_id: str) -> bool:
        """Whether a question about this item can be asked: its score is there to be seen."""
        shown = [one for group in self.statement.categories for one in group.work] + list(self.statement.recorded)
        seen = any(one.item.id == item_id and one.visible and one.scored for one in shown)
        return seen and self.statement.shows.questions

    @property
    def nothing(self) -> bool:
        """Whether nothing is visible yet."""
        return not self.grades and not any(one.visible for group in self.statement.categories for one in group.work)


def students_section(
    connection: Connection, snapshots: Snapshots, record: SectionRecord, student_id: str, now: datetime
) -> StudentsSection | None:
    """What a student sees; None where there is no such student, or they were set aside."""
    snapshot = snapshots.of(connection, record, now.date())
    student = snapshot.course.student(student_id)
    if student is None or student.set_aside is not None:
        return None
    shows = snapshot.loaded.students_see
    statement = statement_of(snapshot.course, student, visible_items(snapshot), shows, snapshot.as_of)
    found = (_grade(snapshot.run(run), statement) for run in RUNS)
    return StudentsSection(record, student, statement, [one for one in found if one], _asked(snapshot, student_id), now)


def _asked(snapshot: Snapshot, student_id: str) -> Mapping[str, Sequence[Question]]:
    """A student's questions by item."""
    found: dict[str, list[Question]] = {}
    for one in snapshot.loaded.questions:
        if one.student_id == student_id:
            found.setdefault(one.item_id, []).append(one)
    return found


def visible_items(snapshot: Snapshot) -> Mapping[str, Column | None]:
    """The items that students see, each with its figures over the class."""
    course, chosen = snapshot.course, snapshot.loaded.visibility
    seen = (item for item in course.plan.columns.values() if item_visibility(course, item, chosen.get(item.id)).visible)
    return {item.id: snapshot.column(item) for item in seen}


def _grade(run: RunSnapshot, statement: Statement) -> GradeWords | None:
    student = statement.student.id
    if run.visible is None or not run.visible.to(student):
        return None
    if run.visible.shows == "computed":
        letter = statement.grade.letter
        return GradeWords(run.name, letter, "", follows=True) if letter else None
    settled = run.course.settled.get(student)
    if settled is None:
        return GradeWords(run.name, "", "not settled yet")
    return GradeWords(run.name, settled.grade, _where(run, student, settled.grade))


def _where(run: RunSnapshot, student_id: str, code: str) -> str:
    """Whether the registrar has it, in words that cannot be mistaken."""
    there = run.there(student_id)
    if there is None:
        return "settled, not sent to the registrar"
    if there.code != code:
        return f"settled; the registrar has {there.code}, and a change is not done there yet"
    return "posted by the registrar" if run.posted_at else "received by the registrar, not posted yet"
