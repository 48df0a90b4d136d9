"""The calculation once more, straight from its definition: fractions, every possible drop tried, nothing shared.

It is slow and has none of the ways of the core: no whole numbers, no columns, no search for the best drop.
"""

from collections.abc import Mapping
from datetime import date
from fractions import Fraction
from itertools import combinations
from typing import NamedTuple

from vinemark.core.course.course import Cell
from vinemark.core.plan.plan import Category, Item, Plan


class InPlay(NamedTuple):
    """A regular item in play: what it is worth, what was earned, its score against its points."""

    item: Item
    size: Fraction
    earned: Fraction
    ratio: Fraction


def percent(plan: Plan, cells: Mapping[str, Cell], as_of: date, blanks: str = "plan") -> Fraction | None:
    """The course percent; blanks by the plan, all 'zero', or all 'full'. None where there is no grade yet."""
    whole, on_top, possible = Fraction(0), Fraction(0), Fraction(0)
    for category in plan.categories:
        earned, size = sums(plan, category, cells, as_of, blanks)
        ceiling = category.cap
        if plan.basis == "points":
            top = earned if ceiling is None else min(earned, size * ceiling / 100)
            whole, possible = whole + top, possible + (0 if category.extra else size)
            continue
        if size == 0:
            continue
        part = earned / size if ceiling is None else min(earned / size, ceiling / 100)
        weight = category.weight or Fraction(0)
        if category.extra:
            on_top += weight * part
        else:
            whole, possible = whole + weight * part, possible + weight
    if possible == 0:
        return None
    found = 100 * whole / possible + on_top
    return found if plan.cap is None else min(found, plan.cap)


def sums(
    plan: Plan, category: Category, cells: Mapping[str, Cell], as_of: date, blanks: str
) -> tuple[Fraction, Fraction]:
    """What was earned and what it is out of, once everything is dropped that is to be dropped."""
    play, bonus = [], Fraction(0)
    for item in category.items:
        value = score(category, item, cells.get(item.id), as_of, blanks)
        if not item.counts or value is None:
            continue
        size = worth(plan, category, item)
        if item.extra and not category.extra:
            bonus += value / item.points * size
        else:
            play.append(InPlay(item, size, value / item.points * size, value / item.points))
    kept = play if category.extra else after_drops(category, play, bonus)
    return sum((k.earned for k in kept), Fraction(0)) + bonus, sum((k.size for k in kept), Fraction(0))


def score(category: Category, item: Item, cell: Cell, as_of: date, blanks: str) -> Fraction | None:
    """A cell as it counts; None where it is not in play."""
    if cell == "exempt":
        return None
    if cell == "missing":
        return Fraction(0)
    if isinstance(cell, Fraction):
        return cell
    if blanks != "plan":
        return item.points if blanks == "full" else Fraction(0)
    past = item.due is not None and item.due < as_of
    counts = category.extra or category.blanks == "zero" or (category.blanks == "zero_when_due" and past)
    return Fraction(0) if counts else None


def worth(plan: Plan, category: Category, item: Item) -> Fraction:
    """What an item weighs in its category."""
    if plan.basis == "points" or category.split == "by_points":
        return item.points
    return Fraction(1) if category.split == "even" else item.share or Fraction(0)


def after_drops(category: Category, play: list[InPlay], bonus: Fraction) -> list[InPlay]:
    """The highest go first, then the lowest; one always stays, and ties go to the item that stands first."""
    left = list(play)
    for _ in range(category.drop_highest):
        free = [p for p in left if p.item.droppable]
        if not free or len(left) == 1:
            break
        left.remove(max(free, key=lambda p: p.ratio))
    wanted = category.drop_lowest if category.keep_best is None else len(play) - category.keep_best
    free = [p for p in left if p.item.droppable]
    count = max(0, min(wanted, len(free), len(left) - 1))
    if category.drop_by == "lowest_percent":
        for _ in range(count):
            free = [p for p in left if p.item.droppable]
            left.remove(min(free, key=lambda p: p.ratio))
        return left
    choices = [[p for p in left if p not in gone] for gone in combinations(free, count)]
    return max(choices, key=lambda kept: quotient(kept, bonus), default=left)


def quotient(kept: list[InPlay], bonus: Fraction) -> Fraction:
    """What is earned of what it is out of."""
    size = sum((k.size for k in kept), Fraction(0))
    return (sum((k.earned for k in kept), Fraction(0)) + bonus) / size if size else Fraction(0)
