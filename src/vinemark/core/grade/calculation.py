"""How a grade is worked out: cells to categories to a course percent to a letter, all exact.

The contract is docs/calculation.md. Sums are whole numbers (see category_work), results are Fractions;
rounding happens once, in letters.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal

from vinemark.core.course.course import Cell, Course
from vinemark.core.grade.category import BlanksAs, CategorySums, CategoryWork, Numbers, common_denominator, numbers_of
from vinemark.core.grade.letters import Letters, rounded_percent
from vinemark.core.plan.amounts import factor, size_of
from vinemark.core.plan.plan import HUNDRED, Basis, Category, Item, Plan

ItemState = Literal["kept", "dropped_lowest", "dropped_highest", "waiting", "exempt", "planned", "extra"]
ZERO = Fraction(0)
MOST_READY = 50


@dataclass(frozen=True)
class ItemResult:
    """One item of one student: `earned` is e and `size` is m of the contract, None where not in play."""

    item: Item
    cell: Cell
    state: ItemState
    earned: Fraction | None = None
    size: Fraction | None = None


class CategoryResult:
    """One category of one student, each figure worked out when asked for.

    `whole` is what the course is divided by: the sum of the weights in play (W), or the points
    possible; None where there is no grade yet.
    """

    def __init__(
        self, work: CategoryWork, cells: Mapping[str, Cell], outcome: CategorySums, basis: Basis, whole: Fraction | None
    ) -> None:
        self.category: Category = work.category
        self._work = work
        self._cells = cells
        self._outcome = outcome
        self._basis = basis
        self.whole = whole

    @property
    def ratio(self) -> tuple[int, int] | None:
        """p as a numerator and a denominator, perhaps not in lowest terms; None where there is no percentage yet."""
        return self._outcome.ratio(self.category) if self._outcome.size else None

    @cached_property
    def fraction(self) -> Fraction | None:
        """p (1 = 100 percent), the ceiling applied; None where the category has no percentage yet."""
        ratio = self.ratio
        return Fraction(*ratio) if ratio else None

    @property
    def capped(self) -> bool:
        """Whether the category's ceiling took something away."""
        return self.fraction is not None and self.fraction * self.size < self.earned

    @cached_property
    def weight_now(self) -> Fraction | None:
        """100 * weight / W in percentage points, an extra category's own weight; None under the points basis."""
        if self.whole is None or self._basis == "points":
            return None
        if self.category.extra:
            return _weight(self.category)
        return None if self.fraction is None else HUNDRED * _weight(self.category) / self.whole

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
        return Fraction(self._outcome.earned, self._work.unit)

    @cached_property
    def size(self) -> Fraction:
        """Sum of m over kept items."""
        return Fraction(self._outcome.size, self._work.unit)

    @cached_property
    def items(self) -> tuple[ItemResult, ...]:
        """Every item with its state, in plan order."""
        return tuple(self.item_result(*marked) for marked in self.states())

    def states(self) -> Iterator[tuple[Item, Cell, ItemState]]:
        """Every item with its cell and state, in plan order, without any amounts."""
        cells, drops = self._cells, self._outcome.drops
        gone: dict[int, ItemState] = dict.fromkeys(drops.highest, "dropped_highest")
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

    def item_result(self, item: Item, cell: Cell, state: ItemState) -> ItemResult:
        """An item with its amounts, where it is in play."""
        if state in {"planned", "exempt", "waiting"}:
            return ItemResult(item, cell, state)
        earned = (cell if isinstance(cell, Fraction) else ZERO) * factor(item, self._work.split)
        return ItemResult(item, cell, state, earned, None if state == "extra" else size_of(item, self._work.split))


@dataclass(eq=False)
class Grade:
    """One student's grade. Percents are None where there is no grade yet; the working is made when asked for."""

    percent: Fraction | None
    uncapped: Fraction | None
    rounded: Fraction | None
    letter: str | None
    blanks_zero: Fraction | None
    blanks_full: Fraction | None
    work: Callable[[], tuple[CategoryResult, ...]]

    @cached_property
    def categories(self) -> tuple[CategoryResult, ...]:
        """Every category with its figures, in plan order."""
        return self.work()


