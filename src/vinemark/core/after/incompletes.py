"""The diary of incompletes: what is owed, until when, and what it falls back to."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from vinemark.core.after.grade_change import GradeChange
from vinemark.core.course.course import Course
from vinemark.core.grade.codes import needs_of
from vinemark.core.submit.grade_row import GradeRow

IncompleteState = Literal["not sent", "open", "past", "asked", "finished", "fallen back"]


@dataclass(frozen=True)
class Incomplete:
    """One incomplete. `days_left` counts from today to the finish-by date, below 0 once it is past.

    `open`: work may still come. `past`: its date is over and the registrar still has the incomplete. `asked`: a change
    of grade is on its way. `finished`: a change was granted. `fallen back`: the registrar applied the fallback grade.
    """

    student_id: str
    name: str
    code: str
    owed: str
    fallback: str
    finish_by: date | None
    days_left: int | None
    state: IncompleteState
    now: str

    @property
    def needs_work(self) -> bool:
        """Whether something is still to come."""
        return self.state in {"not sent", "open", "past"}


def incompletes_of(
    course: Course,
    held: Mapping[str, GradeRow],
    fell_back: Mapping[str, GradeRow],
    changes: Sequence[GradeChange],
    today: date,
) -> list[Incomplete]:
    """Every incomplete of the section, the next date first, finished and fallen back ones last.

    `held` is what the registrar has, `fell_back` the incomplete each grade was before the registrar let it fall back.
    """
    found: dict[str, Incomplete] = {}
    for change in changes:
        if change.old is not None and _incomplete(course, change.old.code) and change.state == "granted":
            found[change.student_id] = _entry(course, change.old, change.owed, "finished", change.new.code, today)
    for student_id, row in fell_back.items():
        settled = course.settled.get(student_id)
        now = held[student_id].code if student_id in held else row.fallback_grade or ""
        found.setdefault(student_id, _entry(course, row, settled.owed if settled else None, "fallen back", now, today))
    asked = {change.student_id for change in changes if change.open}
    for student_id, row in _open(course, held).items():
        settled = course.settled.get(student_id)
        state = _state(held.get(student_id), row, student_id in asked, today)
        found.setdefault(student_id, _entry(course, row, settled.owed if settled else None, state, row.code, today))
    return sorted(found.values(), key=lambda one: (not one.needs_work, one.finish_by or date.max, one.name))


def _incomplete(course: Course, code: str) -> bool:
    return "fallback_grade" in needs_of(course, code)


def _open(course: Course, held: Mapping[str, GradeRow]) -> dict[str, GradeRow]:
    """Incompletes that the registrar has, and settled ones that it does not have yet."""
    found = {student_id: row for student_id, row in held.items() if _incomplete(course, row.code)}
    for student_id, settled in course.settled.items():
        if student_id not in held and _incomplete(course, settled.grade):
            finish = settled.finish_by.isoformat() if settled.finish_by else None
            found[student_id] = GradeRow(
                student_id, settled.grade, fallback_grade=settled.fallback_grade, finish_by=finish, owed=settled.owed
            )
    return found


def _state(there: GradeRow | None, row: GradeRow, asked: bool, today: date) -> IncompleteState:
    if there is None:
        return "not sent"
    if asked:
        return "asked"
    return "past" if row.finish_by and date.fromisoformat(row.finish_by) < today else "open"


def _entry(
    course: Course, row: GradeRow, owed: str | None, state: IncompleteState, now: str, today: date
) -> Incomplete:
    student = course.student(row.id)
    finish = date.fromisoformat(row.finish_by) if row.finish_by else None
    return Incomplete(
        row.id,
        student.name if student else row.id,
        row.code,
        owed or row.owed or "",
        row.fallback_grade or "",
        finish,
        (finish - today).days if finish else None,
        state,
        now,
    )
