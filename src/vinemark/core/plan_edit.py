"""Edits of a plan: each takes a plan and returns the changed one, or raises Refused at a field.

Places of refusals are the names of the fields typed into: 'weight', 'points', 'name' ...
"""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction
from typing import TypeVar

from vinemark.core.course_format import Refused, above_zero, count, day, number, one_of, ratio
from vinemark.core.plan import (
    BASES,
    BLANKS,
    DROP_BYS,
    HUNDRED,
    LETTER_USES,
    SPLITS,
    Category,
    Item,
    Plan,
    Rounding,
    ScaleRow,
)
from vinemark.core.scale_text import read_scale

Row = TypeVar("Row", bound=Category | Item)
NAME_LENGTH = 120
SERIES_LENGTH = 60


def empty_plan() -> Plan:
    """What a new section starts with: weighted, letters by whole tens, to be changed to the syllabus."""
    tens = zip("ABCDF", (90, 80, 70, 60, 0), strict=True)
    return Plan("weighted", scale=tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in tens))


def clean_name(typed: str) -> str:
    """A name with single blanks; refused when empty or overlong."""
    name = " ".join(typed.split())
    if not name:
        raise Refused("name", "give it a name")
    if len(name) > NAME_LENGTH:
        raise Refused("name", f"must not be longer than {NAME_LENGTH} characters")
    return name


def typed_number(typed: str, place: str) -> str:
    """What was typed, with a percent sign and blanks around it taken off."""
    found = typed.strip().removesuffix("%").strip()
    if not found:
        raise Refused(place, "type a number")
    return found


def read_weight(typed: str) -> Fraction:
    """A weight as typed: '20', '20%', '100/3'."""
    return ratio(typed_number(typed, "weight"), "weight")


def read_points(typed: str) -> Fraction:
    """An item's points as typed."""
    return above_zero(number)(typed_number(typed, "points"), "points")


def read_due(typed: str) -> date | None:
    """A due date as typed, none when empty."""
    return day(typed.strip(), "due") if typed.strip() else None


# --- categories -------------------------------------------------------------------------------


def add_category(plan: Plan, name: str, weight: str) -> Plan:
    """A new category at the end. A weighted plan needs its weight; 0 is said by typing it."""
    category = Category(_new_id("c", [c.id for c in plan.categories]), clean_name(name))
    if plan.basis == "weighted" or weight.strip():
        category = replace(category, weight=read_weight(weight))
    return replace(plan, categories=(*plan.categories, category))


def change_category(plan: Plan, category_id: str, change: Callable[[Category], Category]) -> Plan:
    """The plan with one category changed; refused when it is gone."""
    if plan.category(category_id) is None:
        raise Refused("category", "this category is no longer in the plan")
    return replace(plan, categories=tuple(change(c) if c.id == category_id else c for c in plan.categories))


def rename_category(plan: Plan, category_id: str, name: str) -> Plan:
    """Another name for a category."""
    return change_category(plan, category_id, lambda c: replace(c, name=clean_name(name)))


def set_weight(plan: Plan, category_id: str, weight: str) -> Plan:
    """Another weight; the others stay as typed."""
    return change_category(plan, category_id, lambda c: replace(c, weight=read_weight(weight)))


def delete_category(plan: Plan, category_id: str) -> Plan:
    """The plan without a category and its items."""
    return replace(plan, categories=tuple(c for c in plan.categories if c.id != category_id))


def move_category(plan: Plan, category_id: str, by: int) -> Plan:
    """A category moved up (negative) or down."""
    return replace(plan, categories=_moved(plan.categories, category_id, by))


def set_rule(plan: Plan, category_id: str, rule: str, value: str) -> Plan:
    """One rule of a category's sentence, by its name: split, blanks, drops, drop_by, ceiling, extra."""
    if rule not in _RULES:
        raise Refused("rule", "is not a rule of a category")
    return change_category(plan, category_id, lambda c: _RULES[rule](c, value))


def _set_split(category: Category, value: str) -> Category:
    """Another split. Own shares start as equal ones, exact (100/3 for three), where an item has none."""
    split = one_of(SPLITS)(value, "split")
    if split == "own_shares" and any(item.share is None for item in category.items):
        equal = HUNDRED / max(1, len(category.regular))
        category = replace(category, items=tuple(replace(i, share=i.share or equal) for i in category.items))
    return replace(category, split=split)


def _set_blanks(category: Category, value: str) -> Category:
    return replace(category, blanks=one_of(BLANKS)(value, "blanks"))


def _set_drops(category: Category, value: str) -> Category:
    """'lowest 2', 'best 8' or 'highest 1'; the best kept takes the place of the lowest dropped."""
    kind, _, number = value.partition(" ")
    wanted = count(number, "drops")
    if kind == "lowest":
        return replace(category, drop_lowest=wanted, keep_best=None)
    if kind == "highest":
        return replace(category, drop_highest=wanted)
    if kind != "best" or wanted < 1:
        raise Refused("drops", "must drop the lowest or highest, or keep the best, of the items")
    return replace(category, drop_lowest=0, keep_best=wanted)


