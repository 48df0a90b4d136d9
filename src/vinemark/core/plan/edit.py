"""Edits of a plan: each takes a plan and returns the changed one, or raises Refused at a field.

Places of refusals are the names of the fields typed into: 'weight', 'points', 'name' ...
"""

import re
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TypeVar

from vinemark.core.base.limits import DROP_LIMIT, more_than
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused, above_zero, count, number, one_of, ratio
from vinemark.core.plan.plan import (
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
from vinemark.core.plan.scale_text import PastedScale, read_pasted_scale
from vinemark.core.plan.worth import points_in_all

_Row = TypeVar("_Row", bound=Category | Item)
NAME_LENGTH = 120


def empty_plan() -> Plan:
    """What a new section starts with: weighted, letters by whole tens, to be changed to the syllabus."""
    tens = zip("ABCDF", (90, 80, 70, 60, 0), strict=True)
    return Plan("weighted", scale=tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in tens))


def clean_name(typed: str) -> str:
    """A name with single blanks; refused when empty or overlong."""
    name = " ".join(typed.split())
    if not name:
        raise Refused("name", "type a name")
    if len(name) > NAME_LENGTH:
        raise Refused("name", f"must not be longer than {NAME_LENGTH} characters")
    return name


def typed_number(typed: str, index: str) -> str:
    """What was typed, with a percent sign and blanks around it taken off."""
    found = typed.strip().removesuffix("%").strip()
    if not found:
        raise Refused(index, "type a number")
    return found


def read_weight(typed: str) -> Fraction:
    """A weight as typed: '20', '20%', '100/3'."""
    return ratio(typed_number(typed, "weight"), "weight")


def add_category(plan: Plan, name: str, weight: str, used: Collection[str] = ()) -> Plan:
    """A new category at the end. A weighted plan needs its weight; 0 is said by typing it.

    `used` are ids that the plan once had.
    """
    category = Category(new_id("c", {*used, *(c.id for c in plan.categories)}), clean_name(name))
    if plan.basis == "weighted" or weight.strip():
        category = replace(category, weight=read_weight(weight))
    return replace(plan, categories=(*plan.categories, category))


def add_extra_category(plan: Plan, name: str, most: str, capped: bool, used: Collection[str] = ()) -> Plan:
    """Extra credit on top of the course, worth up to `most` percentage points; with a cap, at most that."""
    plan = add_category(plan, name, most, used)
    extra = replace(plan.categories[-1], extra=True, cap=HUNDRED if capped else None)
    return replace(plan, categories=(*plan.categories[:-1], extra))


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
    return replace(plan, categories=moved_row(plan.categories, category_id, by))


def set_rule(plan: Plan, category_id: str, rule: str, value: str) -> Plan:
    """One rule of a category's sentence, by its name: split, blanks, drops, drop_by, ceiling, extra."""
    if rule not in _RULES:
        raise Refused("rule", "is not a rule")
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
    if wanted > DROP_LIMIT.most:
        raise Refused("drops", more_than(DROP_LIMIT))
    if kind == "lowest":
        return replace(category, drop_lowest=wanted, keep_best=None)
    if kind == "highest":
        return replace(category, drop_highest=wanted)
    if kind != "best" or wanted < 1:
        raise Refused("drops", "must drop the lowest or highest, or keep the best, of the items")
    return replace(category, drop_lowest=0, keep_best=wanted)


def _set_drop_by(category: Category, value: str) -> Category:
    return replace(category, drop_by=one_of(DROP_BYS)(value, "drop_by"))


def _set_cap(category: Category, value: str) -> Category:
    return replace(category, cap=_read_cap(value))


def _read_cap(value: str) -> Fraction | None:
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
    "ceiling": _set_cap,
    "extra": _set_extra,
}


def moved_row(rows: tuple[_Row, ...], row_id: str, by: int) -> tuple[_Row, ...]:
    """Rows with one of them moved up (negative) or down."""
    ids = [row.id for row in rows]
    if row_id not in ids:
        return rows
    old = ids.index(row_id)
    new = min(max(old + by, 0), len(rows) - 1)
    rest = [row for row in rows if row.id != row_id]
    return (*rest[:new], rows[old], *rest[new:])


