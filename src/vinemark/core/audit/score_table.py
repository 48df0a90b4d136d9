"""The scores of a class as one table of whole numbers, for checks that look at all of it at once."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import lcm
from typing import Final

import numpy as np

from vinemark.core.course.cell import PlainCell
from vinemark.core.course.course import NO_VALUES, Course, Student
from vinemark.core.course.recorded import PlainCells
from vinemark.core.grade.class_columns import Ints, Mask
from vinemark.core.plan.plan import Category, Item, Plan

IS_BLANK: Final = -1
IS_EXEMPT: Final = -2
IS_MISSING: Final = -3
LARGEST_UNIT: Final = 1_000_000
"""Beyond it a fraction is rounded to a millionth."""
_WORDS: Final = {None: IS_BLANK, "exempt": IS_EXEMPT, "missing": IS_MISSING}


@dataclass(frozen=True, eq=False)
class ItemColumn:
    """A counting item with its category; `regular` says whether it is a regular one of an ordinary category."""

    category: Category
    item: Item
    regular: bool


class ScoreTable:
    """Enrolled students by counting items: fractions of the points in whole numbers of 1 / `unit`, and below 0
    IS_BLANK, IS_EXEMPT and IS_MISSING."""

    def __init__(self, students: Sequence[Student], columns: Sequence[ItemColumn], unit: int, cells: Ints) -> None:
        self.students = students
        self.columns = columns
        self.unit = unit
        self.cells = cells

    @property
    def numbers(self) -> Mask:
        """Where a number stands."""
        return self.cells >= 0

    @cached_property
    def regular(self) -> Sequence[int]:
        """The places of regular items of ordinary categories."""
        return [place for place, column in enumerate(self.columns) if column.regular]

    @cached_property
    def _rows(self) -> Mapping[str, int]:
        return {student.id: row for row, student in enumerate(self.students)}

    def others(self, student_id: str, item_id: str) -> tuple[Fraction, Fraction] | None:
        """The lowest and the highest part of the points that a student has on other regular items; None without any."""
        places = [place for place in self.regular if self.columns[place].item.id != item_id]
        row = self.cells[self._rows[student_id], places]
        there = row[row >= 0]
        return (Fraction(int(there.min()), self.unit), Fraction(int(there.max()), self.unit)) if len(there) else None

    def count(self, kind: int) -> list[int]:
        """How many cells of each column hold IS_BLANK, IS_EXEMPT, IS_MISSING or 0."""
        return [int(number) for number in (self.cells == kind).sum(axis=0)]

    def after(self, course: Course, students: Collection[str]) -> "ScoreTable":
        """The table once the rows of some students changed."""
        changed = [place for place, student in enumerate(self.students) if student.id in students]
        rows = [course.values.get(self.students[place].id, NO_VALUES) for place in changed]
        if self.unit != LARGEST_UNIT and lcm(self.unit, _unit_of(self.columns, rows)) != self.unit:
            return score_table(course)
        cells = self.cells.copy()
        if changed:
            cells[changed] = _cells(self.columns, rows, self.unit)
        return ScoreTable(self.students, self.columns, self.unit, cells)


def score_table(course: Course) -> ScoreTable:
    """The table of a course."""
    students, columns = course.enrolled(), counting_columns(course.plan)
    rows = [course.values.get(student.id, NO_VALUES) for student in students]
    unit = min(LARGEST_UNIT, _unit_of(columns, rows))
    return ScoreTable(students, columns, unit, _cells(columns, rows, unit))


def counting_columns(plan: Plan) -> list[ItemColumn]:
    """Every counting item of a plan."""
    return [
        ItemColumn(category, item, not category.extra and not item.extra)
        for category in plan.categories for item in category.counting
    ]  # fmt: skip


def _unit_of(columns: Sequence[ItemColumn], rows: Sequence[PlainCells]) -> int:
    """The denominator that all fractions have in common."""
    found: set[int] = {1}
    for column in columns:
        points, item = column.item.points, column.item.id
        below = {cell.denominator for row in rows if type(cell := row.get(item)) is Fraction}
        found |= {denominator * points.numerator for denominator in below}
    return lcm(*found)


def _cells(columns: Sequence[ItemColumn], rows: Sequence[PlainCells], unit: int) -> Ints:
    found = np.empty((len(rows), len(columns)), dtype=np.int64)
    for place, column in enumerate(columns):
        numerator, denominator = column.item.points.denominator * unit, column.item.points.numerator
        item = column.item.id
        found[:, place] = [_whole(row.get(item), numerator, denominator) for row in rows]
    return found


def _whole(cell: PlainCell, numerator: int, denominator: int) -> int:
    """A cell in the table's unit, rounded where that cannot hold it; what is far beyond all scores stays within 64
    bits."""
    if type(cell) is not Fraction:
        return _WORDS[cell]  # type: ignore[index]
    return min((2 * cell.numerator * numerator // (cell.denominator * denominator) + 1) // 2, 1000 * LARGEST_UNIT)
