"""Checks of figures, dates and names of the plan that a slip leaves behind, and of rules that can do nothing."""

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from datetime import date, timedelta
from fractions import Fraction
from itertools import pairwise
from typing import Final, NamedTuple

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.names import plain
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan, points_total
from vinemark.core.plan.scale import sorted_scale

SERIES, NAMES_SHOWN = 4, 8
"""So many items with one name and different numbers are a series."""
TIMES_OFF = 5
SCALE_LETTERS, WIDE_BAND, LEAST_BAND = 4, 15, Fraction(1)
DATES_OF_SERIES, DAYS_APART = 5, timedelta(days=21)
MOST_EXTRA, MOST_ADDED = 10, 10
LOWEST_TOP = 50
LEFT_OVER: Final = re.compile(
    r"\b(?:copy of|untitled|unnamed|new (?:item|category)|to be (?:deleted|removed)|do not use|don'?t use|old version"
    r"|delete me|placeholder|asdf|xxx+)\b|\(copy\)|\bcopy(?: \d+)?$|^(?:sheet|column|field) ?\d+$"
)


class Numbered(NamedTuple):
    """An item of a series with its number."""

    number: int
    item: Item


def series_of(category: Category) -> list[list[Numbered]]:
    """The items of a category whose names differ in one number alone, four or more, in plan order."""
    found: dict[str, list[Numbered]] = {}
    for item in category.items:
        numbers = re.findall(r"\d+", plain(item.name))
        if len(numbers) == 1 and len(numbers[0]) < SERIES and not item.extra:
            found.setdefault(re.sub(r"\d+", "#", plain(item.name)), []).append(Numbered(int(numbers[0]), item))
    return [series for series in found.values() if len(series) >= SERIES]


def points_odd(facts: Facts) -> Iterator[Found]:
    """One item of a series with points five times off those of all others, which its scores do not bear out."""
    for category in facts.plan.categories:
        for series in series_of(category):
            usual, count = Counter(one.item.points for one in series).most_common(1)[0]
            odd = [one.item for one in series if one.item.points != usual]
            if count < len(series) - 1 or not odd:
                continue
            times = max(usual, odd[0].points) / min(usual, odd[0].points)
            if times >= TIMES_OFF and not _borne_out(facts, odd[0]):
                yield Found(
                    f"{odd[0].name} has {exact_text(odd[0].points)} points; the other {count} of its kind have"
                    f" {exact_text(usual)}.",
                    category=category.id,
                    item=odd[0].id,
                    evidence=[f"{one.item.name}: {exact_text(one.item.points)}" for one in series[:8]],
                )


def _borne_out(facts: Facts, item: Item) -> bool:
    """Whether the scores are what the points say: one at least above half of them, and none above."""
    numbers = [number for student in facts.enrolled if (number := facts.number(student, item)) is not None]
    return bool(numbers) and item.points / 2 < max(numbers) <= item.points


def due_unordered(facts: Facts) -> Iterator[Found]:
    """One item of a series due three weeks or more outside the days of its neighbours."""
    for category in facts.plan.categories:
        for series in series_of(category):
            dated = [(one.item.due, one.item) for one in sorted(series) if one.item.due is not None]
            odd = _out_of_turn([due for due, _ in dated]) if len(dated) >= DATES_OF_SERIES else None
            if odd is not None:
                due, item = dated[odd]
                yield Found(
                    f"{item.name} is due {day_words(due)}, out of turn among the others of its kind.",
                    category=category.id,
                    item=item.id,
                    evidence=[f"{one.name}: {day_words(day)}" for day, one in dated[max(0, odd - 2) : odd + 3]],
                )


def _out_of_turn(days: Sequence[date]) -> int | None:
    """The place of the one day without which all days rise."""
    if _rise(days):
        return None
    for place in range(len(days)):
        if _rise([*days[:place], *days[place + 1 :]]):
            beside = [days[n] for n in (place - 1, place + 1) if 0 <= n < len(days)]
            if min(abs(days[place] - day) for day in beside) >= DAYS_APART:
                return place
    return None


def _rise(days: Sequence[date]) -> bool:
    return all(one <= other for one, other in pairwise(days))


def number_missing(facts: Facts) -> Iterator[Found]:
    """A series that lacks one of its numbers, which no other item has."""
    names = {plain(item.name) for _, item in facts.plan.items()}
    for category in facts.plan.categories:
        for series in series_of(category):
            numbers = {one.number for one in series}
            lacking = sorted(set(range(min(numbers), max(numbers))) - numbers)
            wanted = plain(series[0].item.name).replace(str(series[0].number), str(lacking[0] if lacking else ""), 1)
            if len(lacking) == 1 and min(numbers) <= 1 and wanted not in names:
                yield Found(
                    f"{category.name} has no number {lacking[0]}: {_listed(series)}.",
                    category=category.id,
                    evidence=["Left out, or lost while items were added or deleted?"],
                    part=series[0].item.id,
                )


def _listed(series: Sequence[Numbered]) -> str:
    names = [one.item.name for one in sorted(series)]
    return ", ".join(names if len(names) <= NAMES_SHOWN else [*names[: NAMES_SHOWN - 1], "…", names[-1]])


