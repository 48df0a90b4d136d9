"""How a grade is worked out: cells to categories to a course percent to a letter, all exact.

The contract is docs/calculation.md. Everything here is a Fraction; rounding happens once, in letters.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal, NamedTuple

from vinemark.core.course import Cell, Course
from vinemark.core.letters import letter_for, rounded_percent
from vinemark.core.plan import HUNDRED, Category, Item, Plan, Split

State = Literal["kept", "dropped_lowest", "dropped_highest", "waiting", "exempt", "planned", "extra"]
BlanksAs = Literal["plan", "zero", "full"]
"""How blanks are read: by the plan's rules, all as 0, or all as full points."""

ZERO = Fraction(0)
ONE = Fraction(1)


@dataclass(frozen=True)
class ItemResult:
    """One item of one student: `earned` is e and `size` is m of the contract, None where not in play."""

    item: Item
    cell: Cell
    state: State
    earned: Fraction | None = None
    size: Fraction | None = None


@dataclass(frozen=True)
class CategoryResult:
    """One category of one student.

    `fraction` is p (1 = 100 percent), None where it has none yet. `earned` and `size` are the sums
    of e and m over what is kept, extra items in `earned` only. `weight_in_force` and `contributes`
    are percentage points of the course, None where the contract says so.
    """

    category: Category
    items: tuple[ItemResult, ...]
    fraction: Fraction | None
    earned: Fraction
    size: Fraction
    capped: bool = False
    weight_in_force: Fraction | None = None
    contributes: Fraction | None = None


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


def grade_of(course: Course, student_id: str, as_of: date) -> Grade:
    """The grade of one student of a course."""
    return work_out(course.plan, course.scores.get(student_id, {}), as_of)


def work_out(plan: Plan, cells: Mapping[str, Cell], as_of: date) -> Grade:
    """The grade from one student's cells (by item id; absent is blank) as of a day."""
    categories, uncapped = _course(plan, cells, as_of, "plan")
    if uncapped is None:
        return Grade(categories, None, None, None, None, None, None)
    percent = _capped(uncapped, plan.ceiling)
    return Grade(
        categories,
        percent,
        uncapped,
        rounded_percent(plan.rounding, percent),
        letter_for(plan, percent),
        percent_with_blanks(plan, cells, as_of, "zero"),
        percent_with_blanks(plan, cells, as_of, "full"),
    )


def percent_with_blanks(plan: Plan, cells: Mapping[str, Cell], as_of: date, blanks: BlanksAs) -> Fraction | None:
    """The course percent with every blank read in one way."""
    uncapped = _course(plan, cells, as_of, blanks)[1]
    return None if uncapped is None else _capped(uncapped, plan.ceiling)


def _capped(percent: Fraction, ceiling: Fraction | None) -> Fraction:
    return percent if ceiling is None else min(percent, ceiling)


def _course(
    plan: Plan, cells: Mapping[str, Cell], as_of: date, blanks: BlanksAs
) -> tuple[tuple[CategoryResult, ...], Fraction | None]:
    results = [category_result(c, _split(plan, c), cells, as_of, blanks) for c in plan.categories]
    return _by_points(results) if plan.basis == "points" else _weighted(results)


def _split(plan: Plan, category: Category) -> Split:
    return "by_points" if plan.basis == "points" else category.split


# --- the course -------------------------------------------------------------------------------


def _weighted(results: Sequence[CategoryResult]) -> tuple[tuple[CategoryResult, ...], Fraction | None]:
    """100 * (sum of weight * p) / W, W over the ordinary categories that have a percentage; extras on top."""
    total = sum((_weight(r) for r in results if not r.category.extra and r.fraction is not None), ZERO)
    if total == 0:
        return tuple(results), None
    shown = tuple(_with_weight(r, total) for r in results)
    return shown, sum((r.contributes for r in shown if r.contributes is not None), ZERO)


def _weight(result: CategoryResult) -> Fraction:
    return result.category.weight or ZERO


def _with_weight(result: CategoryResult, total: Fraction) -> CategoryResult:
    if result.category.extra:
        force = _weight(result)
        return _in_force(result, force, force * (result.fraction or ZERO))
    if result.fraction is None:
        return result
    force = HUNDRED * _weight(result) / total
    return _in_force(result, force, force * result.fraction)


def _in_force(result: CategoryResult, weight: Fraction | None, contributes: Fraction) -> CategoryResult:
    return CategoryResult(
        result.category,
        result.items,
        result.fraction,
        result.earned,
        result.size,
        result.capped,
        weight,
        contributes,
    )


def _by_points(results: Sequence[CategoryResult]) -> tuple[tuple[CategoryResult, ...], Fraction | None]:
    """100 * (points earned) / (points possible of the ordinary categories)."""
    possible = sum((r.size for r in results if not r.category.extra), ZERO)
    if possible == 0:
        return tuple(results), None
    shown = tuple(_in_force(r, None, HUNDRED * _points_earned(r) / possible) for r in results)
    return shown, sum((r.contributes for r in shown if r.contributes is not None), ZERO)


def _points_earned(result: CategoryResult) -> Fraction:
    ceiling = result.category.ceiling
    return result.earned if ceiling is None else min(result.earned, ceiling / 100 * result.size)


# --- one category -----------------------------------------------------------------------------


class Play(NamedTuple):
    """A regular item in play: its place in the category, e, m, v / points, and whether it may be dropped."""

    place: int
    earned: Fraction
    size: Fraction
    ratio: Fraction
    droppable: bool


