"""The plan of a course file: parsed JSON values to a Plan."""

from fractions import Fraction

from vinemark.core.base.number import ROUNDING_WAYS
from vinemark.core.base.refused import (
    Keys,
    Refused,
    above_zero,
    any_text,
    count,
    flag,
    iso_day,
    number,
    one_of,
    ratio,
    refuse_repeat,
    rows,
    text,
)
from vinemark.core.course.read_rules import (
    read_alternative,
    read_decimals,
    read_late,
    read_recorded,
    read_replacement,
    read_requirement,
    read_round_to,
    read_symbols,
    refuse_unknown,
)
from vinemark.core.plan import plan as p
from vinemark.core.plan.scale import scale_faults

_ITEM_KEYS = ("id", "name", "points", "extra", "share", "counts", "droppable", "due", "short")
_CATEGORY_KEYS = (
    "id", "name", "weight", "extra", "split", "drop_lowest", "drop_highest", "keep_best",
    "drop_by", "blanks", "ceiling", "items", "late", "symbols", "rounding", "short",
)  # fmt: skip
_PLAN_KEYS = (
    "basis", "ceiling", "rounding", "scale", "categories", "replacements", "alternatives", "requirements", "added",
    "recorded",
)  # fmt: skip


def read_plan(value: object, field: str = "plan") -> p.Plan:
    """A plan; a broken scale is taken (the audit reports it), and what is beyond the limits (doors refuse it)."""
    keys = Keys(value, field, _PLAN_KEYS)
    basis = keys.needed("basis", one_of(p.BASES))
    plan = p.Plan(
        basis=basis,
        categories=keys.needed("categories", rows(_read_category)),
        scale=keys.maybe("scale", rows(_read_scale_row)) or (),
        rounding=keys.maybe("rounding", _read_rounding),
        cap=keys.maybe("ceiling", number),
        replacements=keys.given("replacements", rows(read_replacement), ()),
        alternatives=keys.given("alternatives", rows(read_alternative), ()),
        requirements=keys.given("requirements", rows(read_requirement), ()),
        added=keys.given("added", number, Fraction(0)),
        recorded=keys.given("recorded", rows(read_recorded), ()),
    )
    _refuse_weightless(plan, keys.at("categories"))
    _refuse_repeats(plan, keys.field)
    refuse_unknown(plan, keys.field)
    return plan


def _refuse_weightless(plan: p.Plan, field: str) -> None:
    if plan.basis != "weighted":
        return
    for i, category in enumerate(plan.categories):
        if category.weight is None:
            raise Refused(f"{field}[{i}].weight", "is missing: a weighted plan needs it")


def _refuse_repeats(plan: p.Plan, field: str) -> None:
    refuse_repeat([c_.id for c_ in plan.categories], lambda i: f"{field}.categories[{i}].id")
    places = [
        f"{field}.categories[{i}].items[{j}].id" for i, c_ in enumerate(plan.categories) for j in range(len(c_.items))
    ]
    places += [f"{field}.recorded[{i}].id" for i in range(len(plan.recorded))]
    refuse_repeat([*(item.id for _, item in plan.items()), *(one.id for one in plan.recorded)], lambda i: places[i])


def _read_category(value: object, field: str) -> p.Category:
    keys = Keys(value, field, _CATEGORY_KEYS)
    category = p.Category(
        id=keys.needed("id", text),
        name=keys.needed("name", text),
        weight=keys.maybe("weight", ratio),
        extra=keys.given("extra", flag, False),
        split=keys.given("split", one_of(p.SPLITS), "by_points"),
        drop_lowest=keys.given("drop_lowest", count, 0),
        drop_highest=keys.given("drop_highest", count, 0),
        keep_best=keys.maybe("keep_best", count),
        drop_by=keys.given("drop_by", one_of(p.DROP_BYS), "helps_most"),
        blanks=keys.given("blanks", one_of(p.BLANKS), "wait"),
        cap=keys.maybe("ceiling", number),
        items=keys.needed("items", rows(_read_item)) if "items" in keys.value else (),
        late=keys.maybe("late", read_late),
        symbols=keys.given("symbols", read_symbols, ()),
        rounding=keys.maybe("rounding", read_round_to),
        label=keys.maybe("short", any_text) or "",
    )
    _refuse_contradictions(category, field)
    return category


def _refuse_contradictions(category: p.Category, field: str) -> None:
    if category.keep_best is not None and category.keep_best < 1:
        raise Refused(f"{field}.keep_best", "must be 1 or more")
    if category.keep_best is not None and category.drop_lowest > 0:
        raise Refused(f"{field}.keep_best", "cannot stand beside drop_lowest")
    if category.split == "own_shares":
        for i, item in enumerate(category.items):
            if item.share is None:
                raise Refused(f"{field}.items[{i}].share", "is missing: own shares need one for every item")


def _read_item(value: object, field: str) -> p.Item:
    keys = Keys(value, field, _ITEM_KEYS)
    return p.Item(
        id=keys.needed("id", text),
        name=keys.needed("name", text),
        points=keys.needed("points", above_zero(number)),
        extra=keys.given("extra", flag, False),
        share=keys.maybe("share", above_zero(ratio)),
        counts=keys.given("counts", flag, True),
        droppable=keys.given("droppable", flag, True),
        due=keys.maybe("due", iso_day),
        label=keys.maybe("short", any_text) or "",
    )


def _read_scale_row(value: object, field: str) -> p.ScaleRow:
    keys = Keys(value, field, ("letter", "from"))
    return p.ScaleRow(keys.needed("letter", text), keys.needed("from", ratio))


def _read_rounding(value: object, field: str) -> p.Rounding:
    keys = Keys(value, field, ("decimals", "letter_uses", "way"))
    return p.Rounding(
        keys.needed("decimals", read_decimals),
        keys.needed("letter_uses", one_of(p.LETTER_USES)),
        keys.given("way", one_of(ROUNDING_WAYS), "nearest"),
    )


def refuse_broken_scale(plan: p.Plan) -> None:
    """Refuse a scale that gives no clear letter: what works with letters only calls this."""
    faults = scale_faults(plan.scale)
    if faults:
        raise Refused("plan.scale", "; ".join(faults))
