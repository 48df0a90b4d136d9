"""The grades of a whole class at once: whole numbers in columns, still exact.

The rules are those of calculation.py and category_work.py; the amounts of a category are the same whole numbers
in the category's unit, laid out as an array of students by items. Everything up to a category's sums is 64-bit
integer arithmetic, after a check that no product can leave its range; percents are made of Python's own whole
numbers. Where the check fails, students are worked out one at a time.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction
from functools import partial
from math import lcm
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vinemark.core.course.course import NO_CELLS, Course
from vinemark.core.grade.calculation import READINGS, BestPercent, Calculator, Grade, StudentRow, grade_of, student_row
from vinemark.core.grade.category import (
    EXEMPT,
    NOTHING,
    BlanksAs,
    CategorySums,
    CategoryWork,
    Replaced,
    common_denominator,
    rounded_ratio,
)
from vinemark.core.grade.drops import Dropped, DropRule
from vinemark.core.grade.replaced import ReplacementWork
from vinemark.core.grade.weighting import Weighting
from vinemark.core.plan.plan import Category

Ints = NDArray[np.int64]
Mask = NDArray[np.bool_]
Objects = NDArray[np.object_]
"""Python's whole numbers, which never overflow."""

BLANK = -2
MISSING = -3
LIMIT = 2**62
FEW = 3
"""Up to so many students one at a time is quicker."""


def grades_of(course: Course, as_of: date) -> dict[str, Grade]:
    """The grade of every student of a course."""
    plan, students = course.plan, course.students
    items = [item for _, item in plan.items()]
    rows = [
        student_row(plan, course.scores.get(student.id, NO_CELLS), course.adjustment(student.id))
        for student in students
    ]
    calculator = Calculator(plan, as_of, common_denominator(items, [row.counted for row in rows]))
    grades = None if len(rows) <= FEW else together(calculator, rows)
    if grades is None:
        grades = [calculator.grade_row(row) for row in rows]
    found = {student.id: grade for student, grade in zip(students, grades, strict=True)}
    found.update({student: grade_of(course, student, as_of) for student in course.extended if student in found})
    return found


def together(calculator: Calculator, rows: Sequence[StudentRow]) -> list[Grade] | None:
    """The grades of all rows at once; None where a whole number could leave 64 bits."""
    columns = _columns(calculator, rows)
    if columns is None:
        return None
    parts = [CategoryColumns(work, columns, len(rows)) for work in calculator.works]
    if not all(part.fits for part in parts) or not replacements_fit(calculator, parts):
        return None
    course = CourseColumns(calculator, parts, len(rows))
    readings = [course.reading(blanks) for blanks in READINGS]
    figures = zip(*(reading.figures(bool(calculator.checks)) for reading in readings), strict=True)
    return [
        calculator.made(row, (by_plan, zero, full), outcomes)
        for row, (by_plan, zero, full), outcomes in zip(rows, figures, course.outcomes(readings[0]), strict=True)
    ]