def name_left(facts: Facts) -> Iterator[Found]:
    """A name that copying or trying left behind."""
    for category in facts.plan.categories:
        for name, item in ((category.name, None), *((item.name, item) for item in category.items)):
            if LEFT_OVER.search(plain(name)):
                yield Found(
                    f"“{name}” looks like a name left behind.",
                    category=category.id,
                    item=item.id if item else None,
                    evidence=["Name it, or delete it if it is not meant to be here."],
                )


def share_zero(facts: Facts) -> Iterator[Found]:
    """A counting item with a part of 0 in a category whose items have parts of their own."""
    for category in facts.plan.categories:
        if category.split != "own_shares" or category.extra or facts.plan.basis != "weighted":
            continue
        for item in category.regular:
            if not item.share and any(one.share for one in category.regular):
                yield Found(
                    f"{item.name} counts for 0% of {category.name}, so its scores change no grade.",
                    category=category.id,
                    item=item.id,
                    evidence=[f"{one.name}: {exact_text(one.share or Fraction(0))}%" for one in category.regular[:8]],
                )


def extra_heavy(facts: Facts) -> Iterator[Found]:
    """Extra credit that alone can raise a grade by more than ten percentage points; more than ten for everyone."""
    if facts.plan.added > MOST_ADDED:
        yield Found(f"Everyone gets {exact_text(facts.plan.added)} percentage points.", part="everyone",
                    evidence=["That is a whole letter on most scales."])  # fmt: skip
    for category in facts.plan.categories:
        for item, by in _raised_by(facts.plan, category):
            if by > MOST_EXTRA:
                name = item.name if item else category.name
                yield Found(
                    f"{name} is extra credit and can raise a grade by {fixed(by, 1)} percentage points.",
                    category=category.id,
                    item=item.id if item else None,
                    evidence=[f"{exact_text(item.points)} points" if item else f"Weight {exact_text(by)}"],
                )


def _raised_by(plan: Plan, category: Category) -> Iterator[tuple[Item | None, Fraction]]:
    """What extra credit adds to the course at most, in percentage points."""
    points = plan.basis == "points"
    if category.extra and not points:
        yield None, category.weight or Fraction(0)
        return
    of = [c for c in plan.categories if not c.extra] if points else [category]
    whole = sum((points_total(one) for one in of), Fraction(0))
    weight = HUNDRED if points else category.weight or Fraction(0)
    for item in category.counting:
        if (item.extra or category.extra) and whole and category.split != "own_shares":
            yield item, weight * item.points / whole


def scale_gap(facts: Facts) -> Iterator[Found]:
    """A letter whose band is three times as wide as is usual in the scale, or hardly there."""
    scale = sorted_scale(facts.plan.scale)
    if len(scale) < SCALE_LETTERS or facts.scale_due or scale[0].cutoff > HUNDRED:
        return
    bands = [(lower, upper.cutoff - lower.cutoff) for upper, lower in pairwise(scale[:-1])]
    middle = sorted(width for _, width in bands)[len(bands) // 2]
    for row, width in bands:
        wide = width >= WIDE_BAND and width >= 3 * middle
        if wide or (width < LEAST_BAND and 4 * width <= middle):
            yield Found(
                f"{row.letter} goes over {exact_text(width)} percent; usual in this scale is {exact_text(middle)}.",
                evidence=[f"{one.letter}: {exact_text(one.cutoff)}" for one in scale],
                part=row.letter,
            )
            return


def scale_base(facts: Facts) -> Iterator[Found]:
    """A scale whose highest letter begins under 50%: grade points or parts of 1 typed for percents."""
    scale = sorted_scale(facts.plan.scale)
    if len(scale) > 1 and not facts.scale_due and scale[0].cutoff < LOWEST_TOP:
        yield Found(
            f"{scale[0].letter} begins at {exact_text(scale[0].cutoff)}%: nearly everybody gets it.",
            evidence=[f"{one.letter}: {exact_text(one.cutoff)}" for one in scale],
        )


def symbols_odd(facts: Facts) -> Iterator[Found]:
    """A symbol with a plus worth less than without, with a minus worth more, or ten times off."""
    for category in facts.plan.categories:
        worth = {one.symbol: one.percent for one in category.symbols}
        for symbol, percent in worth.items():
            base = worth.get(symbol.rstrip("+-−"))
            plus, minus = symbol.endswith("+"), symbol.endswith(("-", "−"))
            wrong = base is not None and ((plus and percent < base) or (minus and percent > base))
            if wrong or percent > 2 * HUNDRED:
                yield Found(
                    f"“{symbol}” is worth {exact_text(percent)}% in {category.name}.",
                    category=category.id,
                    evidence=[f"{one}: {exact_text(value)}%" for one, value in worth.items()],
                    part=symbol,
                )


def extra_odd(facts: Facts) -> Iterator[Found]:
    """An extra item that is one of a series of regular ones by its name."""
    for category in facts.plan.categories:
        kinds = Counter(re.sub(r"\d+", "#", plain(item.name)) for item in category.regular)
        for item in category.counting:
            kind = re.sub(r"\d+", "#", plain(item.name))
            if item.extra and not category.extra and "#" in kind and kinds[kind] >= SERIES - 1:
                yield Found(
                    f"{item.name} is extra credit; the {kinds[kind]} others of its kind are regular work.",
                    category=category.id,
                    item=item.id,
                    evidence=["Extra credit only adds: it is in no denominator."],
                )
