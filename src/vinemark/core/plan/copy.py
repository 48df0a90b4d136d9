"""A plan copied from another section or another term."""

from collections.abc import Collection
from dataclasses import replace
from datetime import timedelta

from vinemark.core.base.names import folded
from vinemark.core.plan.edit import new_id
from vinemark.core.plan.plan import Category, Item, Plan


def copied(source: Plan, into: Plan, days: int, used: Collection[str] = ()) -> Plan:
    """The source's plan for another section, due dates shifted by some days.

    What the target has by name keeps its id, and with it its scores; the rest gets ids
    that the target never had (`used`), so that no kept score can turn up under another item.
    """
    own = {folded(c.name): c for c in reversed(into.categories)}
    taken = {*used, *(c.id for c in into.categories), *(i.id for _, i in into.items())}
    made: list[Category] = []
    claimed: set[str] = set()
    for category in source.categories:
        like = own.get(folded(category.name))
        category_id = like.id if like and like.id not in claimed else new_id("c", taken)
        claimed.add(category_id)
        taken.add(category_id)
        items = _items(category, like, days, taken, claimed)
        made.append(replace(category, id=category_id, items=items))
    return replace(source, categories=tuple(made))


def _items(
    category: Category, like: Category | None, days: int, taken: set[str], claimed: set[str]
) -> tuple[Item, ...]:
    own = {folded(i.name): i.id for i in reversed(like.items)} if like else {}
    made = []
    for item in category.items:
        found = own.get(folded(item.name))
        item_id = found if found and found not in claimed else new_id("i", taken)
        claimed.add(item_id)
        taken.add(item_id)
        made.append(replace(item, id=item_id, due=item.due and item.due + timedelta(days=days)))
    return tuple(made)
