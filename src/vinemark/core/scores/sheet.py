"""The score sheet as rows of plain cells: what stands in each, in which state, and the figures beside them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import fixed, trimmed
from vinemark.core.course.course import Cell, Course, Student
from vinemark.core.course.write import write_cell
from vinemark.core.grade.calculation import Grade, ItemState
from vinemark.core.grade.letters import Letters, letters_of, rounded_percent
from vinemark.core.plan.plan import Item, Plan

Remarks = Mapping[tuple[str, str], str]
"""A few words kept with a cell, by student and item."""


@dataclass(frozen=True)
class SheetCell:
    """One cell: its text, its state as a class name, what a screen reader adds, and the remark kept with it."""

    item: Item
    text: str
    state: str
    said: str
    remark: str = ""


@dataclass(frozen=True)
class Figure:
    """A course percent for the table, and its letter."""

    percent: str
    letter: str


@dataclass(frozen=True)
class SheetRow:
    """One student: cells by category, category percents, the grade so far, with blanks as 0 and in full.

    `near` says that less than half a percent is missing to the next letter.
    """

    student: Student
    status: str
    groups: Sequence[tuple[Sequence[SheetCell], str]]
    so_far: Figure
    blanks_zero: Figure
    blanks_full: Figure
    near: bool
    grade: Grade

    def cell(self, item_id: str) -> SheetCell:
        """The cell of an item."""
        return next(cell for cells, _ in self.groups for cell in cells if cell.item.id == item_id)


@dataclass(frozen=True)
class Column:
    """Figures of one item over the enrolled students."""

    average: str
    median: str
    lowest: str
    highest: str
    scored: int


def sheet_rows(course: Course, grades: Mapping[str, Grade], remarks: Remarks | None = None) -> list[SheetRow]:
    """The whole sheet, with everyone's grade."""
    return [sheet_row(course, student, grades[student.id], remarks or {}) for student in course.students]


def sheet_cell(student: Student, grade: Grade, item: Item, remark: str = "") -> SheetCell:
    """One cell of a student's row, with their grade."""
    marked = next(m for category in grade.categories for m in category.states() if m[0].id == item.id)
    return _cell(*marked, remark)


def sheet_row(course: Course, student: Student, grade: Grade, remarks: Remarks) -> SheetRow:
    """A student's row of the sheet, with their grade."""
    letters = letters_of(course.plan)
    groups = [
        ([_cell(*marked, remarks.get((student.id, marked[0].id), "")) for marked in category.states()],
         _percent(category.fraction))
        for category in grade.categories
    ]  # fmt: skip
    status = "set aside" if student.set_aside else course.status(student) or "not on the roster"
    percents = (grade.percent, grade.blanks_zero, grade.blanks_full)
    so_far, zero, full = (_figure(course.plan, letters, percent) for percent in percents)
    near = grade.percent is not None and letters.near(grade.percent)
    return SheetRow(student, status, groups, so_far, zero, full, near, grade)


def _figure(plan: Plan, letters: Letters, percent: Fraction | None) -> Figure:
    if percent is None:
        return Figure("–", "–")
    return Figure(fixed(percent, 2), letters.of(percent, rounded_percent(plan.rounding, percent)) or "–")


def _percent(fraction: Fraction | None) -> str:
    return "–" if fraction is None else fixed(100 * fraction, 1)


STATE_WORDS: dict[str, str] = {
    "dropped_lowest": "dropped as lowest",
    "dropped_highest": "dropped as highest",
    "waiting": "blank, not counted yet",
    "planned": "does not count yet",
}


def _cell(item: Item, cell: Cell, state: ItemState, remark: str) -> SheetCell:
    text, classes, said = write_cell(cell) or "", state.replace("_", "-"), STATE_WORDS.get(state, "")
    if cell is None and state in {"kept", "dropped_lowest", "dropped_highest"}:
        classes += " zero"
        said = "blank, counts as 0" if state == "kept" else "blank, counts as 0, dropped"
    elif cell in {"missing", "exempt"}:
        classes += f" {cell}"
    elif isinstance(cell, Fraction) and cell > item.points:
        classes += " over"
        said = "above the item's points"
    return SheetCell(item, text, classes + (" remarked" if remark else ""), said, remark)


def column(course: Course, item: Item) -> Column:
    """Average, median, lowest, highest and how many are scored."""
    whole, unit = course.risen(item.id)
    if not whole:
        return Column("", "", "", "", 0)
    average, middle = Fraction(sum(whole), len(whole) * unit), Fraction(_twice_median(whole), 2 * unit)
    lowest, highest = Fraction(whole[0], unit), Fraction(whole[-1], unit)
    return Column(fixed(average, 1), trimmed(middle, 2), trimmed(lowest, 2), trimmed(highest, 2), len(whole))


def _twice_median(ordered: Sequence[int]) -> int:
    """Twice the middle value, or the sum of the two in the middle."""
    return ordered[(len(ordered) - 1) // 2] + ordered[len(ordered) // 2]


def histogram(course: Course, item: Item) -> list[int]:
    """How many enrolled students scored in each tenth of the points, the last one for full points and above."""
    found = [0] * 11
    for student in course.enrolled():
        cell = course.cell(student.id, item.id)
        if isinstance(cell, Fraction):
            found[min(10, int(10 * cell / item.points))] += 1
    return found if any(found) else []
