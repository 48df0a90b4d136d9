"""The plan of a section with the new items of a file in it."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from vinemark.core.base.names import same_name
from vinemark.core.base.refused import ratio
from vinemark.core.bring.columns import BroughtColumn
from vinemark.core.plan.edit import new_id
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan

Weights = Mapping[str, str]
"""Weights of new categories as typed, by their names."""


@dataclass(frozen=True)
class Drafted:
    """The plan, the item of each column, and the new categories with their weights (None: not known)."""

    plan: Plan
    item_of: Mapping[int, str]
    categories: Sequence[tuple[str, Fraction | None]]


def drafted_plan(
    plan: Plan,
    columns: Sequence[BroughtColumn],
    groups: Mapping[str, Fraction | None],
    typed: Weights | None = None,
    used: Collection[str] = (),
) -> Drafted:
    """The plan with an item for every column that is a new one, in its category, a new one where the plan has none.

    `groups` are weights that the file says, by group, `typed` what a person says. A plan that had nothing goes by
    weights where all its categories have one, else by points. Raises Refused at 'weight-Quizzes'.
    """
    item_of = {one.column: one.item_id for one in columns if one.use == "score"}
    new = [one for one in columns if one.use == "new" and one.points is not None]
    names = list(dict.fromkeys(one.category for one in new))
    ids = {*used, *plan.columns, *(c.id for c in plan.categories)}
    made = plan
    fresh: list[tuple[str, Fraction | None]] = []
    for name in names:
        mine = [one for one in new if one.category == name]
        items = []
        for one in mine:
            item_id = new_id("i", ids)
            ids.add(item_id)
            item_of[one.column] = item_id
            items.append(Item(item_id, one.name, one.points or Fraction(1), extra=one.extra, due=one.due))
        known = next((c for c in plan.categories if same_name(c.name) == same_name(name)), None)
        if known is not None:
            made = _with_items(made, known.id, items)
            continue
        weight = _weight(name, mine, groups, typed or {})
        category = _category(new_id("c", ids), name, items, weight, mine)
        ids.add(category.id)
        fresh.append((name, weight))
        made = replace(made, categories=(*made.categories, category))
    return Drafted(_on_its_basis(made, plan, fresh), item_of, fresh)


def _with_items(plan: Plan, category_id: str, items: Sequence[Item]) -> Plan:
    return replace(
        plan,
        categories=tuple(
            replace(c, items=(*c.items, *_shared(c, items))) if c.id == category_id else c for c in plan.categories
        ),
    )


def _shared(category: Category, items: Sequence[Item]) -> Sequence[Item]:
    """New items of a category by own shares start at 0: what the others have adds up already."""
    return [replace(i, share=Fraction(0)) for i in items] if category.split == "own_shares" else items


def _weight(
    name: str, mine: Sequence[BroughtColumn], groups: Mapping[str, Fraction | None], typed: Weights
) -> Fraction | None:
    if typed.get(name, "").strip():
        return ratio(typed[name].strip().removesuffix("%").strip(), f"weight-{name}")
    own = [one.weight for one in mine if one.weight is not None and not one.extra]
    regular = [one for one in mine if not one.extra]
    if groups.get(name) is not None:
        return groups[name]
    return sum(own, Fraction(0)) if own and len(own) == len(regular) else None


def _category(
    category_id: str, name: str, items: Sequence[Item], weight: Fraction | None, mine: Sequence[BroughtColumn]
) -> Category:
    """A new category; items with weights of their own share by them where these are not their points' shares."""
    made = Category(category_id, name, weight, items=tuple(items))
    if items and all(item.extra for item in items):
        return replace(made, extra=True, items=tuple(replace(item, extra=False) for item in items))
    own = [one.weight for one in mine]
    if len(items) > 1 and weight and all(one is not None for one in own):
        shares = [HUNDRED * (one or 0) / weight for one in own]
        made = replace(
            made, split="own_shares",
            items=tuple(replace(item, share=share) for item, share in zip(items, shares, strict=True)),
        )  # fmt: skip
    return made


def _on_its_basis(made: Plan, before: Plan, fresh: Sequence[tuple[str, Fraction | None]]) -> Plan:
    """The plan by weights or points, each category as its basis needs it."""
    regular = [c for c in made.categories if not c.extra]
    weighted = (
        before.basis == "weighted"
        if before.categories
        else bool(regular) and all(c.weight is not None for c in regular)
    )
    if not weighted:
        return replace(made, basis="points", categories=tuple(_by_points(c) for c in made.categories))
    weights = tuple(replace(c, weight=c.weight if c.weight is not None else Fraction(0)) for c in made.categories)
    return replace(made, basis="weighted", categories=weights)


def _by_points(category: Category) -> Category:
    items = tuple(replace(item, share=None) for item in category.items)
    return replace(category, split="by_points", items=items)
