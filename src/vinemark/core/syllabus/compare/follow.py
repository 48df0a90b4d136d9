"""The one act that makes the plan follow a clause."""

from collections.abc import Callable, Collection
from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.names import singular
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused
from vinemark.core.plan.copy import copied
from vinemark.core.plan.edit import change_category, delete_category, set_basis
from vinemark.core.plan.items import TypedItem, add_item
from vinemark.core.plan.plan import Category, Plan
from vinemark.core.plan.worth import points_in_all
from vinemark.core.syllabus.compare.draft import drafted, points_each, rounding_of, scale_of
from vinemark.core.syllabus.compare.match import Rule, blanks_spoken_of, compare_rules, said_items
from vinemark.core.syllabus.facts import Reading, SaidCategory

Follow = Callable[[Plan, Rule, Reading, Collection[str]], Plan]


def follow(plan: Plan, key: str, reading: Reading, used: Collection[str] = ()) -> tuple[Plan, str]:
    """The plan with one rule as the syllabus says it, and what was done. `used` are ids the plan once had."""
    rule = next((r for r in compare_rules(plan, reading) if r.key == key and r.state not in {"agrees"}), None)
    if rule is None:
        raise Refused("rule", "the syllabus and the plan agree on this by now")
    return FOLLOWS[rule.name](plan, rule, reading, used), f"{rule.name} made to follow the syllabus"


def follow_all(plan: Plan, reading: Reading, used: Collection[str] = ()) -> Plan:
    """The whole plan as drafted from the syllabus; what it has by name keeps its ids, and so its scores.

    Further rules stay: no fact of a syllabus says that they go.
    """
    made = copied(drafted(reading), plan, 0, used)
    return replace(
        made,
        categories=tuple(_with_further_rules(c, plan.category(c.id)) for c in made.categories),
        replacements=plan.replacements,
        alternatives=plan.alternatives,
        requirements=plan.requirements,
        added=plan.added,
        recorded=plan.recorded,
    )


def _with_further_rules(category: Category, before: Category | None) -> Category:
    if before is None:
        return category
    return replace(category, late=before.late, symbols=before.symbols, rounding=before.rounding)


def _said(rule: Rule, reading: Reading) -> SaidCategory:
    return next(c for c in reading.categories if c.name == rule.said_category)


def _basis(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    return set_basis(plan, reading.basis or plan.basis)


def _category(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    """A category that the plan lacks is added; one that the syllabus does not know is deleted."""
    if rule.state == "not in the syllabus":
        return delete_category(plan, rule.category or "")
    only = replace(reading, categories=[_said(rule, reading)], scale=())
    empty = replace(plan, categories=())
    taken = {*used, *(c.id for c in plan.categories), *plan.columns}
    made = copied(drafted(only), empty, 0, taken).categories[0]
    return replace(plan, categories=(*plan.categories, made))


def _changed(plan: Plan, rule: Rule, change: Callable[[Category], Category]) -> Plan:
    return change_category(plan, rule.category or "", change)


def _weight(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    weight = _said(rule, reading).weight
    return _changed(plan, rule, lambda c: replace(c, weight=weight))


def _points(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    """Every regular item worth the same: the points each, or its part of the category's points."""
    said = _said(rule, reading)

    def changed(category: Category) -> Category:
        regular = said_items(category)
        if not regular:
            raise Refused("rule", "the category needs items first")
        each = points_each(said, said.count or len(regular))
        return replace(category, items=tuple(replace(i, points=each) if i in regular else i for i in category.items))

    return _changed(plan, rule, changed)


def _count(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    """Items added at the end, or the last ones taken out, until there are as many as said."""
    said = _said(rule, reading)
    category = plan.category(rule.category or "")
    assert category is not None  # noqa: S101
    assert said.count is not None  # noqa: S101
    regular = said_items(category)
    for number in range(len(regular) + 1, said.count + 1):
        points = regular[-1].points if regular else points_each(said, said.count)
        name = f"{singular(category.name)} {number}" if said.count > 1 else category.name
        share = exact_text(Fraction(100, said.count)) if category.split == "own_shares" else ""
        plan = add_item(plan, category.id, TypedItem(name, exact_text(points), share=share), used)
    gone = {item.id for item in regular[said.count :]}
    return _changed(plan, rule, lambda c: replace(c, items=tuple(i for i in c.items if i.id not in gone)))


def _drop(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    said = _said(rule, reading)
    lowest = 0 if said.keep_best is not None else said.drop_lowest
    return _changed(plan, rule, lambda c: replace(c, drop_lowest=lowest, keep_best=said.keep_best))


def _extra(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    said = _said(rule, reading)
    return _changed(plan, rule, lambda c: replace(c, extra=said.extra))


def _scale(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    rows = scale_of(reading.scale, reading.scale_unit == "points", points_in_all(plan))
    said = {row.letter for row in rows}
    # A row from 0 that the syllabus leaves unsaid stays: the scale would have a hole without it.
    bottom = tuple(row for row in plan.scale if row.cutoff == 0 and row.letter not in said)
    kept = bottom if all(row.cutoff > 0 for row in rows) else ()
    return replace(plan, scale=(*rows, *kept))


def _rounding(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    return replace(plan, rounding=rounding_of(reading))


def _blanks(plan: Plan, rule: Rule, reading: Reading, used: Collection[str]) -> Plan:
    waiting = {c.id for c in blanks_spoken_of(plan, reading) if c.blanks == "wait"}
    made = (replace(c, blanks="zero_when_due") if c.id in waiting else c for c in plan.categories)
    return replace(plan, categories=tuple(made))


FOLLOWS: dict[str, Follow] = {
    "basis": _basis,
    "category": _category,
    "weight": _weight,
    "points": _points,
    "points each": _points,
    "count": _count,
    "drop": _drop,
    "extra": _extra,
    "scale": _scale,
    "rounding": _rounding,
    "blanks": _blanks,
}
