"""The score sheet as rows of plain cells: what stands in each, in which state, and the figures beside them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from statistics import median

from vinemark.core.calculation import Grade, ItemResult, grade_of
from vinemark.core.class_calculation import grades_of
from vinemark.core.course import Course, Student
from vinemark.core.course_format import write_cell
from vinemark.core.number import fixed, trimmed
from vinemark.core.plan import Item


@dataclass(frozen=True)
class SheetCell:
    """One cell: its text, its state as a class name, and what a screen reader adds."""

    item: Item
    text: str
    state: str
    said: str


@dataclass(frozen=True)
class SheetRow:
    """One student: cells by category, category percents, the grade."""

    student: Student
    status: str
    groups: Sequence[tuple[Sequence[SheetCell], str]]
    percent: str
    letter: str
    grade: Grade


@dataclass(frozen=True)
class Column:
    """Figures of one item over the enrolled students."""

    average: str
    median: str
    lowest: str
    highest: str
    scored: int


def sheet_rows(course: Course, as_of: date) -> list[SheetRow]:
    """The whole sheet."""
    grades = grades_of(course, as_of)
    return [_row(course, student, grades[student.id]) for student in course.students]


def sheet_row(course: Course, student: Student, as_of: date) -> SheetRow:
    """A student's row of the sheet."""
    return _row(course, student, grade_of(course, student.id, as_of))


def _row(course: Course, student: Student, grade: Grade) -> SheetRow:
    groups = [
        ([_cell(result) for result in category.items], _percent(category.fraction)) for category in grade.categories
    ]
    status = "set aside" if student.set_aside else course.status(student) or "not on the roster"
    percent = "–" if grade.percent is None else fixed(grade.percent, 2)
    return SheetRow(student, status, groups, percent, grade.letter or "–", grade)


def _percent(fraction: Fraction | None) -> str:
    return "–" if fraction is None else fixed(100 * fraction, 1)


def _cell(result: ItemResult) -> SheetCell:
    text = write_cell(result.cell) or ""
    over = isinstance(result.cell, Fraction) and result.cell > result.item.points
    state = result.state.replace("_", "-")
    if result.cell is None and result.earned is not None:
        state += " zero"
    if text in {"missing", "exempt"}:
        state += f" {text}"
    return SheetCell(result.item, text, state + (" over" if over else ""), _said(result, over))


def _said(result: ItemResult, over: bool) -> str:
    words = {
        "dropped_lowest": "dropped as lowest",
        "dropped_highest": "dropped as highest",
        "waiting": "blank, waits",
        "planned": "only planned",
    }.get(result.state, "")
    if result.cell is None and result.earned is not None:
        words = f"blank, counts 0{', dropped' if result.state.startswith('dropped') else ''}"
    return "above the item's points" if over else words


def column(course: Course, item: Item) -> Column:
    """Average, median, lowest, highest and how many are scored."""
    cells = [course.cell(s.id, item.id) for s in course.enrolled()]
    numbers = sorted(c for c in cells if isinstance(c, Fraction))
    if not numbers:
        return Column("", "", "", "", 0)
    average = sum(numbers, Fraction(0)) / len(numbers)
    return Column(
        fixed(average, 1), trimmed(median(numbers), 2), trimmed(numbers[0], 2), trimmed(numbers[-1], 2), len(numbers)
    )


def histogram(course: Course, item: Item) -> list[int]:
    """How many enrolled students scored in each tenth of the points, the last one for full points and above."""
    found = [0] * 11
    for student in course.enrolled():
        cell = course.cell(student.id, item.id)
        if isinstance(cell, Fraction):
            found[min(10, int(10 * cell / item.points))] += 1
    return found if any(found) else []
