"""Edits of a plan's items: each takes a plan and returns the changed one, or raises Refused at a field.

Places of refusals are the names of the fields typed into: 'name', 'points', 'due' ...
"""

import re
from collections.abc import Collection
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction

from vinemark.core.base.limits import EVERY_LIMIT, more_than
from vinemark.core.base.names import singular
from vinemark.core.base.refused import Refused, above_zero, count, iso_day, number, ratio
from vinemark.core.plan.edit import add_category, change_category, clean_name, moved_row, new_id, typed_number
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.series_dates import read_series_dates

SERIES_LENGTH = 60
LABEL_LENGTH = 16


def read_points(typed: str) -> Fraction:
    """An item's points as typed."""
    return above_zero(number)(typed_number(typed, "points"), "points")


def read_due(typed: str) -> date | None:
    """A due date as typed, none when empty."""
    return iso_day(typed.strip(), "due") if typed.strip() else None


@dataclass(frozen=True)
class TypedItem:
    """An item's fields as typed."""

    name: str
    points: str
    due: str = ""
    share: str = ""
    extra: bool = False
    planned: bool = False
    protected: bool = False
    label: str = ""


def add_item(plan: Plan, category_id: str, typed: TypedItem, used: Collection[str] = ()) -> Plan:
    """A new item at the end of a category; `used` are ids that the plan once had, whose scores may still be kept."""
    fresh = Item(new_id("i", {*used, *plan.columns}), "new", Fraction(1))
    return change_category(plan, category_id, lambda c: replace(c, items=(*c.items, _filled_in(c, fresh, typed))))


def add_items(plan: Plan, category_id: str, typed: TypedItem, every: str = "", used: Collection[str] = ()) -> Plan:
    """One item, or several: 'Map quiz 1–8' makes eight, each due `every` so many days after the one before."""
    days = count(every, "every") if every.strip() else 0
    if days > EVERY_LIMIT.most:
        raise Refused("every", more_than(EVERY_LIMIT))
    due = read_due(typed.due)
    names = series_names(typed.name)
    for step, (name, label) in enumerate(zip(names, _series_labels(typed.label, len(names)), strict=True)):
        when = (due + timedelta(days=days * step)).isoformat() if due else ""
        plan = add_item(plan, category_id, replace(typed, name=name, label=label, due=when), used)
    return plan


def add_filled_category(
    plan: Plan, typed: tuple[str, str], number_of: str, points: str, used: Collection[str] = ()
) -> Plan:
    """A new category (name, weight) with so many items of so many points, named after it: Map quiz 1, Map quiz 2.

    Without a number it stays empty; a single item is called like its category.
    """
    name, weight = typed
    plan = add_category(plan, name, weight, used)
    if not number_of.strip() and not points.strip():
        return plan
    many = count(typed_number(number_of, "number_of"), "number_of")
    if not 0 < many <= SERIES_LENGTH:
        raise Refused("number_of", f"must be 1 to {SERIES_LENGTH}")
    made = plan.categories[-1]
    item = singular(made.name)
    names = f"{item} 1–{many}" if many > 1 else made.name
    return add_items(plan, made.id, TypedItem(names, points), used=used)


def _series_labels(typed: str, length: int) -> list[str]:
    """Labels for a series: 'MQ 1–8' counts up by itself, 'MQ' gets a number."""
    labels = series_names(typed)
    if len(labels) == length:
        return labels
    return [f"{typed.strip()} {n + 1}" for n in range(length)]


def series_names(typed: str) -> list[str]:
    """The names that a typed one stands for: 'Quiz 2–4' is Quiz 2, Quiz 3 and Quiz 4."""
    match = re.fullmatch(r"(.*\D)?(\d{1,3})\s*(?:[-–—]|\.\.|to)\s*(\d{1,3})", " ".join(typed.split()))
    if match is None:
        return [typed]
    first, last = int(match[2]), int(match[3])
    if not first < last < first + SERIES_LENGTH:
        raise Refused("name", f"must count up, {SERIES_LENGTH} items at most")
    return [f"{match[1] or ''}{number}" for number in range(first, last + 1)]


def change_item(plan: Plan, item_id: str, typed: TypedItem) -> Plan:
    """Another name, points, due date or rule of an item."""
    _known_item(plan, item_id)

    def changed(category: Category) -> Category:
        items = (_filled_in(category, i, typed) if i.id == item_id else i for i in category.items)
        return replace(category, items=tuple(items))

    return replace(plan, categories=tuple(changed(c) for c in plan.categories))


def _filled_in(category: Category, item: Item, typed: TypedItem) -> Item:
    return replace(
        item,
        name=clean_name(typed.name),
        points=read_points(typed.points),
        due=read_due(typed.due),
        share=_read_share(category, item, typed.share),
        extra=typed.extra,
        counts=not typed.planned,
        droppable=not typed.protected,
        label=_read_label(typed.label),
    )