def _set_drop_by(category: Category, value: str) -> Category:
    return replace(category, drop_by=one_of(DROP_BYS)(value, "drop_by"))


def _set_ceiling(category: Category, value: str) -> Category:
    return replace(category, ceiling=_read_ceiling(value))


def _read_ceiling(value: str) -> Fraction | None:
    if value == "none":
        return None
    return above_zero(number)(typed_number(value, "ceiling"), "ceiling")


def _set_extra(category: Category, value: str) -> Category:
    return replace(category, extra=value == "yes")


_RULES = {
    "split": _set_split,
    "blanks": _set_blanks,
    "drops": _set_drops,
    "drop_by": _set_drop_by,
    "ceiling": _set_ceiling,
    "extra": _set_extra,
}


# --- items ------------------------------------------------------------------------------------


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


def add_item(plan: Plan, category_id: str, typed: TypedItem) -> Plan:
    """A new item at the end of a category."""
    fresh = Item(_new_id("i", [i.id for _, i in plan.items()]), "new", Fraction(1))
    return change_category(plan, category_id, lambda c: replace(c, items=(*c.items, _filled_in(c, fresh, typed))))


def add_items(plan: Plan, category_id: str, typed: TypedItem, every: str = "") -> Plan:
    """One item, or several: 'Map quiz 1–8' makes eight, each due `every` so many days after the one before."""
    days = count(every, "every") if every.strip() else 0
    due = read_due(typed.due)
    for step, name in enumerate(series_names(typed.name)):
        when = (due + timedelta(days=days * step)).isoformat() if due else ""
        plan = add_item(plan, category_id, replace(typed, name=name, due=when))
    return plan


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
    )


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
    return replace(plan, categories=tuple(replace(c, items=_moved(c.items, item_id, by)) for c in plan.categories))


def file_item(plan: Plan, item_id: str, category_id: str) -> Plan:
    """An item put into another category, at its end."""
    item = _known_item(plan, item_id)
    without = delete_item(plan, item_id)
    return change_category(without, category_id, lambda c: replace(c, items=(*c.items, _at_home(c, item))))


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


def _moved(rows: tuple[Row, ...], row_id: str, by: int) -> tuple[Row, ...]:
    ids = [row.id for row in rows]
    if row_id not in ids:
        return rows
    old = ids.index(row_id)
    new = min(max(old + by, 0), len(rows) - 1)
    rest = [row for row in rows if row.id != row_id]
    return (*rest[:new], rows[old], *rest[new:])


def _new_id(prefix: str, taken: Sequence[str]) -> str:
    numbers = [int(found[1]) for name in taken if (found := re.fullmatch(rf"{prefix}([0-9]{{1,9}})", name))]
    return f"{prefix}{max(numbers, default=0) + 1}"


# --- the whole plan ---------------------------------------------------------------------------


def set_basis(plan: Plan, basis: str) -> Plan:
    """Weighted or points. Weights stay as typed; a category without one starts at 0, which the audit says."""
    chosen = one_of(BASES)(basis, "basis")
    if chosen == "points":
        return replace(plan, basis=chosen)
    weighted = tuple(replace(c, weight=c.weight if c.weight is not None else Fraction(0)) for c in plan.categories)
    return replace(plan, basis=chosen, categories=weighted)


def set_rounding(plan: Plan, decimals: str, letter_uses: str) -> Plan:
    """Rounding of the final percent; 'none' for no rounding."""
    if decimals == "none":
        return replace(plan, rounding=None)
    places = count(decimals, "decimals")
    if places > 6:
        raise Refused("decimals", "must be 6 or less")
    return replace(plan, rounding=Rounding(places, one_of(LETTER_USES)(letter_uses, "letter_uses")))


def set_course_ceiling(plan: Plan, value: str) -> Plan:
    """A cap on the course percent; 'none' for no cap."""
    return replace(plan, ceiling=_read_ceiling(value))


def set_scale(plan: Plan, rows: Sequence[tuple[str, str]]) -> Plan:
    """The letter scale from typed (letter, from) rows, empty rows left out; kept in the order typed.

    A place is 'letter-2' or 'from-2', counted from 0.
    """
    read = [
        _scale_row(i, letter, cutoff) for i, (letter, cutoff) in enumerate(rows) if letter.strip() or cutoff.strip()
    ]
    return replace(plan, scale=tuple(read))


def paste_scale(plan: Plan, text: str) -> Plan:
    """The letter scale from text as a syllabus prints it; refused, with the piece, where some is not understood."""
    found = read_scale(text)
    if found.unread:
        raise Refused("pasted", f"this part is not understood: “{found.unread[0][:60]}”")
    if not found.rows:
        raise Refused("pasted", "paste rows such as “A 93–100”")
    return replace(plan, scale=tuple(found.rows))


def _scale_row(place: int, letter: str, cutoff: str) -> ScaleRow:
    name = letter.strip().replace("−", "-").replace("–", "-")
    if not name:
        raise Refused(f"letter-{place}", "name the letter")
    if len(name) > 8:
        raise Refused(f"letter-{place}", "must not be longer than 8 characters")
    return ScaleRow(name, ratio(typed_number(cutoff, f"from-{place}"), f"from-{place}"))
