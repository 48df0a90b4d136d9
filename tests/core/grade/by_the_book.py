"""The calculation once more, straight from its definition: fractions, every possible drop tried, nothing shared.

It is slow and has none of the ways of the core: no whole numbers, no columns, no search for the best drop.
"""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from fractions import Fraction
from itertools import combinations
from math import floor
from typing import NamedTuple

from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import Requirement

Cells = Mapping[str, Cell]


class InPlay(NamedTuple):
    """A regular item in play: what it is worth, what was earned, its score against its points."""

    item: Item
    size: Fraction
    earned: Fraction
    ratio: Fraction


class Outcome(NamedTuple):
    """A figure all the way to the letter."""

    before: Fraction
    percent: Fraction
    rounded: Fraction | None
    by_percent: str | None
    letter: str | None
    weighting: str | None
    not_met: list[str]


def plan_for(course: Course, student: str) -> Plan:
    """The plan with the due dates that hold for one student."""
    own = {item: due for (who, item), due in course.extensions.items() if who == student}
    return replace(course.plan, categories=tuple(
        replace(c, items=tuple(replace(i, due=own.get(i.id, i.due)) for i in c.items)) for c in course.plan.categories
    ))  # fmt: skip


def percent(plan: Plan, cells: Cells, as_of: date, blanks: str = "plan") -> Fraction | None:
    """The course percent; blanks by the plan, all 'zero', or all 'full'. None where there is no grade yet."""
    found = outcome(plan, cells, as_of, blanks)
    return found.percent if found else None


def outcome(
    plan: Plan, cells: Cells, as_of: date, blanks: str = "plan", adjustment: Fraction = Fraction(0)
) -> Outcome | None:
    """The five steps and what follows them."""
    sums = all_sums(plan, cells, as_of, blanks)
    best: tuple[Fraction, str | None] | None = None
    for name, weights in [(None, {}), *((a.id, a.weights) for a in plan.alternatives)]:
        got = of_weights(plan, sums, {c.id: weights.get(c.id, c.weight or Fraction(0)) for c in plan.categories})
        if got is not None and (best is None or got > best[0]):
            best = got, name
    if best is None:
        return None
    unmet = [(one, k) for one in plan.requirements if (k := times(plan, one, cells, as_of, blanks, sums)) > 0]
    total = best[0] + plan.added + adjustment
    total -= sum((one.consequence.amount * k for one, k in unmet if one.consequence.kind == "percent_down"), Fraction())
    limits = [one.consequence.amount for one, _ in unmet if one.consequence.kind == "percent_at_most"]
    total = max(Fraction(0), min([total, *limits, *([] if plan.cap is None else [plan.cap])]))
    rounded = None if plan.rounding is None else round_to(total, plan.rounding.decimals, plan.rounding.way)
    used = total if rounded is None or (plan.rounding and plan.rounding.letter_uses == "exact") else rounded
    letters = [row.letter for row in sorted(plan.scale, key=lambda row: -row.cutoff)]
    reached = [row for row in plan.scale if row.cutoff <= used]
    by_percent = max(reached, key=lambda row: row.cutoff).letter if reached else None
    letter = by_percent and lowered(letters, by_percent, unmet)
    return Outcome(best[0], total, rounded, by_percent, letter, best[1], [one.id for one, _ in unmet])


def lowered(letters: list[str], letter: str, unmet: list[tuple[Requirement, int]]) -> str:
    """Rows down the scale first, then the lowest of the letters at most."""
    place = letters.index(letter)
    for one, k in unmet:
        place += int(one.consequence.amount) * k if one.consequence.kind == "letters_down" else 0
    place = min(place, len(letters) - 1)
    for one, _ in unmet:
        if one.consequence.kind == "letter_at_most":
            place = max(place, letters.index(one.consequence.letter))
    return letters[place]


def round_to(value: Fraction, decimals: int, way: str) -> Fraction:
    """Rounded at a place: half up, up unless exactly on it, or cut off."""
    scaled = value * 10**decimals
    whole = floor(scaled)
    up = {"nearest": scaled - whole >= Fraction(1, 2), "up": scaled > whole, "down": False}[way]
    return Fraction(whole + up, 10**decimals)


def all_sums(plan: Plan, cells: Cells, as_of: date, blanks: str) -> dict[str, tuple[Fraction, Fraction]]:
    """What was earned and what it is out of, by category, after drops and replacements."""
    kept = {c.id: in_play(plan, c, cells, as_of, blanks) for c in plan.categories}
    bonuses = {c.id: bonus(plan, c, cells, blanks) for c in plan.categories}
    left = {c.id: kept[c.id] if c.extra else after_drops(c, kept[c.id], bonuses[c.id]) for c in plan.categories}
    replaced: set[str] = set()
    for rule in plan.replacements:
        source = [one for group in kept.values() for one in group if one.item.id == rule.source]
        if not source:
            continue
        weak = [
            one for one in left[rule.into]
            if one.item.id not in replaced and one.item.id != rule.source and one.ratio < source[0].ratio
            and (rule.missed or isinstance(cells.get(one.item.id), Fraction | DetailedScore)
                 or (cells.get(one.item.id) is None and blanks == "full"))
        ]  # fmt: skip
        for one in sorted(weak, key=lambda one: one.ratio)[: rule.count]:
            replaced.add(one.item.id)
            better = one._replace(earned=source[0].ratio * one.size)
            left[rule.into] = [better if other is one else other for other in left[rule.into]]
    return {
        c.id: (sum((k.earned for k in left[c.id]), bonuses[c.id]), sum((k.size for k in left[c.id]), Fraction(0)))
        for c in plan.categories
    }


