"""How a grade is worked out: cells to categories to a course percent to a letter, all exact.

The contract is docs/calculation.md. Sums are whole numbers (see category_work), results are Fractions;
rounding happens once, in letters.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal

from vinemark.core.category_work import BlanksAs, CategoryWork, Outcome, common_denominator
from vinemark.core.course import Cell, Course
from vinemark.core.letters import Letters, rounded_percent
from vinemark.core.plan import HUNDRED, Category, Item, Plan

State = Literal["kept", "dropped_lowest", "dropped_highest", "waiting", "exempt", "planned", "extra"]
ZERO = Fraction(0)


@dataclass(frozen=True)
class ItemResult:
    """One item of one student: `earned` is e and `size` is m of the contract, None where not in play."""

    item: Item
    cell: Cell
    state: State
    earned: Fraction | None = None
    size: Fraction | None = None


class CategoryResult:
    """One category of one student, its items worked out when asked for.

    `fraction` is p (1 = 100 percent), None where it has none yet. `earned` and `size` are the sums
    of e and m over what is kept, extra items in `earned` only. `weight_in_force` and `contributes`
    are percentage points of the course, None where the contract says so.
    """

    weight_in_force: Fraction | None = None
    contributes: Fraction | None = None

    def __init__(self, work: CategoryWork, cells: Mapping[str, Cell], outcome: Outcome) -> None:
        self.category: Category = work.category
        self._work = work
        self._cells = cells
        self._outcome = outcome
        self.fraction, self.capped = _fraction(work.category, outcome)

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
        return tuple(self._item(place, item) for place, item in enumerate(self.category.items))

    def _item(self, place: int, item: Item) -> ItemResult:
        cell = self._cells.get(item.id)
        if not item.counts:
            return ItemResult(item, cell, "planned")
        if cell == "exempt":
            return ItemResult(item, cell, "exempt")
        part = next(p for p in (*self._work.regular, *self._work.extra) if p.place == place)
        value = cell * self._work.denominator if isinstance(cell, Fraction) else ZERO
        earned = value * part.factor / self._work.unit
        if item.extra and not self.category.extra:
            return ItemResult(item, cell, "waiting") if cell is None else ItemResult(item, cell, "extra", earned)
        if cell is None and not part.blank_counts:
            return ItemResult(item, cell, "waiting")
        return ItemResult(item, cell, self._state(place), earned, Fraction(part.size, self._work.unit))

    def _state(self, place: int) -> State:
        if place in self._outcome.drops.highest:
            return "dropped_highest"
        return "dropped_lowest" if place in self._outcome.drops.lowest else "kept"


def _fraction(category: Category, outcome: Outcome) -> tuple[Fraction | None, bool]:
    """p, and whether the category's ceiling caps it."""
    if outcome.size == 0:
        return None, False
    found = Fraction(outcome.earned, outcome.size)
    if category.ceiling is not None and found > category.ceiling / 100:
        return category.ceiling / 100, True
    return found, False


@dataclass(frozen=True)
class Grade:
    """One student's grade with its working. Percents are None where there is no grade yet."""

    categories: tuple[CategoryResult, ...]
    percent: Fraction | None
    uncapped: Fraction | None
    rounded: Fraction | None
    letter: str | None
    blanks_zero: Fraction | None
    blanks_full: Fraction | None


class Calculator:
    """A plan on a day, made ready for many students whose scores have a common denominator."""

    def __init__(self, plan: Plan, as_of: date, denominator: int) -> None:
        self.plan = plan
        self.letters = Letters(plan)
        points = plan.basis == "points"
        self.works = [CategoryWork(c, "by_points" if points else c.split, as_of, denominator) for c in plan.categories]

    def grade(self, cells: Mapping[str, Cell]) -> Grade:
        """One student's grade."""
        outcomes = [work.outcome(cells) for work in self.works]
        results = tuple(CategoryResult(w, cells, o) for w, o in zip(self.works, outcomes, strict=True))
        uncapped = _by_points(results) if self.plan.basis == "points" else _weighted(results)
        if uncapped is None:
            return Grade(results, None, None, None, None, None, None)
        percent = self._capped(uncapped)
        return Grade(
            results,
            percent,
            uncapped,
            rounded_percent(self.plan.rounding, percent),
            self.letters.of(percent),
            self._with_blanks(cells, outcomes, percent, "zero"),
            self._with_blanks(cells, outcomes, percent, "full"),
        )

    def _capped(self, percent: Fraction) -> Fraction:
        ceiling = self.plan.ceiling
        return percent if ceiling is None else min(percent, ceiling)

    def _with_blanks(
        self, cells: Mapping[str, Cell], outcomes: Sequence[Outcome], percent: Fraction, blanks: BlanksAs
    ) -> Fraction | None:
        """The percent with every blank read one way; only categories that have a blank are worked out again."""
        if not any(o.has_blank for o in outcomes):
            return percent
        results = tuple(
            CategoryResult(w, cells, w.outcome(cells, blanks) if o.has_blank else o)
            for w, o in zip(self.works, outcomes, strict=True)
        )
        found = _by_points(results) if self.plan.basis == "points" else _weighted(results)
        return None if found is None else self._capped(found)


def grades_of(course: Course, as_of: date) -> dict[str, Grade]:
    """The grade of every student of a course."""
    items = [item for _, item in course.plan.items()]
    calculator = Calculator(course.plan, as_of, common_denominator(items, list(course.scores.values())))
    return {student.id: calculator.grade(course.scores.get(student.id, {})) for student in course.students}


def grade_of(course: Course, student_id: str, as_of: date) -> Grade:
    """The grade of one student of a course."""
    return work_out(course.plan, course.scores.get(student_id, {}), as_of)


def work_out(plan: Plan, cells: Mapping[str, Cell], as_of: date) -> Grade:
    """The grade from one student's cells (by item id; absent is blank) as of a day."""
    items = [item for _, item in plan.items()]
    return Calculator(plan, as_of, common_denominator(items, [cells])).grade(cells)


# --- the course -------------------------------------------------------------------------------


def _weighted(results: Sequence[CategoryResult]) -> Fraction | None:
    """100 * (sum of weight * p) / W, W over the ordinary categories that have a percentage; extras on top."""
    total = sum((_weight(r) for r in results if not r.category.extra and r.fraction is not None), ZERO)
    if total == 0:
        return None
    for result in results:
        if result.category.extra:
            result.weight_in_force = _weight(result)
        elif result.fraction is not None:
            result.weight_in_force = HUNDRED * _weight(result) / total
        if result.weight_in_force is not None:
            result.contributes = result.weight_in_force * (result.fraction or ZERO)
    return _sum_of_contributions(results)


def _weight(result: CategoryResult) -> Fraction:
    return result.category.weight or ZERO


def _by_points(results: Sequence[CategoryResult]) -> Fraction | None:
    """100 * (points earned) / (points possible of the ordinary categories)."""
    possible = sum((r.size for r in results if not r.category.extra), ZERO)
    if possible == 0:
        return None
    for result in results:
        result.contributes = HUNDRED * _points_earned(result) / possible
    return _sum_of_contributions(results)


def _points_earned(result: CategoryResult) -> Fraction:
    ceiling = result.category.ceiling
    return result.earned if ceiling is None else min(result.earned, ceiling / 100 * result.size)


def _sum_of_contributions(results: Sequence[CategoryResult]) -> Fraction:
    return sum((r.contributes for r in results if r.contributes is not None), ZERO)
