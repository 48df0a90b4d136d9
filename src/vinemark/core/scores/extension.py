"""An extension: a due date of one student for one item, later than that of the class."""

from dataclasses import dataclass
from datetime import date

from vinemark.core.base.dates import day_words
from vinemark.core.base.limits import FIRST_DAY, LAST_DAY, OTHER_CENTURY
from vinemark.core.base.refused import Refused, iso_day
from vinemark.core.course.cell import DetailedScore, scored
from vinemark.core.course.course import Course, Student
from vinemark.core.plan.plan import Item
from vinemark.core.plan.rules import MOST_LATE_DAYS
from vinemark.core.scores.typed_cells import CellWrite


@dataclass(frozen=True)
class Extension:
    """The day (None: that of the class again), what becomes of the cell, and both in words."""

    due: date | None
    cell: CellWrite | None
    words: str


def extension(course: Course, student: Student, item: Item, typed: str, as_of: date) -> Extension:
    """An extension as typed; nothing typed takes it away. Raises Refused at 'due'.

    Late days are counted from a student's own day: those recorded already are lessened by the days that are given,
    and a missing that is not due any more becomes blank.
    """
    if item.due is None or course.plan.only_recorded(item.id):
        raise Refused("due", f"{item.name} has no due date: give it one in the plan first")
    due = iso_day(typed, "due") if typed.strip() else None
    if due is not None and not FIRST_DAY <= due <= LAST_DAY:
        raise Refused("due", OTHER_CENTURY)
    if due is not None and due <= item.due:
        raise Refused("due", f"must be after {day_words(item.due)}, the day of the class")
    cell, more = _cell_after(course, student, item, due or item.due, as_of)
    said = f"due {day_words(due)}" if due else f"due {day_words(item.due)}, as for the class"
    return Extension(due, cell, f"{student.plain_name}, {item.name}: {said}{more}")


def _cell_after(course: Course, student: Student, item: Item, due: date, as_of: date) -> tuple[CellWrite | None, str]:
    cell, before = course.cell(student.id, item.id), course.due(student.id, item)
    if cell == "missing" and due >= as_of:
        return CellWrite(student.id, item.id, None), ", blank instead of missing"
    if not isinstance(cell, DetailedScore) or not cell.late or before is None:
        return None, ""
    days = min(MOST_LATE_DAYS, max(0, cell.late - (due - before).days))
    new = DetailedScore(None, cell.symbol, days) if cell.score is None else scored(cell.score, days)
    return CellWrite(student.id, item.id, new), f", {days} instead of {cell.late} days late"