def category_result(
    category: Category, split: Split, cells: Mapping[str, Cell], as_of: date, blanks: BlanksAs = "plan"
) -> CategoryResult:
    """Work out one category for one student, drops and the category's ceiling included."""
    values = [_value(category, item, cells.get(item.id), as_of, blanks) for item in category.items]
    plays = [
        _play(place, item, split, value)
        for place, (item, value) in enumerate(zip(category.items, values, strict=True))
        if value is not None and (category.extra or not item.extra)
    ]
    extra_earned = sum(
        (
            _earned(item, split, value)
            for item, value in zip(category.items, values, strict=True)
            if value is not None and item.extra and not category.extra
        ),
        ZERO,
    )
    highest, lowest = ([], []) if category.extra else dropped(category, plays, extra_earned)
    gone = {p.place for p in highest} | {p.place for p in lowest}
    kept = [p for p in plays if p.place not in gone]
    earned = sum((p.earned for p in kept), ZERO) + extra_earned
    size = sum((p.size for p in kept), ZERO)
    states = {p.place: _state(p, highest, lowest) for p in plays}
    items = tuple(
        _item_result(category, item, split, cells.get(item.id), value, states.get(place))
        for place, (item, value) in enumerate(zip(category.items, values, strict=True))
    )
    return _finished(category, items, earned, size)


def _finished(category: Category, items: tuple[ItemResult, ...], earned: Fraction, size: Fraction) -> CategoryResult:
    if size == 0:
        return CategoryResult(category, items, None, earned, size)
    fraction = earned / size
    if category.ceiling is not None and fraction > category.ceiling / 100:
        return CategoryResult(category, items, category.ceiling / 100, earned, size, capped=True)
    return CategoryResult(category, items, fraction, earned, size)


def _value(category: Category, item: Item, cell: Cell, as_of: date, blanks: BlanksAs) -> Fraction | None:
    """Points that count for a cell; None where the item is not in play."""
    if not item.counts or cell == "exempt":
        return None
    if isinstance(cell, Fraction):
        return cell
    adds_only = item.extra and not category.extra
    if cell == "missing":
        return None if adds_only else ZERO
    if blanks == "full":
        return item.points
    if adds_only:
        return None
    return ZERO if blanks == "zero" or _blank_counts(category, item, as_of) else None


def _blank_counts(category: Category, item: Item, as_of: date) -> bool:
    if category.extra or category.blanks == "zero":
        return True
    return category.blanks == "zero_when_due" and item.due is not None and item.due < as_of


def _earned(item: Item, split: Split, value: Fraction) -> Fraction:
    if split == "by_points":
        return value
    if split == "even":
        return value / item.points
    return _share(item) * value / item.points


def _size(item: Item, split: Split) -> Fraction:
    if split == "by_points":
        return item.points
    return ONE if split == "even" else _share(item)


def _share(item: Item) -> Fraction:
    if item.share is None:
        raise ValueError(f"item {item.id} has no share under own shares")
    return item.share


def _play(place: int, item: Item, split: Split, value: Fraction) -> Play:
    return Play(place, _earned(item, split, value), _size(item, split), value / item.points, item.droppable)


def _state(play: Play, highest: Sequence[Play], lowest: Sequence[Play]) -> State:
    if play in highest:
        return "dropped_highest"
    return "dropped_lowest" if play in lowest else "kept"


def _item_result(
    category: Category, item: Item, split: Split, cell: Cell, value: Fraction | None, state: State | None
) -> ItemResult:
    if not item.counts:
        return ItemResult(item, cell, "planned")
    if cell == "exempt":
        return ItemResult(item, cell, "exempt")
    if state is not None and value is not None:
        return ItemResult(item, cell, state, _earned(item, split, value), _size(item, split))
    if item.extra and not category.extra and (cell == "missing" or value is not None):
        return ItemResult(item, cell, "extra", _earned(item, split, value or ZERO))
    return ItemResult(item, cell, "waiting")


# --- drops ------------------------------------------------------------------------------------


def dropped(category: Category, plays: Sequence[Play], extra_earned: Fraction) -> tuple[list[Play], list[Play]]:
    """The items dropped as highest and as lowest; at least one regular item always stays."""
    if not plays:
        return [], []
    free = [p for p in plays if p.droppable]
    h = min(category.drop_highest, len(free), len(plays) - 1)
    highest = sorted(free, key=lambda p: (-p.ratio, p.place))[:h]
    free = [p for p in free if p not in highest]
    wanted = category.drop_lowest if category.keep_best is None else max(0, len(plays) - category.keep_best)
    n = min(wanted, len(free), len(plays) - 1 - h)
    if n <= 0:
        return highest, []
    if category.drop_by == "lowest_percent":
        return highest, sorted(free, key=lambda p: (p.ratio, p.place))[:n]
    return highest, _helps_most([p for p in plays if p not in highest], free, n, extra_earned)


def _helps_most(plays: Sequence[Play], free: Sequence[Play], n: int, extra_earned: Fraction) -> list[Play]:
    """The n of `free` whose removal leaves the largest (sum of e) / (sum of m).

    A parametric search over the ratio (W. Dinkelbach, "On nonlinear fractional programming",
    Management Science 13, 1967): with a trial ratio q the best n are those with the smallest
    e - q * m; their removal gives a ratio >= q, which becomes the next trial, until it stands still.
    Example: 80/100, 20/100, 1/20 with one dropped: 101/220, then 81/120 by dropping 20/100.
    """
    earned = sum((p.earned for p in plays), extra_earned)
    size = sum((p.size for p in plays), ZERO)
    ratio = earned / size
    while True:
        trial = ratio
        chosen = sorted(free, key=lambda p: (p.earned - trial * p.size, p.place))[:n]
        left = size - sum((p.size for p in chosen), ZERO)
        ratio = (earned - sum((p.earned for p in chosen), ZERO)) / left
        if ratio == trial:
            return chosen
