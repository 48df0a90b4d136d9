"""How a grade is worked out: cells to categories to a course percent to a letter, all exact.

The contract is docs/calculation.md. Sums are whole numbers (see category_work), results are Fractions;
rounding happens once, in letters.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal, NamedTuple

from vinemark.core.base.number import ZERO
from vinemark.core.course.cell import Cell, PlainCell
from vinemark.core.course.course import Course
from vinemark.core.course.recorded import PlainCells, recorded_cells
from vinemark.core.grade.category import BlanksAs, CategorySums, CategoryWork, Numbers, common_denominator, numbers_of
from vinemark.core.grade.counted import LateWork, counted_cells, late_in
from vinemark.core.grade.final import final_letter, final_percent
from vinemark.core.grade.letters import Letters, rounded_percent
from vinemark.core.grade.replaced import Replacing, replacement_works, widen
from vinemark.core.grade.requirements import NotMet, RatioOf, RequirementCheck, StudentCells
from vinemark.core.grade.weighting import Weighting, weightings_of
from vinemark.core.plan.amounts import factor, size_of
from vinemark.core.plan.plan import HUNDRED, Basis, Category, Item, Plan

ItemState = Literal["kept", "dropped_lowest", "dropped_highest", "replaced", "waiting", "exempt", "planned", "extra"]
READINGS: tuple[BlanksAs, BlanksAs, BlanksAs] = ("plan", "zero", "full")
COMPANIONS: tuple[BlanksAs, BlanksAs] = ("zero", "full")
MOST_READY = 50


@dataclass(frozen=True)
class ItemResult:
    """One item of one student: `earned` is e and `size` is m of the contract, None where not in play.

    `value` is v', in points, and `late` what late days did to it. `replaced_by` is the id of the item whose better
    score stands in.
    """

    item: Item
    cell: Cell
    state: ItemState
    earned: Fraction | None = None
    size: Fraction | None = None
    value: Fraction = ZERO
    replaced_by: str | None = None
    late: LateWork | None = None


class CategoryResult:
    """One category of one student, each figure worked out when asked for.

    `whole` is what the course is divided by: the sum of the weights in play (W), or the points
    possible; None where there is no grade yet.
    """

    def __init__(
        self, work: CategoryWork, row: "StudentRow", outcome: CategorySums, basis: Basis, whole: Fraction | None,
        weight: Fraction,
    ) -> None:  # fmt: skip
        self.category: Category = work.category
        self.weight = weight
        self._work = work
        self._row = row
        self._outcome = outcome
        self._basis = basis
        self.whole = whole

    @property
    def ratio(self) -> tuple[int, int] | None:
        """p as a numerator and a denominator, perhaps not in lowest terms; None where there is no percentage yet."""
        return self._work.ratio(self._outcome.earned, self._outcome.size) if self._outcome.size else None

    @cached_property
    def fraction(self) -> Fraction | None:
        """p (1 = 100 percent), the ceiling applied; None where the category has no percentage yet."""
        ratio = self.ratio
        return Fraction(*ratio) if ratio else None

    @property
    def by_points(self) -> bool:
        """Whether the course goes by points earned of points possible."""
        return self._basis == "points"

    @property
    def rounds(self) -> bool:
        """Whether the category's percentage is rounded by itself."""
        return self._work.round_to is not None

    @cached_property
    def unrounded(self) -> Fraction | None:
        """p before the category's own rounding; None without such a rounding, or where there is no percentage yet."""
        if self._work.round_to is None or not self._outcome.size:
            return None
        return Fraction(*self._work.unrounded(self._outcome.earned, self._outcome.size))

    @property
    def capped(self) -> bool:
        """Whether the category's ceiling took something away."""
        fraction = self.fraction if self.unrounded is None else self.unrounded
        return fraction is not None and fraction * self.size < self.earned

    @cached_property
    def weight_now(self) -> Fraction | None:
        """100 * weight / W in percentage points, an extra category's own weight; None under the points basis."""
        if self.whole is None or self._basis == "points":
            return None
        if self.category.extra:
            return self.weight
        return None if self.fraction is None else HUNDRED * self.weight / self.whole

    @cached_property
    def contributes(self) -> Fraction | None:
        """What the category adds to the course percent, in percentage points."""
        if self.whole is None:
            return None
        if self._basis == "points":
            return HUNDRED * _points_earned(self._work, self._outcome) / self.whole
        force = self.weight_now
        return None if force is None else force * (self.fraction or ZERO)

    @cached_property
    def earned(self) -> Fraction:
        """Sum of e over kept and extra items, before any ceiling."""
        return Fraction(self._outcome.earned, self._work.whole)

    @cached_property
    def size(self) -> Fraction:
        """Sum of m over kept items."""
        return Fraction(self._outcome.size, self._work.whole)

    @cached_property
    def items(self) -> tuple[ItemResult, ...]:
        """Every item with its state, in plan order."""
        return tuple(self.item_result(*marked) for marked in self.states())

    def states(self) -> Iterator[tuple[Item, Cell, ItemState]]:
        """Every item with its cell and state, in plan order, without any amounts."""
        cells, drops = self._row.cells, self._outcome.drops
        gone: dict[int, ItemState] = {one.place: "replaced" for one in self._outcome.replaced}
        gone.update(dict.fromkeys(drops.highest, "dropped_highest"))
        gone.update(dict.fromkeys(drops.lowest, "dropped_lowest"))
        for item, kind, index, blank_counts in self._work.marks:
            cell = cells.get(item.id)
            if kind == "planned":
                yield item, cell, "planned"
            elif cell is None and not blank_counts:
                yield item, cell, "waiting"
            elif isinstance(cell, str) and cell == "exempt":
                yield item, cell, "exempt"
            else:
                yield item, cell, "extra" if kind == "extra" else gone.get(index, "kept")

    def counts_as(self, item_id: str) -> PlainCell:
        """What a cell counts as (v'), whatever becomes of its item."""
        return self._row.counted.get(item_id)

    def item_result(self, item: Item, cell: Cell, state: ItemState) -> ItemResult:
        """An item with its amounts, where it is in play."""
        if state in {"planned", "exempt", "waiting"}:
            return ItemResult(item, cell, state)
        counted = self._row.counted.get(item.id)
        value = counted if isinstance(counted, Fraction) else ZERO
        late, size = self._late.get(item.id), size_of(item, self._work.split)
        if state == "replaced":
            one = next(one for one in self._outcome.replaced if one.place == self._work.indices[item.id])
            return ItemResult(item, cell, state, Fraction(one.value, one.full) * size, size, value, one.source, late)
        earned = value * factor(item, self._work.split)
        return ItemResult(item, cell, state, earned, None if state == "extra" else size, value, None, late)

    @cached_property
    def _late(self) -> Mapping[str, LateWork]:
        """What late days did to the category's scores."""
        rule = self.category.late
        return (
            late_in(self.category, rule, self._row.cells) if rule and self._row.recorded is not self._row.cells else {}
        )