class Calculator:
    """A plan on a day, made ready for many students whose scores have a common denominator."""

    def __init__(self, plan: Plan, as_of: date, denominator: int) -> None:
        self.plan = plan
        self.letters = Letters(plan)
        self.denominator = denominator
        ordinary = [c for c in plan.categories if not c.extra]
        self._ordinary = len(ordinary)
        self._all_weights = sum((_weight(c) for c in ordinary), ZERO)
        points = plan.basis == "points"
        self.works = [CategoryWork(c, "by_points" if points else c.split, as_of, denominator) for c in plan.categories]

    def grade(self, cells: Mapping[str, Cell]) -> Grade:
        """One student's grade."""
        numbers = numbers_of(cells, self.denominator)
        outcomes = [work.outcome(numbers) for work in self.works]
        whole = self._whole(outcomes)
        uncapped = None if whole is None else self._percent(outcomes, whole)
        percent = self.capped(uncapped)
        zero = None if percent is None else self._with_blanks(numbers, outcomes, percent, "zero")
        full = None if percent is None else self._with_blanks(numbers, outcomes, percent, "full")
        return self.made(cells, uncapped, percent, zero, full, outcomes)

    def made(
        self,
        cells: Mapping[str, Cell],
        uncapped: Fraction | None,
        percent: Fraction | None,
        zero: Fraction | None,
        full: Fraction | None,
        outcomes: Sequence[CategorySums],
    ) -> Grade:
        """A grade from its percents: rounded once, its letter, and the way to its working."""
        rounded = None if percent is None else rounded_percent(self.plan.rounding, percent)
        letter = None if percent is None else self.letters.of(percent, rounded)
        return Grade(percent, uncapped, rounded, letter, zero, full, lambda: self.results(cells, outcomes))

    def results(self, cells: Mapping[str, Cell], outcomes: Sequence[CategorySums]) -> tuple[CategoryResult, ...]:
        """The working of one student: every category with its figures."""
        whole = self._whole(outcomes)
        pairs = zip(self.works, outcomes, strict=True)
        return tuple(CategoryResult(w, cells, o, self.plan.basis, whole) for w, o in pairs)

    def capped(self, percent: Fraction | None) -> Fraction | None:
        """The percent under the course's ceiling."""
        cap = self.plan.cap
        return percent if percent is None or cap is None else min(percent, cap)

    def _with_blanks(
        self, numbers: Numbers, outcomes: Sequence[CategorySums], percent: Fraction, blanks: BlanksAs
    ) -> Fraction | None:
        """The percent with every blank read one way; only categories that have a blank are worked out again."""
        if not any(o.has_blank for o in outcomes):
            return percent
        pairs = zip(self.works, outcomes, strict=True)
        again = [w.outcome(numbers, blanks) if o.has_blank else o for w, o in pairs]
        whole = self._whole(again)
        return None if whole is None else self.capped(self._percent(again, whole))

    def _whole(self, outcomes: Sequence[CategorySums]) -> Fraction | None:
        """W, or the points possible, over the ordinary categories that have a percentage; None for 0."""
        pairs = [(w, o) for w, o in zip(self.works, outcomes, strict=True) if not w.category.extra and o.size]
        if self.plan.basis == "points":
            return sum((Fraction(o.size, w.unit) for w, o in pairs), ZERO) or None
        if len(pairs) == self._ordinary:
            return self._all_weights or None
        return sum((_weight(w.category) for w, _ in pairs), ZERO) or None

    def _percent(self, outcomes: Sequence[CategorySums], whole: Fraction) -> Fraction:
        pairs = zip(self.works, outcomes, strict=True)
        if self.plan.basis == "points":
            return HUNDRED * sum((_points_earned(w, o) for w, o in pairs), ZERO) / whole
        return self._weighted_percent(outcomes, whole)

    def _weighted_percent(self, outcomes: Sequence[CategorySums], whole: Fraction) -> Fraction:
        """100 * (sum of weight * p) / W, extra categories on top, as one fraction that is reduced at the end."""
        times = 100 * whole.denominator
        numerator, denominator = 0, 1
        for work, outcome in zip(self.works, outcomes, strict=True):
            weight = work.category.weight
            if outcome.size and weight:
                part, of = outcome.ratio(work.category)
                extra = work.category.extra
                part *= weight.numerator * (whole.numerator if extra else times)
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

    def grade(self, cells: Mapping[str, Cell]) -> Grade:
        """One student's grade."""
        denominator = common_denominator(self._items, [cells])
        found = self._ready.get(denominator)
        if found is None:
            if len(self._ready) >= MOST_READY:
                self._ready.clear()
            found = self._ready[denominator] = Calculator(self._plan, self._as_of, denominator)
        return found.grade(cells)


def _weight(category: Category) -> Fraction:
    return category.weight or ZERO


def _points_earned(work: CategoryWork, outcome: CategorySums) -> Fraction:
    """A category's sum of e under the points basis, capped at its ceiling's share of its sum of m."""
    earned, cap = Fraction(outcome.earned, work.unit), work.category.cap
    return earned if cap is None else min(earned, cap / 100 * Fraction(outcome.size, work.unit))


def work_out(plan: Plan, cells: Mapping[str, Cell], as_of: date) -> Grade:
    """The grade from one student's cells (by item id; absent is blank) as of a day."""
    return Calculators(plan, as_of).grade(cells)


def grade_of(course: Course, student_id: str, as_of: date) -> Grade:
    """The grade of one student of a course."""
    return work_out(course.plan, course.scores.get(student_id, {}), as_of)