def of_weights(
    plan: Plan, sums: Mapping[str, tuple[Fraction, Fraction]], weights: Mapping[str, Fraction]
) -> Fraction | None:
    """The percent of the categories under one set of weights; None with nothing to divide by."""
    whole, on_top, possible = Fraction(0), Fraction(0), Fraction(0)
    for category in plan.categories:
        earned, size = sums[category.id]
        if plan.basis == "points":
            ceiling = category.cap
            whole += earned if ceiling is None else min(earned, size * ceiling / 100)
            possible += 0 if category.extra else size
            continue
        part = percentage(plan, category, sums)
        if part is None:
            continue
        if category.extra:
            on_top += weights[category.id] * part / 100
        else:
            whole, possible = whole + weights[category.id] * part / 100, possible + weights[category.id]
    return 100 * whole / possible + on_top if possible else None


def percentage(plan: Plan, category: Category, sums: Mapping[str, tuple[Fraction, Fraction]]) -> Fraction | None:
    """A category's percentage, its ceiling and its rounding applied."""
    earned, size = sums[category.id]
    if size == 0:
        return None
    found = 100 * earned / size if category.cap is None else min(100 * earned / size, category.cap)
    rounding = category.rounding if plan.basis == "weighted" else None
    return found if rounding is None else round_to(found, rounding.decimals, rounding.way)


def times(
    plan: Plan, one: Requirement, cells: Cells, as_of: date, blanks: str,
    sums: Mapping[str, tuple[Fraction, Fraction]],
) -> int:  # fmt: skip
    """How many times a requirement is not met; 0 where it is."""
    condition, each = one.condition, one.consequence.for_each
    category = next((c for c in plan.categories if c.id == condition.category), None)
    if category is not None and condition.kind == "percent_below":
        found = percentage(plan, category, sums)
        return int(found is not None and found < condition.threshold)
    if category is not None:
        missed = 0
        for item in category.items:
            regular = item.counts and (category.extra or not item.extra)
            cell = cells.get(item.id)
            blank = cell is None and score(category, item, cell, as_of, blanks) == 0 and blanks != "full"
            missed += regular and (cell == "missing" or blank)
        k = missed - int(condition.threshold) + 1
        return k if each else int(k > 0)
    placed = [(c, i) for c in plan.categories for i in c.items if i.id == condition.item]
    cell = cells.get(condition.item or "")
    if condition.kind == "value_above":
        value = value_of(*placed[0], cell) if placed else cell
        if not isinstance(value, Fraction) or value <= condition.threshold:
            return 0
        return floor(value - condition.threshold) if each else 1
    category, item = placed[0]
    if not item.counts:
        return 0
    if item.extra and not category.extra:
        reads = counted(category, cells)[item.id]
        if reads is None:
            reads = item.points if blanks == "full" else "exempt"
    else:
        reads = counted(category, cells)[item.id]
    read = score(category, item, reads, as_of, blanks)
    return int(read is not None and 100 * read / item.points < condition.threshold)


def value_of(category: Category, item: Item, cell: Cell) -> Fraction | str | None:
    """v: a symbol in points, late days not looked at."""
    if not isinstance(cell, DetailedScore):
        return cell
    if cell.score is not None:
        return cell.score
    return item.points * next(s.percent for s in category.symbols if s.symbol == cell.symbol) / 100


def counted(category: Category, cells: Cells) -> dict[str, Fraction | str | None]:
    """v' of every item: free days by due date, then what is left."""
    found = {item.id: value_of(category, item, cells.get(item.id)) for item in category.items}
    rule = category.late
    free = rule.free_days if rule else 0
    for item in sorted(category.items, key=lambda item: (item.due is None, item.due or date.min)):
        cell, value = cells.get(item.id), found[item.id]
        if rule is None or not item.counts or not isinstance(cell, DetailedScore) or not isinstance(value, Fraction):
            continue
        days = cell.late
        while days and free:
            days, free = days - 1, free - 1
        if rule.last_day is not None and days > rule.last_day:
            found[item.id] = Fraction(0)
            continue
        lost = max(0, days - rule.grace_days) * rule.per_day
        lost = min(lost, Fraction(100) if rule.at_most is None else rule.at_most) / 100
        found[item.id] = value * (1 - lost) if rule.of == "score" else max(Fraction(0), value - lost * item.points)
    return found


def in_play(plan: Plan, category: Category, cells: Cells, as_of: date, blanks: str) -> list[InPlay]:
    """The regular items that take part."""
    play, values = [], counted(category, cells)
    for item in category.items:
        value = score(category, item, values[item.id], as_of, blanks)
        if item.counts and value is not None and (category.extra or not item.extra):
            size = worth(plan, category, item)
            play.append(InPlay(item, size, value / item.points * size, value / item.points))
    return play


def bonus(plan: Plan, category: Category, cells: Cells, blanks: str) -> Fraction:
    """What extra items of an ordinary category add."""
    total, values = Fraction(0), counted(category, cells)
    for item in category.items:
        if category.extra or not item.extra or not item.counts:
            continue
        value = values[item.id]
        if value is None and blanks == "full":
            value = item.points
        if isinstance(value, Fraction):
            total += value / item.points * worth(plan, category, item)
    return total


def score(category: Category, item: Item, value: Fraction | str | None, as_of: date, blanks: str) -> Fraction | None:
    """A cell as it counts; None where it is not in play."""
    if value == "exempt":
        return None
    if value == "missing":
        return Fraction(0)
    if isinstance(value, Fraction):
        return value
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