@dataclass(eq=False)
class Grade:
    """One student's grade. Percents are None where there is no grade yet; the working is made when asked for.

    `uncapped` is the percent of the categories (P), before anything is added, taken or capped. `not_met_else` is
    what would not be met with blanks as 0, and with blanks in full, where there are requirements.
    """

    percent: Fraction | None
    uncapped: Fraction | None
    rounded: Fraction | None
    letter: str | None
    blanks_zero: Fraction | None
    blanks_full: Fraction | None
    work: Callable[[], tuple[CategoryResult, ...]]
    weighting: Weighting | None = None
    adjustment: Fraction = ZERO
    letter_by_percent: str | None = None
    not_met: Sequence[NotMet] = ()
    not_met_else: tuple[Sequence[NotMet], Sequence[NotMet]] = ((), ())

    @cached_property
    def categories(self) -> tuple[CategoryResult, ...]:
        """Every category with its figures, in plan order."""
        return self.work()


class StudentRow(NamedTuple):
    """A student's cells, as they are recorded and as they count, and their adjustment."""

    cells: Mapping[str, Cell]
    recorded: PlainCells
    counted: PlainCells
    adjustment: Fraction


def student_row(plan: Plan, cells: Mapping[str, Cell], adjustment: Fraction) -> StudentRow:
    """A student's cells made ready."""
    recorded = recorded_cells(plan, cells)
    return StudentRow(cells, recorded, counted_cells(plan, cells, recorded), adjustment)


class BestPercent(NamedTuple):
    """What the categories give under one way of reading blanks: P, and the place of the weighting that gave it."""

    percent: Fraction | None
    weighting: int
    ratio_of: RatioOf


