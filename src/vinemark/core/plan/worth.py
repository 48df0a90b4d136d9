"""What weights and items come to: weights in force for the class, points of the final grade, counts times points."""

from collections.abc import Collection, Mapping, Sequence
from datetime import date
from fractions import Fraction
from itertools import groupby

from vinemark.core.base.number import exact_text, trimmed
from vinemark.core.plan.amounts import blank_counts, size_of
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan, points_total

HEAVY = 15
"""From so many percent of the course on an item can be the heaviest."""


def weights_now(plan: Plan, recorded: Collection[str], as_of: date) -> dict[str, Fraction]:
    """100 * weight / W for each ordinary category in which somebody has a percentage; empty under points.

    `recorded` are the items with anything recorded but exempt. W is the sum of those categories' weights, so that
    with 40 and 50 scored and 10 open they are 44.44 and 55.56.
    """
    if plan.basis == "points":
        return {}
    there = [c for c in plan.categories if not c.extra and _has_percentage(c, recorded, as_of)]
    whole = sum((c.weight or Fraction(0) for c in there), Fraction(0))
    return {c.id: HUNDRED * (c.weight or 0) / whole for c in there} if whole else {}


def _has_percentage(category: Category, recorded: Collection[str], as_of: date) -> bool:
    return any(item.id in recorded or blank_counts(category, item, as_of) for item in category.regular)


def item_worth(plan: Plan, category: Category) -> dict[str, Fraction]:
    """Points of the final grade that each regular item carries when everything is scored.

    Where items of one size are dropped, those that stay share the weight; else it is the worth before drops.
    """
    if plan.basis == "points":
        whole = sum((points_total(c) for c in plan.categories if not c.extra), Fraction(0))
        return {i.id: HUNDRED * i.points / whole for i in category.counting} if whole else {}
    sizes = {i.id: size_of(i, category.split) for i in category.regular}
    if not sizes or category.weight is None:
        return {}
    whole = sum(sizes.values(), Fraction(0))
    if len(set(sizes.values())) == 1:
        whole = whole * _kept(category, len(sizes)) / len(sizes)
    return {item: category.weight * size / whole for item, size in sizes.items()}


def _kept(category: Category, count: int) -> int:
    if category.extra:
        return count
    lowest = category.drop_lowest if category.keep_best is None else count - category.keep_best
    return max(1, count - max(0, lowest) - category.drop_highest)


def worth_words(plan: Plan, category: Category) -> str:
    """What one item is worth, in words; empty without items."""
    worth = item_worth(plan, category)
    if not worth:
        return ""
    values = sorted(set(worth.values()))
    if len(values) == 1:
        lead = "It is" if len(worth) == 1 else "Each is"
        return f"{lead} worth {_figure(values[0])} of the final grade."
    return f"Items are worth {trimmed(values[0], 2)} to {_figure(values[-1])} of the final grade."


def _figure(value: Fraction) -> str:
    shown = trimmed(value, 2)
    return f"{shown} point" if shown == "1" else f"{shown} points"


def counts_times_points(items: Sequence[Item]) -> str:
    """'10 × 10 + 2 × 50 = 200': equal points one after another taken together."""
    if not items:
        return ""
    runs = [(points, len(list(run))) for points, run in groupby(items, key=lambda item: item.points)]
    total = sum((item.points for item in items), Fraction(0))
    terms = " + ".join(f"{count} × {exact_text(points)}" if count > 1 else exact_text(points) for points, count in runs)
    return f"{terms} = {exact_text(total)}" if len(items) > 1 else exact_text(total)


def points_in_all(plan: Plan) -> Fraction:
    """What a points course is out of: the regular counting items of its ordinary categories."""
    return sum((points_total(c) for c in plan.categories if not c.extra), Fraction(0))


def cutoffs_in_points(plan: Plan) -> Mapping[int, Fraction]:
    """Each row's cutoff in points of the whole, under the points basis."""
    whole = points_in_all(plan)
    if plan.basis != "points" or not whole:
        return {}
    return {index: row.cutoff * whole / HUNDRED for index, row in enumerate(plan.scale)}


def heaviest_item(plan: Plan) -> Item | None:
    """The one item with the largest share of the course, where that is 15% or more and no other has as much."""
    shares = [
        (item_share(plan, category, item), item)
        for category in plan.categories if not category.extra for item in category.regular
    ]  # fmt: skip
    most = max((share for share, _ in shares), default=Fraction(0))
    first = [item for share, item in shares if share == most]
    return first[0] if most >= HEAVY and len(first) == 1 else None


def item_share(plan: Plan, category: Category, item: Item) -> Fraction:
    """An item's part of the course before drops, in percent."""
    if plan.basis == "points":
        whole = sum((i.points for c in plan.categories if not c.extra for i in c.regular), Fraction(0))
        return HUNDRED * item.points / whole
    sizes = sum((size_of(one, category.split) for one in category.regular), Fraction(0))
    return (category.weight or Fraction(0)) * size_of(item, category.split) / sizes if sizes else Fraction(0)
