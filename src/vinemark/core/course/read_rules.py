"""The further rules of a course file's plan: parsed JSON values to rules, each refused at its place."""

from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from typing import TypeVar, cast

from vinemark.core.base.number import MAX_DIGITS, ROUNDING_WAYS
from vinemark.core.base.refused import (
    Keys,
    Refused,
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
from vinemark.core.plan import rules as r
from vinemark.core.plan.plan import HUNDRED, Plan
from vinemark.core.plan.rule_choices import CONDITIONS_OF_CATEGORY, CONDITIONS_OF_ITEM, can_be_for_each
from vinemark.core.plan.scale import scale_faults
from vinemark.core.plan.symbols import symbol_fault

_N = TypeVar("_N", int, Fraction)


def _from(read: Callable[[object, str], _N], least: int) -> Callable[[object, str], _N]:
    def reader(value: object, field: str) -> _N:
        found = read(value, field)
        if found < least:
            raise Refused(field, f"must be {least} or more")
        return found

    return reader


def _percent_of_all(value: object, field: str) -> Fraction:
    found = number(value, field)
    if found > HUNDRED:
        raise Refused(field, "must be 100 or less")
    return found


def read_decimals(value: object, field: str) -> int:
    """A number of decimals."""
    found = count(value, field)
    if found > MAX_DIGITS:
        raise Refused(field, f"must be {MAX_DIGITS} or less")
    return found


def read_late(value: object, field: str) -> r.LateRule:
    """A category's rule for late work."""
    keys = Keys(value, field, ("per_day", "of", "at_most", "grace_days", "last_day", "free_days"))
    return r.LateRule(
        per_day=keys.needed("per_day", _percent_of_all),
        of=keys.given("of", one_of(r.LATE_OFS), "points"),
        at_most=keys.maybe("at_most", _percent_of_all),
        grace_days=keys.given("grace_days", count, 0),
        last_day=keys.maybe("last_day", _from(count, 1)),
        free_days=keys.given("free_days", count, 0),
    )


def read_symbols(value: object, field: str) -> tuple[r.Symbol, ...]:
    """The symbols of a category, distinct and none that could be typed for something else."""
    found = rows(_read_symbol)(value, field)
    refuse_repeat([one.symbol for one in found], lambda i: f"{field}[{i}].symbol")
    return found


def _read_symbol(value: object, field: str) -> r.Symbol:
    keys = Keys(value, field, ("symbol", "percent"))
    symbol = keys.needed("symbol", any_text)
    fault = symbol_fault(symbol)
    if fault:
        raise Refused(keys.at("symbol"), fault)
    return r.Symbol(symbol, keys.needed("percent", number))


def read_round_to(value: object, field: str) -> r.RoundTo:
    """Rounding of a category's percentage."""
    keys = Keys(value, field, ("decimals", "way"))
    return r.RoundTo(keys.needed("decimals", read_decimals), keys.given("way", one_of(ROUNDING_WAYS), "nearest"))


def read_replacement(value: object, field: str) -> r.Replacement:
    """A better score that replaces weaker ones; its ids are looked at once the plan is whole."""
    keys = Keys(value, field, ("from", "into", "count", "missed"))
    return r.Replacement(
        keys.needed("from", text),
        keys.needed("into", text),
        keys.given("count", _from(count, 1), 1),
        keys.given("missed", flag, True),
    )


def read_alternative(value: object, field: str) -> r.Alternative:
    """Alternative weights; the categories are looked at once the plan is whole."""
    keys = Keys(value, field, ("id", "name", "weights"))
    return r.Alternative(keys.needed("id", text), keys.needed("name", text), keys.needed("weights", _read_weights))


def _read_weights(value: object, field: str) -> dict[str, Fraction]:
    if not isinstance(value, Mapping):
        raise Refused(field, "must be an object")
    return {category: ratio(weight, f"{field}.{category}") for category, weight in value.items()}


def read_requirement(value: object, field: str) -> r.Requirement:
    """A requirement; its ids and its letter are looked at once the plan is whole."""
    keys = Keys(value, field, ("id", "text", "if", "then"))
    condition = keys.needed("if", _read_condition)
    consequence = keys.needed("then", _read_consequence)
    if consequence.for_each and not can_be_for_each(condition.kind, consequence.kind):
        raise Refused(
            f"{field}.then.for_each",
            "goes with letters_down or percent_down, and with value_above or missed_at_least",
        )
    return r.Requirement(keys.needed("id", text), condition, consequence, keys.given("text", any_text, ""))


def _read_condition(value: object, field: str) -> r.Condition:
    keys = Keys(value, field, ("category", "item", *r.CONDITION_KINDS))
    subject = _only(keys, ("category", "item"))
    kind = cast(r.ConditionKind, _only(keys, r.CONDITION_KINDS))
    if kind not in (CONDITIONS_OF_CATEGORY if subject == "category" else CONDITIONS_OF_ITEM):
        raise Refused(keys.at(kind), f"does not go with {subject}")
    threshold = Fraction(keys.needed(kind, _from(count, 1)) if kind == "missed_at_least" else keys.needed(kind, number))
    named = keys.needed(subject, text)
    return r.Condition(kind, threshold, **{subject: named})


def _read_consequence(value: object, field: str) -> r.Consequence:
    keys = Keys(value, field, (*r.CONSEQUENCE_KINDS, "for_each"))
    kind = cast(r.ConsequenceKind, _only(keys, r.CONSEQUENCE_KINDS))
    for_each = keys.given("for_each", flag, False)
    if kind == "letter_at_most":
        return r.Consequence(kind, letter=keys.needed(kind, text), for_each=for_each)
    read = _whole_from_one if kind == "letters_down" else number
    return r.Consequence(kind, keys.needed(kind, read), for_each=for_each)


def _whole_from_one(value: object, field: str) -> Fraction:
    return Fraction(_from(count, 1)(value, field))


def _only(keys: Keys, names: Sequence[str]) -> str:
    """The one of some keys that is there."""
    found = [name for name in names if name in keys.value]
    if len(found) != 1:
        several = ", ".join(found)
        raise Refused(keys.field, f"needs one of {', '.join(names)}{f', not {several}' if found else ''}")
    return found[0]


def read_recorded(value: object, field: str) -> r.RecordedItem:
    """An item that is only recorded."""
    keys = Keys(value, field, ("id", "name", "due"))
    return r.RecordedItem(keys.needed("id", text), keys.needed("name", text), keys.maybe("due", iso_day))


def refuse_unknown(plan: Plan, field: str) -> None:
    """Refuse rules that name what the plan does not have, or that cannot go with it."""
    for i, rule in enumerate(plan.replacements):
        _check_replacement(plan, rule, f"{field}.replacements[{i}]")
    refuse_repeat([one.id for one in plan.alternatives], lambda i: f"{field}.alternatives[{i}].id")
    for i, alternative in enumerate(plan.alternatives):
        _check_alternative(plan, alternative, f"{field}.alternatives[{i}]")
    refuse_repeat([one.id for one in plan.requirements], lambda i: f"{field}.requirements[{i}].id")
    for i, requirement in enumerate(plan.requirements):
        _check_requirement(plan, requirement, f"{field}.requirements[{i}]")


def _check_replacement(plan: Plan, rule: r.Replacement, field: str) -> None:
    placed = plan.placed.get(rule.source)
    if placed is None:
        raise Refused(f"{field}.from", "unknown item")
    if placed[0].extra or placed[1].extra:
        raise Refused(f"{field}.from", "is extra credit, which replaces nothing")
    into = plan.category(rule.into)
    if into is None:
        raise Refused(f"{field}.into", "unknown category")
    if into.extra:
        raise Refused(f"{field}.into", "is extra credit, in which nothing is replaced")


def _check_alternative(plan: Plan, rule: r.Alternative, field: str) -> None:
    if plan.basis == "points":
        raise Refused(field, "goes with a weighted plan only")
    for name in rule.weights:
        category = plan.category(name)
        if category is None:
            raise Refused(f"{field}.weights.{name}", "unknown category")
        if category.extra:
            raise Refused(f"{field}.weights.{name}", "is extra credit, which keeps its weight")
    for category in plan.categories:
        if not category.extra and category.id not in rule.weights:
            raise Refused(f"{field}.weights.{category.id}", "is missing: every ordinary category needs a weight")


def _check_requirement(plan: Plan, rule: r.Requirement, field: str) -> None:
    condition, consequence = rule.condition, rule.consequence
    if condition.category is not None and plan.category(condition.category) is None:
        raise Refused(f"{field}.if.category", "unknown category")
    recorded = {one.id for one in plan.recorded} if condition.kind == "value_above" else set()
    if condition.item is not None and condition.item not in plan.placed and condition.item not in recorded:
        raise Refused(f"{field}.if.item", "unknown item")
    if consequence.kind == "letter_at_most" and not letter_known(plan, consequence.letter):
        raise Refused(f"{field}.then.letter_at_most", "is no letter of the scale")


def letter_known(plan: Plan, letter: str) -> bool:
    """Whether a scale has a letter; where it is missing or broken nothing can be said, and it is let through."""
    letters = {row.letter for row in plan.scale}
    return not letters or bool(scale_faults(plan.scale)) or letter in letters
