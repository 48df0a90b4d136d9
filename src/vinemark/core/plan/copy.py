"""A plan copied from another section or another term."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from datetime import timedelta
from typing import TypeVar

from vinemark.core.base.names import folded
from vinemark.core.plan.edit import new_id
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import Condition, RecordedItem

_Thing = TypeVar("_Thing", Item, RecordedItem)


def copied(source: Plan, into: Plan, days: int, used: Collection[str] = ()) -> Plan:
    """The source's plan for another section, due dates shifted by some days.

    What the target has by name keeps its id, and with it its scores; the rest gets ids
    that the target never had (`used`), so that no kept score can turn up under another item.
    """
    own = {folded(c.name): c for c in reversed(into.categories)}
    taken = {*used, *(c.id for c in into.categories), *into.columns}
    made: list[Category] = []
    claimed: set[str] = set()
    ids: dict[str, str] = {}
    for category in source.categories:
        like = own.get(folded(category.name))
        category_id = like.id if like and like.id not in claimed else new_id("c", taken)
        claimed.add(category_id)
        taken.add(category_id)
        items = _shifted(category.items, like.items if like else (), days, taken, claimed)
        made.append(replace(category, id=category_id, items=items))
        ids[category.id] = category_id
        ids.update({old.id: new.id for old, new in zip(category.items, items, strict=True)})
    recorded = _shifted(source.recorded, into.recorded, days, taken, claimed)
    ids.update({old.id: new.id for old, new in zip(source.recorded, recorded, strict=True)})
    return _with_rules(replace(source, categories=tuple(made), recorded=recorded), ids)


def _with_rules(plan: Plan, ids: Mapping[str, str]) -> Plan:
    """The rules with what they name under its new id."""
    return replace(
        plan,
        replacements=tuple(replace(o, source=ids[o.source], into=ids[o.into]) for o in plan.replacements),
        alternatives=tuple(
            replace(o, weights={ids[c]: weight for c, weight in o.weights.items()}) for o in plan.alternatives
        ),
        requirements=tuple(replace(o, condition=_renamed(o.condition, ids)) for o in plan.requirements),
    )


def _renamed(condition: Condition, ids: Mapping[str, str]) -> Condition:
    return replace(
        condition,
        category=ids[condition.category] if condition.category else None,
        item=ids[condition.item] if condition.item else None,
    )


def _shifted(
    things: Sequence[_Thing], like: Sequence[_Thing], days: int, taken: set[str], claimed: set[str]
) -> tuple[_Thing, ...]:
    """Items, or what is only recorded, with later dates; each under the id that the target has for its name."""
    own = {folded(one.name): one.id for one in reversed(like)}
    made = []
    for one in things:
        found = own.get(folded(one.name))
        own_id = found if found and found not in claimed else new_id("i", taken)
        claimed.add(own_id)
        taken.add(own_id)
        made.append(replace(one, id=own_id, due=one.due and one.due + timedelta(days=days)))
    return tuple(made)