def _read_label(typed: str) -> str:
    label = " ".join(typed.split())
    if len(label) > LABEL_LENGTH:
        raise Refused("label", f"must not be longer than {LABEL_LENGTH} characters")
    return label


def _read_share(category: Category, item: Item, typed: str) -> Fraction | None:
    """A share as typed; an empty one is refused where the category needs it, and else stays as it was."""
    if not typed.strip() and category.split != "own_shares":
        return item.share
    return above_zero(ratio)(typed_number(typed, "share"), "share")


def delete_item(plan: Plan, item_id: str) -> Plan:
    """The plan without an item; its scores stay kept for an undo."""
    kept = (replace(c, items=tuple(i for i in c.items if i.id != item_id)) for c in plan.categories)
    return replace(plan, categories=tuple(kept))


def move_item(plan: Plan, item_id: str, by: int) -> Plan:
    """An item moved within its category."""
    return replace(plan, categories=tuple(replace(c, items=moved_row(c.items, item_id, by)) for c in plan.categories))


def file_item(plan: Plan, item_id: str, category_id: str, index: int | None = None) -> Plan:
    """An item put into a category, before the item that stands at `place` (counted without it), or at its end."""
    item = _known_item(plan, item_id)
    at_home = category_id in [c.id for c, i in plan.items() if i.id == item_id]
    without = delete_item(plan, item_id)

    def filed(category: Category) -> Category:
        rows = list(category.items)
        joined = item if at_home else _at_home(category, item)
        rows.insert(len(rows) if index is None else min(max(index, 0), len(rows)), joined)
        return replace(category, items=tuple(rows))

    return change_category(without, category_id, filed)


def _at_home(category: Category, item: Item) -> Item:
    """An item as it joins a category: under own shares it gets an equal one where it has none."""
    if category.split != "own_shares" or item.share is not None:
        return item
    return replace(item, share=HUNDRED / (len(category.items) + 1))


def _known_item(plan: Plan, item_id: str) -> Item:
    item = plan.item(item_id)
    if item is None:
        raise Refused("item", "this item is no longer in the plan")
    return item


@dataclass(frozen=True)
class GroupEdit:
    """What several chosen items get together; an empty text leaves a field as it is."""

    points: str = ""
    days: str = ""
    dates: str = ""
    counts: str = ""
    protected: str = ""
    extra: str = ""
    category: str = ""


def change_items(plan: Plan, chosen: Collection[str], wanted: GroupEdit) -> Plan:
    """Several items changed in one edit: points, dates given or shifted, yes-or-no rules, another category."""
    if not chosen:
        raise Refused("chosen", "choose the items first")
    for item_id in chosen:
        _known_item(plan, item_id)
    points = read_points(wanted.points) if wanted.points.strip() else None
    days = read_days(wanted.days)
    ordered = [item.id for _, item in plan.items() if item.id in chosen]
    given = read_series_dates(wanted.dates, len(ordered), plan) if wanted.dates.strip() else []
    dates = dict(zip(ordered, given, strict=False))

    def changed(item: Item) -> Item:
        if item.id not in chosen:
            return item
        return replace(
            item,
            points=points or item.points,
            due=dates.get(item.id) or (item.due and item.due + timedelta(days=days)),
            counts=_yes(wanted.counts, item.counts),
            droppable=not _yes(wanted.protected, not item.droppable),
            extra=_yes(wanted.extra, item.extra),
        )

    made = tuple(replace(c, items=tuple(changed(i) for i in c.items)) for c in plan.categories)
    plan = replace(plan, categories=made)
    if wanted.category:
        for item_id in [i.id for _, i in plan.items() if i.id in chosen]:
            plan = file_item(plan, item_id, wanted.category)
    return plan


def delete_items(plan: Plan, chosen: Collection[str]) -> Plan:
    """The plan without several items; their scores stay kept for an undo."""
    if not chosen:
        raise Refused("chosen", "choose the items first")
    for item_id in chosen:
        plan = delete_item(plan, item_id)
    return plan


def read_days(typed: str) -> int:
    """Days as typed, '7' or '-7'; nothing typed is 0."""
    text = typed.strip().replace("−", "-")
    if not text:
        return 0
    sign = -1 if text.startswith("-") else 1
    days = sign * count(text.removeprefix("-").removeprefix("+"), "days")
    if abs(days) > 4000:
        raise Refused("days", "must be 4000 or less")
    return days


def _yes(wanted: str, now: bool) -> bool:
    return now if wanted not in {"yes", "no"} else wanted == "yes"