def _columns(calculator: Calculator, rows: Sequence[StudentRow]) -> dict[str, Ints] | None:
    """Each counting item's cells in units of 1 / D, BLANK, EXEMPT and MISSING apart."""
    ids = [item.id for work in calculator.works for item in work.category.counting]
    denominator = calculator.denominator
    cells = [row.counted.get(item) for row in rows for item in ids]
    numbers = [
        BLANK
        if cell is None
        else (EXEMPT if cell == "exempt" else MISSING)
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

    def read(self, blanks: BlanksAs) -> "ValueColumns":
        """Everyone's values with blanks as they count, which are in play, and which are numbers."""
        values, there = self._read(self._cells, blanks)
        numbers = self._cells >= 0
        return ValueColumns(values, there, numbers | (self._cells == BLANK) if blanks == "full" else numbers)

    def in_order(self, values: Ints) -> Ints:
        """What orders items by v / points."""
        return values * self._ratio

    @property
    def most(self) -> int:
        """The largest number that any cell can come to."""
        work, least = self.work, 1
        cells = [int(self._cells.max(initial=least)), int(self._extra.max(initial=least))]
        return max([*cells, *work.full, *(n for _, _, n in work.extra)])

    def earned_bound(self, most: int) -> int:
        """No sum of e is above it where no number is above `most`."""
        work = self.work
        each = max([1, *work.factors, *(times for _, times, _ in work.extra)])
        return most * each * (len(work.ids) + len(work.extra) + 1)

    @property
    def capped_by(self) -> int:
        """What the ceiling multiplies sums with."""
        cap = self.work.category.cap or Fraction(1)
        return max(100 * cap.denominator, cap.numerator)

    def _all_products_fit(self) -> bool:
        """Whether every product below stays in 64 bits: the largest is e * sum of m, beside sum of e * m."""
        work, most, sizes = self.work, self.most, sum(self.work.sizes) + 1
        earned, capped = self.earned_bound(most), self.capped_by
        largest = max(2 * earned * sizes, earned * capped, sizes * capped)
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

    def outcomes(self, sums: Sums, moves: "ReplacedColumns" = ()) -> list[CategorySums]:
        """What each student comes to, as working them out one at a time gives it."""
        count = len(sums.earned)
        top, low = _places(sums.top, count), _places(sums.low, count)
        drops = [Dropped(*pair) if pair[0] or pair[1] else NOTHING for pair in zip(top, low, strict=True)]
        replaced = _replaced_rows(moves, count)
        lines = zip(sums.earned.tolist(), sums.size.tolist(), drops, self.has_blank.tolist(), replaced, strict=True)
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

    def ratios(self, sums: Sums) -> tuple[Objects, Objects]:
        """p as numerators and denominators, ceiling applied, then rounded; 0 / 1 where there is no percentage."""
        there = sums.size > 0
        part, of = np.where(there, sums.earned, 0), np.where(there, sums.size, 1)
        cap, to = self.work.category.cap, self.work.round_to
        if cap is not None:
            over = there & (part * (100 * cap.denominator) > cap.numerator * of)
            part, of = np.where(over, cap.numerator, part), np.where(over, 100 * cap.denominator, of)
        if to is None:
            return part.astype(np.object_), of.astype(np.object_)
        pairs = [rounded_ratio(p, q, to) for p, q in zip(part.tolist(), of.tolist(), strict=True)]
        return np.array([p for p, _ in pairs], dtype=np.object_), np.array([q for _, q in pairs], dtype=np.object_)


class ValueColumns(NamedTuple):
    """A category's cells under one way of reading blanks."""

    values: Ints
    there: Mask
    numbers: Mask


ReplacedColumns = Sequence[tuple[ReplacementWork, Mask, Ints]]
"""For each rule which items of each student it replaced, and the value of its source."""
NOTHING_REPLACED: tuple[Replaced, ...] = ()


def _replaced_rows(moves: ReplacedColumns, count: int) -> list[tuple[Replaced, ...]]:
    """For each student what was replaced, in plan order."""
    found: list[list[Replaced]] = [[] for _ in range(count)] if moves else []
    for rule, chosen, value in moves:
        for row, place in zip(*(part.tolist() for part in np.nonzero(chosen)), strict=True):
            found[row].append(Replaced(place, int(value[row]), rule.source_full, rule.source))
    return [tuple(sorted(row)) for row in found] if moves else [NOTHING_REPLACED] * count


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


def replacements_fit(calculator: Calculator, parts: Sequence[CategoryColumns]) -> bool:
    """Whether every product of the replacements stays in 64 bits."""
    if not calculator.replacements:
        return True
    most = max(part.most for part in parts)
    full = max(rule.source_full for rule in calculator.replacements)
    return all(
        max(part.earned_bound(most), sum(part.work.sizes) + 1) * part.work.widened * part.capped_by < LIMIT
        and most * max([full, *part.work.full]) < LIMIT
        for part in parts
    )


class CourseColumns:
    """All categories of the whole class, put together into percents."""

    def __init__(self, calculator: Calculator, parts: Sequence[CategoryColumns], count: int) -> None:
        self._calculator = calculator
        self._parts = parts
        self._everyone = np.arange(count)
        self._by_plan = [part.sums("plan", self._everyone) for part in parts]

    def outcomes(self, by_plan: "ClassReading") -> list[tuple[CategorySums, ...]]:
        """Everyone's categories by the plan's rules."""
        found = zip(self._parts, by_plan.sums, by_plan.replaced, strict=True)
        parts = [part.outcomes(sums, replaced) for part, sums, replaced in found]
        return list(zip(*parts, strict=True)) if parts else [()] * len(self._everyone)

    def reading(self, blanks: BlanksAs) -> "ClassReading":
        """Everyone's percent with blanks read one way: the largest that any of the weightings gives."""
        sums = self._by_plan if blanks == "plan" else [self._sums(n, blanks) for n in range(len(self._parts))]
        rules = self._calculator.replacements
        replaced: Sequence[ReplacedColumns] = [()] * len(self._parts)
        if rules:
            sums, replaced = ClassReplacing(self._parts, sums, blanks).after(rules)
        reading = ClassReading(self._parts, sums, replaced)
        weightings = self._calculator.weightings
        if self._calculator.plan.basis == "points":
            reading.take(0, *self._points(sums))
        else:
            for place, weighting in enumerate(weightings):
                reading.take(place, *self._weighted(reading, weighting))
        return reading

    def _sums(self, index: int, blanks: BlanksAs) -> Sums:
        """One category's sums with blanks read another way; only those with a blank are worked out again."""
        part, by_plan = self._parts[index], self._by_plan[index]
        rows = np.flatnonzero(part.has_blank)
        again = part.sums(blanks, rows)
        earned, size = by_plan.earned.copy(), by_plan.size.copy()
        earned[rows], size[rows] = again.earned, again.size
        if by_plan.top is None or by_plan.low is None:
            return Sums(earned, size)
        top, low = by_plan.top.copy(), by_plan.low.copy()
        top[rows], low[rows] = again.top, again.low
        return Sums(earned, size, top, low)

    def _weighted(self, reading: "ClassReading", weighting: Weighting) -> tuple[Objects, Objects]:
        """100 * (sum of weight * p) / W, extra categories on top; denominator 0 where W is 0."""
        scale = lcm(*(weight.denominator for weight in weighting.weights))
        zero = np.zeros(len(self._everyone), dtype=np.object_)
        top, bottom, whole, extra, extra_of = zero, zero + 1, zero, zero, zero + scale
        lines = zip(self._parts, reading.sums, reading.ratios, weighting.weights, strict=True)
        for part, found, (p, of), exact in lines:
            weight = int(exact * scale)
            if part.work.category.extra:
                extra, extra_of = extra * of + weight * p * (extra_of // scale), extra_of * of
            elif weight:
                top, bottom = top * of + weight * p * bottom, bottom * of
                whole = whole + weight * (found.size > 0).astype(np.object_)
        return 100 * top * extra_of + extra * bottom * whole, bottom * whole * extra_of

    def _points(self, sums: Sequence[Sums]) -> tuple[Objects, Objects]:
        """100 * (points earned) / (points possible), each category's ceiling on its sum."""
        unit = lcm(*(part.work.whole for part in self._parts))
        hundred = 100 * lcm(*(_cap_denominator(part.work.category) for part in self._parts))
        earned = np.zeros(len(self._everyone), dtype=np.object_)
        possible = earned
        for part, found in zip(self._parts, sums, strict=True):
            times = unit // part.work.whole
            e, m = found.earned.astype(np.object_) * times * hundred, found.size.astype(np.object_) * times
            cap = part.work.category.cap
            earned = earned + (e if cap is None else np.minimum(e, m * int(cap * hundred / 100)))
            if not part.work.category.extra:
                possible = possible + m
        return 100 * earned, possible * hundred


class ClassReading:
    """What the categories give everyone under one way of reading blanks."""

    def __init__(
        self, parts: Sequence[CategoryColumns], sums: Sequence[Sums], replaced: Sequence[ReplacedColumns]
    ) -> None:
        self.sums = sums
        self.replaced = replaced
        self._places = {part.work.category.id: place for place, part in enumerate(parts)}
        self.ratios = [part.ratios(found) for part, found in zip(parts, sums, strict=True)]
        self._percents: list[Fraction | None] = []
        self._weightings: list[int] = []

    def take(self, weighting: int, parts: Objects, of: Objects) -> None:
        """The percents of one weighting; the larger stays, and of equal ones the first."""
        pairs = zip(parts.tolist(), of.tolist(), strict=True)
        percents = [Fraction(part, whole) if whole else None for part, whole in pairs]
        if not weighting:
            self._percents, self._weightings = percents, [0] * len(percents)
            return
        for index, (percent, best) in enumerate(zip(percents, self._percents, strict=True)):
            if percent is not None and (best is None or percent > best):
                self._percents[index], self._weightings[index] = percent, weighting

    def figures(self, with_ratios: bool) -> list[BestPercent]:
        """Everyone's figure, with the categories' percentages where requirements ask for them."""
        pairs = zip(self._percents, self._weightings, strict=True)
        if not with_ratios:
            return [BestPercent(*pair, _no_ratio) for pair in pairs]
        return [BestPercent(*pair, partial(self._ratio, index)) for index, pair in enumerate(pairs)]

    def _ratio(self, index: int, category: str) -> tuple[int, int] | None:
        place = self._places[category]
        if not self.sums[place].size[index]:
            return None
        part, of = self.ratios[place]
        return part[index], of[index]


def _no_ratio(_: str) -> None:
    return None


class ClassReplacing:
    """What replaced.py does for one student, for many: after the drops, rule by rule."""

    def __init__(self, parts: Sequence[CategoryColumns], sums: Sequence[Sums], blanks: BlanksAs) -> None:
        self._parts = parts
        self._sums = sums
        self._read = [part.read(blanks) for part in parts]
        self._done = [np.zeros(read.there.shape, dtype=np.bool_) for read in self._read]
        self._moves: list[list[tuple[ReplacementWork, Mask, Ints]]] = [[] for _ in parts]

    def after(self, rules: Sequence[ReplacementWork]) -> tuple[list[Sums], list[ReplacedColumns]]:
        """The sums once all rules are carried out, in the widened units, and what was replaced by what."""
        for rule in rules:
            self._carry_out(rule)
        return [self._summed(place) for place in range(len(self._parts))], [tuple(moves) for moves in self._moves]

    def _carry_out(self, rule: ReplacementWork) -> None:
        source, into, work = self._read[rule.source_category], self._read[rule.into], self._parts[rule.into].work
        value = np.where(source.there[:, rule.source_index], source.values[:, rule.source_index], 0)
        weak = into.there & ~self._done[rule.into]
        for gone in (self._sums[rule.into].top, self._sums[rule.into].low):
            weak = weak if gone is None else weak & ~gone
        if rule.into == rule.source_category:
            weak[:, rule.source_index] = False
        weak &= into.values * rule.source_full < value[:, None] * np.array(work.full, dtype=np.int64)
        if not rule.missed:
            weak &= into.numbers
        chosen = _smallest(self._parts[rule.into].in_order(into.values), weak, np.minimum(rule.most, weak.sum(axis=1)))
        self._done[rule.into] |= chosen
        self._moves[rule.into].append((rule, chosen, value))

    def _summed(self, place: int) -> Sums:
        sums, work, wide = self._sums[place], self._parts[place].work, self._parts[place].work.widened
        if wide == 1 and not self._moves[place]:
            return sums
        earned = sums.earned * wide
        factors, sizes = np.array(work.factors, dtype=np.int64), np.array(work.sizes, dtype=np.int64)
        for rule, chosen, value in self._moves[place]:
            new = value[:, None] * (sizes * wide // rule.source_full)
            earned = earned + ((new - self._read[place].values * factors * wide) * chosen).sum(axis=1)
        return Sums(earned, sums.size * wide, sums.top, sums.low)


def _cap_denominator(category: Category) -> int:
    return category.cap.denominator if category.cap is not None else 1
