"""The grades of a whole class at once: whole numbers in columns, still exact.

The rules are those of calculation.py and category_work.py; the amounts of a category are the same whole numbers
in the category's unit, laid out as an array of students by items. Everything up to a category's sums is 64-bit
integer arithmetic, after a check that no product can leave its range; percents are made of Python's own whole
numbers. Where the check fails, students are worked out one at a time.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction
from math import lcm
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vinemark.core.course.course import Cell, Course
from vinemark.core.grade.calculation import Calculator, Grade
from vinemark.core.grade.category import (
    EXEMPT,
    NOTHING,
    BlanksAs,
    CategorySums,
    CategoryWork,
    common_denominator,
)
from vinemark.core.grade.drops import Dropped, DropRule
from vinemark.core.plan.plan import Category

Ints = NDArray[np.int64]
Mask = NDArray[np.bool_]
Objects = NDArray[np.object_]
"""Python's whole numbers, which never overflow."""

BLANK = -2
LIMIT = 2**62
FEW = 3
"""Up to so many students one at a time is quicker."""


def grades_of(course: Course, as_of: date) -> dict[str, Grade]:
    """The grade of every student of a course."""
    items = [item for _, item in course.plan.items()]
    calculator = Calculator(course.plan, as_of, common_denominator(items, list(course.scores.values())))
    rows = [course.scores.get(student.id, {}) for student in course.students]
    grades = None if len(rows) <= FEW else together(calculator, rows)
    if grades is None:
        grades = [calculator.grade(row) for row in rows]
    return {student.id: grade for student, grade in zip(course.students, grades, strict=True)}


def together(calculator: Calculator, rows: Sequence[Mapping[str, Cell]]) -> list[Grade] | None:
    """The grades of all rows at once; None where a whole number could leave 64 bits."""
    columns = _columns(calculator, rows)
    if columns is None:
        return None
    parts = [CategoryColumns(work, columns, len(rows)) for work in calculator.works]
    if not all(part.fits for part in parts):
        return None
    course = CourseColumns(calculator, parts, len(rows))
    uncapped = course.percents("plan")
    percents = [calculator.capped(value) for value in uncapped]
    zero, full = (course.companions(percents, blanks) for blanks in ("zero", "full"))
    outcomes = course.outcomes()
    lines = zip(rows, uncapped, percents, zero, full, outcomes, strict=True)
    return [calculator.made(*line) for line in lines]


