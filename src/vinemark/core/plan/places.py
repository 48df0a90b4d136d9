"""Which places of a plan differ between two states of it: what two people can change without meeting."""

from collections.abc import Iterator
from dataclasses import fields

from vinemark.core.plan.plan import Category, Item, Plan


def changed_places(before: Plan, after: Plan) -> frozenset[str]:
    """The places that hold something else: 'scale', 'c1.weight', 'i3.due', 'order of c1'.

    What only one of the two plans has differs in all its places.
    """
    first, second = dict(_places(before)), dict(_places(after))
    return frozenset(name for name in first.keys() | second.keys() if first.get(name) != second.get(name)) | _orders(
        before, after
    )


def _places(plan: Plan) -> Iterator[tuple[str, object]]:
    yield from ((field.name, getattr(plan, field.name)) for field in fields(plan) if field.name != "categories")
    for category in plan.categories:
        yield from _parts(category)
        for item in category.items:
            yield from _parts(item)
            yield f"{item.id}.category", category.id


def _parts(part: Category | Item) -> Iterator[tuple[str, object]]:
    yield from (
        (f"{part.id}.{field.name}", getattr(part, field.name)) for field in fields(part) if field.name != "items"
    )


def _orders(before: Plan, after: Plan) -> frozenset[str]:
    first, second = _lists(before), _lists(after)
    return frozenset(f"order of {name}" for name in first.keys() & second.keys() if _common(first[name], second[name]))


def _lists(plan: Plan) -> dict[str, list[str]]:
    return {"categories": [c.id for c in plan.categories], **{c.id: [i.id for i in c.items] for c in plan.categories}}


def _common(first: list[str], second: list[str]) -> bool:
    """Whether what both have stands in another order."""
    return [name for name in first if name in second] != [name for name in second if name in first]