class Calculator:
    """A plan on a day, made ready for many students whose scores have a common denominator."""

    def __init__(self, plan: Plan, as_of: date, denominator: int) -> None:
        self.plan = plan
        self.letters = Letters(plan)
        self.denominator = denominator
        points = plan.basis == "points"
        self.works = [
            CategoryWork(c, "by_points" if points else c.split, as_of, denominator, None if points else c.rounding)
            for c in plan.categories
        ]
        self.weightings = weightings_of(plan)
        self.replacements = replacement_works(plan, self.works)
        widen(self.replacements, self.works)
        self.checks = [RequirementCheck(plan, one, as_of) for one in plan.requirements]
        self._places = {work.category.id: place for place, work in enumerate(self.works)}

    def row(self, cells: Mapping[str, Cell], adjustment: Fraction = ZERO) -> StudentRow:
        """A student made ready."""
        return student_row(self.plan, cells, adjustment)

    def grade(self, cells: Mapping[str, Cell], adjustment: Fraction = ZERO) -> Grade:
        """One student's grade; `adjustment` in percentage points."""
        return self.grade_row(self.row(cells, adjustment))

    def grade_row(self, row: StudentRow) -> Grade:
        """The grade of a student made ready."""
        numbers = numbers_of(row.counted, self.denominator)
        before = [work.outcome(numbers) for work in self.works]
        outcomes = self._replaced(row, numbers, before, "plan")
        by_plan = self._figure(outcomes)
        if by_plan.percent is None:
            return self.made(row, (by_plan, by_plan, by_plan), outcomes)
        zero, full = (self._with_blanks(row, numbers, before, by_plan, blanks) for blanks in COMPANIONS)
        return self.made(row, (by_plan, zero, full), outcomes)

    def made(
        self, row: StudentRow, figures: tuple[BestPercent, BestPercent, BestPercent], outcomes: Sequence[CategorySums]
    ) -> Grade:
        """A grade from its figures (by the plan, blanks as 0, blanks in full), and the way to its working."""
        before, place = figures[0].percent, figures[0].weighting
        weighting = self.weightings[place]

        def work() -> tuple[CategoryResult, ...]:
            return self.results(row, outcomes, weighting)

        if before is None:
            return Grade(None, None, None, None, None, None, work, None, row.adjustment)
        unmet = [self._not_met(row, figure, blanks) for figure, blanks in zip(figures, READINGS, strict=True)]
        percent, zero, full = (
            final_percent(self.plan, figure.percent or ZERO, row.adjustment, found)
            for figure, found in zip(figures, unmet, strict=True)
        )
        rounded = rounded_percent(self.plan.rounding, percent)
        by_percent = self.letters.of(percent, rounded)
        return Grade(
            percent, before, rounded, final_letter(self.letters, by_percent, unmet[0]), zero, full, work,
            weighting, row.adjustment, by_percent, unmet[0], (unmet[1], unmet[2]),
        )  # fmt: skip

    def _not_met(self, row: StudentRow, figure: BestPercent, blanks: BlanksAs) -> Sequence[NotMet]:
        if not self.checks:
            return ()
        cells = StudentCells(row.counted, row.recorded, blanks)
        return [found for check in self.checks if (found := check.not_met(cells, figure.ratio_of))]

    def results(
        self, row: StudentRow, outcomes: Sequence[CategorySums], weighting: Weighting
    ) -> tuple[CategoryResult, ...]:
        """The working of one student: every category with its figures."""
        whole = self._whole(outcomes, weighting)
        lines = zip(self.works, outcomes, weighting.weights, strict=True)
        return tuple(CategoryResult(w, row, o, self.plan.basis, whole, weight) for w, o, weight in lines)

    def _replaced(
        self, row: StudentRow, numbers: Numbers, outcomes: Sequence[CategorySums], blanks: BlanksAs
    ) -> Sequence[CategorySums]:
        if not self.replacements:
            return outcomes
        return Replacing(self.works, row.counted, numbers, blanks, outcomes).after(self.replacements)

    def _with_blanks(
        self,
        row: StudentRow,
        numbers: Numbers,
        outcomes: Sequence[CategorySums],
        by_plan: BestPercent,
        blanks: BlanksAs,
    ) -> BestPercent:
        """The figure with every blank read one way; only categories that have a blank are worked out again."""
        if not any(o.has_blank for o in outcomes):
            return by_plan
        pairs = zip(self.works, outcomes, strict=True)
        again = [w.outcome(numbers, blanks) if o.has_blank else o for w, o in pairs]
        return self._figure(self._replaced(row, numbers, again, blanks))

    def _figure(self, outcomes: Sequence[CategorySums]) -> BestPercent:
        """The largest percent that any of the weightings gives, the plan's own first."""
        best: tuple[Fraction | None, int] = (None, 0)
        for place, weighting in enumerate(self.weightings):
            whole = self._whole(outcomes, weighting)
            percent = None if whole is None else self._percent(outcomes, whole, weighting)
            if percent is not None and (best[0] is None or percent > best[0]):
                best = percent, place
        return BestPercent(*best, lambda category: self._ratio(outcomes, category))

    def _ratio(self, outcomes: Sequence[CategorySums], category: str) -> tuple[int, int] | None:
        place = self._places[category]
        outcome = outcomes[place]
        return self.works[place].ratio(outcome.earned, outcome.size) if outcome.size else None

    def _whole(self, outcomes: Sequence[CategorySums], weighting: Weighting) -> Fraction | None:
        """W, or the points possible, over the ordinary categories that have a percentage; None for 0."""
        if self.plan.basis == "points":
            pairs = zip(self.works, outcomes, strict=True)
            return sum((Fraction(o.size, w.whole) for w, o in pairs if not w.category.extra), ZERO) or None
        there = [bool(o.size) for o in outcomes]
        return weighting.whole(there)

    def _percent(self, outcomes: Sequence[CategorySums], whole: Fraction, weighting: Weighting) -> Fraction:
        pairs = zip(self.works, outcomes, strict=True)
        if self.plan.basis == "points":
            return HUNDRED * sum((_points_earned(w, o) for w, o in pairs), ZERO) / whole
        return self._weighted_percent(outcomes, whole, weighting)

    def _weighted_percent(self, outcomes: Sequence[CategorySums], whole: Fraction, weighting: Weighting) -> Fraction:
        """100 * (sum of weight * p) / W, extra categories on top, as one fraction that is reduced at the end."""
        times = 100 * whole.denominator
        numerator, denominator = 0, 1
        for work, outcome, weight in zip(self.works, outcomes, weighting.weights, strict=True):
            if outcome.size and weight:
                part, of = work.ratio(outcome.earned, outcome.size)
                part *= weight.numerator * (whole.numerator if work.category.extra else times)
                of *= weight.denominator
                numerator = numerator * of + part * denominator
                denominator *= of
        return Fraction(numerator, denominator * whole.numerator)


