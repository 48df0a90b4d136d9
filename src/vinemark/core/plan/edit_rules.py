"""Edits of a plan's further rules: each takes a plan and what was typed, and returns the changed plan.

Raises Refused at the field that was typed into: 'per_day', 'subject', 'amount' ...
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TypeVar

from vinemark.core.base.limits import COUNT_LIMIT, NAME_LIMIT, NOTE_LIMIT, more_than
from vinemark.core.base.refused import Refused, count, iso_day, number, one_of, ratio
from vinemark.core.plan.edit import change_category, clean_name, new_id, typed_number
from vinemark.core.plan.plan import HUNDRED, Plan
from vinemark.core.plan.rule_choices import CONDITIONS_OF_CATEGORY, can_be_for_each, conditions_of_item
from vinemark.core.plan.rules import (
    CONDITION_KINDS,
    CONSEQUENCE_KINDS,
    LATE_OFS,
    Alternative,
    Condition,
    ConditionKind,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    Symbol,
)
from vinemark.core.plan.symbols import symbol_fault

_Rule = TypeVar("_Rule")


@dataclass(frozen=True)
class TypedLate:
    """A rule for late work as typed; empty fields are none."""

    per_day: str
    of: str = "points"
    at_most: str = ""
    grace_days: str = ""
    last_day: str = ""
    free_days: str = ""


def set_late(plan: Plan, category_id: str, typed: TypedLate) -> Plan:
    """A category's rule for late work; without a category that of every one that is no extra credit."""
    rule = LateRule(
        per_day=_percent(typed.per_day, "per_day"),
        of=one_of(LATE_OFS)(typed.of, "of"),
        at_most=_percent(typed.at_most, "at_most") if typed.at_most.strip() else None,
        grace_days=_days(typed.grace_days, "grace_days"),
        last_day=_days(typed.last_day, "last_day") or None,
        free_days=_days(typed.free_days, "free_days"),
    )
    if not category_id and plan.categories:
        return replace(plan, categories=tuple(c if c.extra else replace(c, late=rule) for c in plan.categories))
    return change_category(plan, category_id, lambda c: replace(c, late=rule))


def remove_late(plan: Plan, category_id: str) -> Plan:
    """A category without a rule for late work."""
    return change_category(plan, category_id, lambda c: replace(c, late=None))


def _percent(typed: str, field: str) -> Fraction:
    found = number(typed_number(typed, field), field)
    if found > HUNDRED:
        raise Refused(field, "must be 100 or less")
    return found


def _days(typed: str, field: str) -> int:
    found = count(typed.strip(), field) if typed.strip() else 0
    if found > COUNT_LIMIT.most:
        raise Refused(field, more_than(COUNT_LIMIT))
    return found


def set_symbols(plan: Plan, category_id: str, typed: Sequence[tuple[str, str]]) -> Plan:
    """A category's symbols, as pairs of a symbol and its percent; an empty row is left out."""
    found: list[Symbol] = []
    for row, (symbol, percent) in enumerate(typed):
        named = " ".join(symbol.split())
        if not named and not percent.strip():
            continue
        fault = symbol_fault(named)
        if fault:
            raise Refused(f"symbol-{row}", fault)
        if named in [one.symbol for one in found]:
            raise Refused(f"symbol-{row}", "is there already")
        found.append(Symbol(named, number(typed_number(percent, f"percent-{row}"), f"percent-{row}")))
    return change_category(plan, category_id, lambda c: replace(c, symbols=tuple(found)))


@dataclass(frozen=True)
class TypedReplacement:
    """A replacement as typed: ids of the item and the category, how many, and whether missing work is replaced."""

    source: str
    into: str
    count: str = "1"
    missed: bool = True


def put_replacement(plan: Plan, typed: TypedReplacement, place: int | None = None) -> Plan:
    """A replacement added, or put in the place of another."""
    placed = plan.placed.get(typed.source)
    if placed is None:
        raise Refused("source", "choose an item")
    if placed[0].extra or placed[1].extra:
        raise Refused("source", "must not be extra credit, which replaces nothing")
    into = plan.category(typed.into)
    if into is None:
        raise Refused("into", "choose a category")
    if into.extra:
        raise Refused("into", "must not be extra credit, in which nothing is replaced")
    many = count(typed.count.strip() or "1", "count")
    if not 1 <= many <= COUNT_LIMIT.most:
        raise Refused("count", "must be 1 or more")
    rule = Replacement(typed.source, typed.into, many, typed.missed)
    return replace(plan, replacements=_put(plan.replacements, rule, place))


def remove_replacement(plan: Plan, place: int) -> Plan:
    """The plan without a replacement."""
    return replace(plan, replacements=_without(plan.replacements, place))


def put_alternative(plan: Plan, name: str, weights: Mapping[str, str], place: int | None = None) -> Plan:
    """Alternative weights added, or put in the place of others; `weights` by category as typed."""
    if plan.basis == "points":
        raise Refused("name", "needs a weighted plan")
    ordinary = [category for category in plan.categories if not category.extra]
    found = {c.id: ratio(typed_number(weights.get(c.id, ""), f"weight-{c.id}"), f"weight-{c.id}") for c in ordinary}
    taken = [one.id for one in plan.alternatives]
    rule = Alternative(_id_at(taken, place, "a"), clean_name(name), found)
    return replace(plan, alternatives=_put(plan.alternatives, rule, place))