def new_id(prefix: str, taken: Collection[str]) -> str:
    """An id that nothing in the plan has, nor anything that ever was in it (`taken`)."""
    numbers = [int(found[1]) for name in taken if (found := re.fullmatch(rf"{prefix}([0-9]{{1,9}})", name))]
    return f"{prefix}{max(numbers, default=0) + 1}"


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


def set_course_cap(plan: Plan, value: str) -> Plan:
    """A cap on the course percent; 'none' for no cap."""
    return replace(plan, cap=_read_cap(value))


@dataclass(frozen=True)
class TypedRow:
    """A row of the scale as typed. `points` is the cutoff in points of the course, `was` how it stood there."""

    letter: str
    cutoff: str
    points: str = ""
    was: str = ""

    @property
    def empty(self) -> bool:
        """Nothing stands in it."""
        return not (self.letter.strip() or self.cutoff.strip() or self.points.strip())


def set_scale(plan: Plan, rows: Sequence[TypedRow]) -> Plan:
    """The letter scale from typed rows, empty ones left out; kept in the order typed.

    Under the points basis a cutoff may be typed in points instead: where the points are not what they were, they
    are meant. A place is 'letter-2', 'from-2' or 'points-2', counted from 0.
    """
    return replace(plan, scale=tuple(_scale_row(plan, i, row) for i, row in enumerate(rows) if not row.empty))


def paste_scale(plan: Plan, text: str) -> Plan:
    """The letter scale from text as a syllabus prints it; refused, with the piece, where some is not understood."""
    found = read_pasted_scale(text)
    if found.unread:
        raise Refused("pasted", f"this part was not understood: “{found.unread[0][:60]}”")
    if not found.rows:
        raise Refused("pasted", "paste rows such as “A 93–100”")
    return replace(plan, scale=tuple(_percent_rows(plan, found)))


def _percent_rows(plan: Plan, found: PastedScale) -> Sequence[ScaleRow]:
    """The rows in percent. A points plan's scale may be in its points: what says so, goes above 100 or up to their
    sum, is."""
    whole = points_in_all(plan) if plan.basis == "points" else None
    meant = found.unit == "points" or (found.highest == whole and found.unit is None)
    if found.highest <= HUNDRED and not (whole is not None and meant):
        return found.rows
    if whole is None:
        raise Refused("pasted", f"{exact_text(found.highest)} is more than 100 percent, and this plan goes by weights")
    if not whole:
        raise Refused("pasted", "needs items with points first: this scale is in points")
    if found.highest > whole:
        said = f"{exact_text(found.highest)} is more than the {exact_text(whole)} points of the plan"
        raise Refused("pasted", said)
    return [replace(row, cutoff=HUNDRED * row.cutoff / whole) for row in found.rows]


def _scale_row(plan: Plan, index: int, row: TypedRow) -> ScaleRow:
    name = row.letter.strip().replace("−", "-").replace("–", "-")
    if not name:
        raise Refused(f"letter-{index}", "name the letter")
    if len(name) > 8:
        raise Refused(f"letter-{index}", "must not be longer than 8 characters")
    if plan.basis == "points" and row.points.strip() != row.was.strip():
        return ScaleRow(name, _percent_of_points(plan, row.points, f"points-{index}"))
    return ScaleRow(name, ratio(typed_number(row.cutoff, f"from-{index}"), f"from-{index}"))


def _percent_of_points(plan: Plan, typed: str, index: str) -> Fraction:
    """A cutoff in points as an exact percent: 188 of 250 is 75.2."""
    whole = points_in_all(plan)
    points = number(typed_number(typed, index), index)
    if not whole:
        raise Refused(index, "needs items with points first")
    return HUNDRED * points / whole


def with_scale(plan: Plan, rows: Sequence[ScaleRow]) -> Plan:
    """Another letter scale as a whole."""
    return replace(plan, scale=tuple(rows))