class Calculators:
    """A plan on a day, made ready once for rows of any denominator."""

    def __init__(self, plan: Plan, as_of: date) -> None:
        self._plan = plan
        self._as_of = as_of
        self._items = [item for _, item in plan.items()]
        self._ready: dict[int, Calculator] = {}

    def grade(self, cells: Mapping[str, Cell], adjustment: Fraction = ZERO) -> Grade:
        """One student's grade; `adjustment` in percentage points."""
        denominator = common_denominator(self._items, [counted_cells(self._plan, cells)])
        found = self._ready.get(denominator)
        if found is None:
            if len(self._ready) >= MOST_READY:
                self._ready.clear()
            found = self._ready[denominator] = Calculator(self._plan, self._as_of, denominator)
        return found.grade(cells, adjustment)

    def grade_of_student(self, course: Course, student_id: str) -> Grade:
        """A student's grade in a course of this plan, by their own due dates where they have any."""
        if student_id in course.extended:
            return grade_of(course, student_id, self._as_of)
        return self.grade(course.scores.get(student_id, {}), course.adjustment(student_id))


def _points_earned(work: CategoryWork, outcome: CategorySums) -> Fraction:
    """A category's sum of e under the points basis, capped at its ceiling's share of its sum of m."""
    earned, cap = Fraction(outcome.earned, work.whole), work.category.cap
    return earned if cap is None else min(earned, cap / 100 * Fraction(outcome.size, work.whole))


def work_out(plan: Plan, cells: Mapping[str, Cell], as_of: date, adjustment: Fraction = ZERO) -> Grade:
    """The grade from one student's cells (by item id; absent is blank) as of a day."""
    return Calculators(plan, as_of).grade(cells, adjustment)


def grade_of(course: Course, student_id: str, as_of: date) -> Grade:
    """The grade of one student of a course."""
    plan, cells = course.plan_of(student_id), course.scores.get(student_id, {})
    return work_out(plan, cells, as_of, course.adjustment(student_id))