def remove_alternative(plan: Plan, place: int) -> Plan:
    """The plan without alternative weights."""
    return replace(plan, alternatives=_without(plan.alternatives, place))


@dataclass(frozen=True)
class TypedRequirement:
    """A requirement as typed. `subject` is 'category c1' or 'item i1'; `amount` a letter or a number."""

    condition: str
    subject: str
    threshold: str
    consequence: str
    amount: str
    for_each: bool = False
    text: str = ""


def put_requirement(plan: Plan, typed: TypedRequirement, place: int | None = None) -> Plan:
    """A requirement added, or put in the place of another."""
    condition, consequence = _condition(plan, typed), _consequence(plan, typed)
    if consequence.for_each and not can_be_for_each(condition.kind, consequence.kind):
        raise Refused("for_each", "goes with missed work or a recorded number, and with steps or points off")
    said = " ".join(typed.text.split())
    if len(said) > NOTE_LIMIT.most:
        raise Refused("text", more_than(NOTE_LIMIT))
    taken = [one.id for one in plan.requirements]
    rule = Requirement(_id_at(taken, place, "r"), condition, consequence, said)
    return replace(plan, requirements=_put(plan.requirements, rule, place))


_MISFITS: Mapping[ConditionKind, str] = {
    "missed_at_least": "must be a category: missed work is counted in one",
    "value_above": "must be an item: a category has no number of its own",
    "percent_below": "is only recorded and has no percent; ask for a number above",
}


def _condition(plan: Plan, typed: TypedRequirement) -> Condition:
    kind = one_of(CONDITION_KINDS)(typed.condition, "condition")
    sort, _, named = typed.subject.partition(" ")
    if sort == "category" and plan.category(named) is not None:
        category, item = named, None
    elif sort == "item" and named in plan.columns:
        category, item = None, named
    else:
        raise Refused("subject", "choose a category or an item")
    fitting = CONDITIONS_OF_CATEGORY if item is None else conditions_of_item(plan, item)
    if kind not in fitting:
        raise Refused("subject", _MISFITS[kind])
    typed_as = typed_number(typed.threshold, "threshold")
    if kind != "missed_at_least":
        return Condition(kind, number(typed_as, "threshold"), category, item)
    many = count(typed_as, "threshold")
    if many < 1:
        raise Refused("threshold", "must be 1 or more")
    return Condition(kind, Fraction(many), category, item)


def _consequence(plan: Plan, typed: TypedRequirement) -> Consequence:
    kind = one_of(CONSEQUENCE_KINDS)(typed.consequence, "consequence")
    amount = typed.amount.strip().replace("−", "-")
    if kind == "letter_at_most":
        letters = [row.letter for row in plan.scale]
        alike = [letter for letter in letters if letter.casefold() == amount.casefold()]
        if not alike:
            raise Refused(
                "amount", f"must be a letter of the scale: {', '.join(letters)}" if letters else "needs a scale"
            )
        return Consequence(kind, letter=amount if amount in letters else alike[0])
    if kind == "letters_down":
        steps = count(typed_number(amount, "amount"), "amount")
        if not 1 <= steps <= COUNT_LIMIT.most:
            raise Refused("amount", "must be 1 or more")
        return Consequence(kind, Fraction(steps), for_each=typed.for_each)
    return Consequence(kind, number(typed_number(amount, "amount"), "amount"), for_each=typed.for_each)


def remove_requirement(plan: Plan, place: int) -> Plan:
    """The plan without a requirement."""
    return replace(plan, requirements=_without(plan.requirements, place))


def set_added(plan: Plan, typed: str) -> Plan:
    """Percentage points for everyone; nothing typed is none."""
    return replace(plan, added=number(typed_number(typed, "added"), "added") if typed.strip() else Fraction(0))


def put_recorded(plan: Plan, name: str, due: str = "", place: int | None = None, used: Collection[str] = ()) -> Plan:
    """Something that is only recorded, such as absences; `used` are ids that the plan once had."""
    named = clean_name(name)
    if len(named) > NAME_LIMIT.most:
        raise Refused("name", more_than(NAME_LIMIT))
    day = iso_day(due.strip(), "due") if due.strip() else None
    at = plan.recorded[place].id if place is not None and place < len(plan.recorded) else None
    rule = RecordedItem(at or new_id("i", {*used, *plan.columns}), named, day)
    return replace(plan, recorded=_put(plan.recorded, rule, place))


def remove_recorded(plan: Plan, place: int) -> Plan:
    """The plan without something recorded; its numbers stay kept for an undo."""
    return replace(plan, recorded=_without(plan.recorded, place))


def _id_at(taken: Sequence[str], place: int | None, prefix: str) -> str:
    return taken[place] if place is not None and place < len(taken) else new_id(prefix, taken)


def _put(rules: tuple[_Rule, ...], rule: _Rule, place: int | None) -> tuple[_Rule, ...]:
    if place is None:
        return (*rules, rule)
    _refuse_gone(rules, place)
    return (*rules[:place], rule, *rules[place + 1 :])


def _without(rules: tuple[_Rule, ...], place: int) -> tuple[_Rule, ...]:
    _refuse_gone(rules, place)
    return (*rules[:place], *rules[place + 1 :])


def _refuse_gone(rules: Sequence[_Rule], place: int) -> None:
    if not 0 <= place < len(rules):
        raise Refused("rules", "this rule is no longer in the plan")