def _columns(calculator: Calculator, rows: Sequence[Mapping[str, Cell]]) -> dict[str, Ints] | None:
    """Each counting item's cells in units of 1 / D, BLANK and EXEMPT apart."""
    ids = [item.id for work in calculator.works for item in work.category.counting]
    denominator = calculator.denominator
    cells = [row.get(item) for row in rows for item in ids]
    numbers = [
        BLANK
        if cell is None
        else (EXEMPT if cell == "exempt" else 0)
        if isinstance(cell, str)
        else cell.numerator * (denominator // cell.denominator)
        for cell in cells
    ]
    if max(numbers, default=0) >= LIMIT:
        return None
    table = np.array(numbers, dtype=np.int64).reshape(len(rows), len(ids))
    return {item: table[:, index] for index, item in enumerate(ids)}


class Sums(NamedTuple):
    """For each student the sum of e (extra items included) and of m over what is kept, and which items were dropped
    as highest and as lowest (None where nothing can be)."""

    earned: Ints
    size: Ints
    top: Mask | None = None
    low: Mask | None = None


class CategoryColumns:
    """One category of the whole class."""

    def __init__(self, work: CategoryWork, columns: Mapping[str, Ints], count: int) -> None:
        self.work = work
        self._cells = _stack([columns[item] for item in work.ids], count)
        self._extra = _stack([columns[item] for item, _, _ in work.extra], count)
        self.has_blank: Mask = (self._cells == BLANK).any(axis=1) | (self._extra == BLANK).any(axis=1)
        self.fits = self._all_products_fit()
        if self.fits:
            self._factors, self._sizes, self._full = (
                np.array(numbers, dtype=np.int64) for numbers in (work.factors, work.sizes, work.full)
            )
            self._ratio = np.array([lcm(*work.full) // full for full in work.full], dtype=np.int64)

    def _all_products_fit(self) -> bool:
        """Whether every product below stays in 64 bits: the largest is e * sum of m, beside sum of e * m."""
        work = self.work
        most = max(
            [
                int(self._cells.max(initial=1)),
                int(self._extra.max(initial=1)),
                *work.full,
                *(n for _, _, n in work.extra),
            ]
        )
        each = max([1, *work.factors, *(times for _, times, _ in work.extra)])
        earned = most * each * (len(work.ids) + len(work.extra) + 1)
        cap = work.category.cap or Fraction(1)
        capped = max(100 * cap.denominator, cap.numerator)
        largest = max(2 * earned * (sum(work.sizes) + 1), earned * capped, (sum(work.sizes) + 1) * capped)
        return max(largest, most * lcm(*work.full)) < LIMIT

    def sums(self, blanks: BlanksAs, rows: Ints) -> Sums:
        """What is kept of some students, given by their places."""
        cells = self._cells[rows]
        values, there = self._read(cells, blanks)
        extra = self._extra_earned(self._extra[rows], blanks)
        earned = values * self._factors
        size = there * self._sizes
        rule = self.work.rule
        if rule is None:
            return Sums(earned.sum(axis=1) + extra, size.sum(axis=1))
        top, low = Drops(rule, earned, size, there, self._droppable(), values * self._ratio).gone(extra)
        kept = ~(top | low)
        return Sums((earned * kept).sum(axis=1) + extra, (size * kept).sum(axis=1), top, low)

    def outcomes(self, sums: Sums) -> list[CategorySums]:
        """What each student comes to, as working them out one at a time gives it."""
        count = len(sums.earned)
        top, low = _places(sums.top, count), _places(sums.low, count)
        drops = [Dropped(*pair) if pair[0] or pair[1] else NOTHING for pair in zip(top, low, strict=True)]
        lines = zip(sums.earned.tolist(), sums.size.tolist(), drops, self.has_blank.tolist(), strict=True)
        return [CategorySums(*line) for line in lines]

    def _read(self, cells: Ints, blanks: BlanksAs) -> tuple[Ints, Mask]:
        """Values with blanks as they count, and which cells are in play."""
        blank = cells == BLANK
        values = np.maximum(cells, 0)
        if blanks == "full":
            values = np.where(blank, self._full, values)
        counts = np.array(self.work.blank_counts, dtype=np.bool_) if blanks == "plan" else np.True_
        return values, (cells != EXEMPT) & (~blank | counts)

    def _extra_earned(self, cells: Ints, blanks: BlanksAs) -> Ints:
        values = np.maximum(cells, 0)
        if blanks == "full" and self.work.extra:
            values = np.where(
                cells == BLANK, np.array([full for _, _, full in self.work.extra], dtype=np.int64), values
            )
        times = np.array([times for _, times, _ in self.work.extra], dtype=np.int64)
        total: Ints = (values * times).sum(axis=1)
        return total

    def _droppable(self) -> Mask:
        free = np.zeros(len(self.work.ids), dtype=np.bool_)
        free[self.work.free] = True
        return free

    def ratios(self, sums: Sums) -> tuple[Ints, Ints]:
        """p as numerators and denominators with the ceiling applied; 0 / 1 where there is no percentage."""
        there = sums.size > 0
        part, of = np.where(there, sums.earned, 0), np.where(there, sums.size, 1)
        cap = self.work.category.cap
        if cap is None:
            return part, of
        over = there & (part * (100 * cap.denominator) > cap.numerator * of)
        return np.where(over, cap.numerator, part), np.where(over, 100 * cap.denominator, of)


def _places(mask: Mask | None, count: int) -> list[list[int]]:
    """The places that a mask marks in each row."""
    found: list[list[int]] = [[] for _ in range(count)]
    if mask is not None:
        for row, place in zip(*(part.tolist() for part in np.nonzero(mask)), strict=True):
            found[row].append(place)
    return found


def _stack(columns: Sequence[Ints], count: int) -> Ints:
    return np.stack(columns, axis=1) if columns else np.empty((count, 0), dtype=np.int64)


class Drops(NamedTuple):
    """What drops.py says for one student, for many: `ratios` order items by v / points."""

    rule: DropRule
    earned: Ints
    size: Ints
    there: Mask
    droppable: Mask
    ratios: Ints

    def gone(self, extra: Ints) -> tuple[Mask, Mask]:
        """Which items are dropped as highest, and which as lowest."""
        in_play = self.there.sum(axis=1)
        free = self.there & self.droppable
        most = np.minimum(np.minimum(self.rule.highest, free.sum(axis=1)), in_play - 1)
        top = _smallest(-self.ratios, free, most) if self.rule.highest else np.zeros_like(free)
        free = free & ~top
        lowest = self.rule.lowest if self.rule.keep_best is None else in_play - self.rule.keep_best
        count = np.minimum(np.minimum(lowest, free.sum(axis=1)), in_play - 1 - top.sum(axis=1))
        if self.rule.by_percent:
            return top, _smallest(self.ratios, free, count)
        if self.rule.equal_sizes:
            return top, _smallest(self.earned, free, count)
        return top, self._helps_most(free, top, count, extra)

    def _helps_most(self, free: Mask, top: Mask, count: Ints, extra: Ints) -> Mask:
        """The search of drops.py, a step for all at once until it stands still for everyone."""
        earned, size = self.earned * self.there * ~top, self.size * ~top
        all_earned, all_size = earned.sum(axis=1) + extra, size.sum(axis=1)
        part, of = all_earned, all_size
        while True:
            chosen = _smallest(earned * of[:, None] - part[:, None] * size, free, count)
            next_part = all_earned - (earned * chosen).sum(axis=1)
            next_of = all_size - (size * chosen).sum(axis=1)
            if np.array_equal(next_part * of, part * next_of):
                return chosen
            part, of = next_part, next_of


def _smallest(keys: Ints, among: Mask, count: Ints) -> Mask:
    """The `count` smallest of some items of each student, ties to the item that stands first."""
    order = np.argsort(np.where(among, keys, np.iinfo(np.int64).max), axis=1, kind="stable")
    chosen = np.zeros(among.shape, dtype=np.bool_)
    np.put_along_axis(chosen, order, np.arange(among.shape[1]) < count[:, None], axis=1)
    return chosen


class CourseColumns:
    """All categories of the whole class, put together into percents."""

    def __init__(self, calculator: Calculator, parts: Sequence[CategoryColumns], count: int) -> None:
        self._basis = calculator.plan.basis
        self._capped = calculator.capped
        self._parts = parts
        self._everyone = np.arange(count)
        self._by_plan = [part.sums("plan", self._everyone) for part in parts]

    def outcomes(self) -> list[tuple[CategorySums, ...]]:
        """Everyone's categories by the plan's rules."""
        parts = [part.outcomes(sums) for part, sums in zip(self._parts, self._by_plan, strict=True)]
        return list(zip(*parts, strict=True)) if parts else [()] * len(self._everyone)

    def percents(self, blanks: BlanksAs) -> list[Fraction | None]:
        """Everyone's percent before the course's ceiling; None where there is no grade yet."""
        sums = self._by_plan if blanks == "plan" else [self._sums(n, blanks) for n in range(len(self._parts))]
        parts, of = (self._points if self._basis == "points" else self._weighted)(sums)
        pairs = zip(parts.tolist(), of.tolist(), strict=True)
        return [Fraction(part, whole) if whole else None for part, whole in pairs]

    def companions(self, percents: Sequence[Fraction | None], blanks: BlanksAs) -> list[Fraction | None]:
        """Everyone's percent with every blank read one way, under the ceiling; none where there is no grade yet."""
        found = zip(percents, self.percents(blanks), strict=True)
        return [None if percent is None else self._capped(value) for percent, value in found]

    def _sums(self, index: int, blanks: BlanksAs) -> Sums:
        """One category's sums with blanks read another way; only those with a blank are worked out again."""
        part, by_plan = self._parts[index], self._by_plan[index]
        rows = np.flatnonzero(part.has_blank)
        again = part.sums(blanks, rows)
        earned, size = by_plan.earned.copy(), by_plan.size.copy()
        earned[rows], size[rows] = again.earned, again.size
        return Sums(earned, size)

    def _weighted(self, sums: Sequence[Sums]) -> tuple[Objects, Objects]:
        """100 * (sum of weight * p) / W, extra categories on top; denominator 0 where W is 0."""
        scale = lcm(*(_weight(part.work.category).denominator for part in self._parts))
        zero = np.zeros(len(self._everyone), dtype=np.object_)
        top, bottom, whole, extra, extra_of = zero, zero + 1, zero, zero, zero + scale
        for part, found in zip(self._parts, sums, strict=True):
            weight = int(_weight(part.work.category) * scale)
            ratio = part.ratios(found)
            p, of = ratio[0].astype(np.object_), ratio[1].astype(np.object_)
            if part.work.category.extra:
                extra, extra_of = extra * of + weight * p * (extra_of // scale), extra_of * of
            elif weight:
                top, bottom = top * of + weight * p * bottom, bottom * of
                whole = whole + weight * (found.size > 0).astype(np.object_)
        return 100 * top * extra_of + extra * bottom * whole, bottom * whole * extra_of

    def _points(self, sums: Sequence[Sums]) -> tuple[Objects, Objects]:
        """100 * (points earned) / (points possible), each category's ceiling on its sum."""
        unit = lcm(*(part.work.unit for part in self._parts))
        hundred = 100 * lcm(*(_cap_denominator(part.work.category) for part in self._parts))
        earned = np.zeros(len(self._everyone), dtype=np.object_)
        possible = earned
        for part, found in zip(self._parts, sums, strict=True):
            times = unit // part.work.unit
            e, m = found.earned.astype(np.object_) * times * hundred, found.size.astype(np.object_) * times
            cap = part.work.category.cap
            earned = earned + (e if cap is None else np.minimum(e, m * int(cap * hundred / 100)))
            if not part.work.category.extra:
                possible = possible + m
        return 100 * earned, possible * hundred


def _weight(category: Category) -> Fraction:
    return category.weight or Fraction(0)


def _cap_denominator(category: Category) -> int:
    return category.cap.denominator if category.cap is not None else 1
