"""A plan's further rules as the page lists them: each a sentence, an example, and the fields of its form."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from vinemark.core.base.number import exact_text
from vinemark.core.grade.rule_examples import (
    alternative_example,
    late_example,
    replacement_example,
    requirement_example,
)
from vinemark.core.plan.plan import Category, Plan
from vinemark.core.plan.rule_choices import CONDITIONS_OF_CATEGORY, RuleKind, addable_rules, conditions_of_item
from vinemark.core.plan.rule_words import (
    added_words,
    alternative_words,
    category_rounding_words,
    late_words,
    replacement_words,
    requirement_words,
    symbol_words,
)
from vinemark.core.plan.rules import Alternative, ConditionKind, LateRule, Requirement

Fields = Mapping[str, str]
EMPTY_ROWS = 3
_SYMBOL_FIELD = re.compile(r"(?:symbol|percent)-\d{1,3}", re.ASCII)

TITLES: Mapping[str, str] = {
    "late": "Late work",
    "symbols": "Symbols",
    "rounding": "Rounding of a category",
    "replacement": "A better score replaces",
    "alternative": "Alternative weights",
    "requirement": "Requirements",
    "added": "Points for everyone",
    "recorded": "Recorded only",
}
OFFERED: Mapping[RuleKind, str] = {
    "late": "Late work",
    "symbols": "Symbols",
    "replacement": "A better score replaces",
    "alternative": "Alternative weights",
    "requirement": "Requirement",
    "added": "Points for everyone",
    "recorded": "Something recorded only, such as absences",
}
"""What the quiet line offers, by kind."""


@dataclass(frozen=True)
class RuleLine:
    """One rule: its kind, its place among those of its kind (a category's id, or a number), and how it reads."""

    kind: str
    place: str
    words: str
    fields: Fields = field(default_factory=dict)
    example: str = ""

    @property
    def key(self) -> str:
        """For an id on the page."""
        return f"{self.kind}-{self.place}"


def rule_groups(plan: Plan) -> list[tuple[str, str, Sequence[RuleLine]]]:
    """The kinds of rules that the plan has: kind, title, rules."""
    lines = list(_lines(plan))
    found = [(kind, title, [line for line in lines if line.kind == kind]) for kind, title in TITLES.items()]
    return [one for one in found if one[2]]


def offered(plan: Plan) -> dict[str, str]:
    """The kinds of rules that can be added, with their words."""
    return {kind: OFFERED[kind] for kind in addable_rules(plan)}


def subjects(plan: Plan) -> dict[str, list[tuple[str, str, Sequence[ConditionKind]]]]:
    """What a requirement can be about, in two groups: value, name, and the conditions that go with it."""
    return {
        "Categories": [(f"category {c.id}", c.name, CONDITIONS_OF_CATEGORY) for c in plan.categories],
        "Items": [(f"item {i.id}", i.name, conditions_of_item(plan, i.id)) for i in plan.columns.values()],
    }


def symbol_rows(fields: Fields) -> int:
    """How many rows the table of symbols has: those that are filled, and some to fill."""
    filled = [int(name.split("-")[1]) for name, value in fields.items() if value and _SYMBOL_FIELD.fullmatch(name)]
    return max(filled, default=-1) + 1 + EMPTY_ROWS


def rule_options(plan: Plan) -> dict[str, list[tuple[str, str]]]:
    """What the forms offer to choose from, as values and words; the latest item first, which is most often meant."""
    sources = [(c, i) for c, i in plan.items() if not c.extra and not i.extra]
    return {
        "categories": [(c.id, c.name) for c in plan.categories],
        "ordinary": [(c.id, c.name) for c in plan.categories if not c.extra],
        "sources": [(i.id, i.name if i.counts else f"{i.name} (does not count yet)") for _, i in reversed(sources)],
    }


def _lines(plan: Plan) -> Iterator[RuleLine]:
    for category in plan.categories:
        yield from _of_category(category)
    for n, one in enumerate(plan.replacements):
        fields = {"source": one.source, "into": one.into, "count": str(one.count), "missed": "" if one.missed else "no"}
        yield RuleLine("replacement", str(n), replacement_words(plan, one), fields, replacement_example(plan, one))
    for n, other in enumerate(plan.alternatives):
        words, example = alternative_words(plan, other), alternative_example(plan, other)
        yield RuleLine("alternative", str(n), words, alternative_fields(other), example)
    for n, wanted in enumerate(plan.requirements):
        words, example = requirement_words(plan, wanted), requirement_example(plan, wanted)
        yield RuleLine("requirement", str(n), words, requirement_fields(wanted), example)
    if plan.added:
        yield RuleLine("added", "", added_words(plan), {"added": exact_text(plan.added)})
    for n, recorded in enumerate(plan.recorded):
        fields = {"name": recorded.name, "due": recorded.due.isoformat() if recorded.due else ""}
        yield RuleLine("recorded", str(n), f"{recorded.name} is recorded and counts in no category.", fields)


def _of_category(category: Category) -> Iterator[RuleLine]:
    named = {"category": category.id}
    if category.late:
        words = f"{category.name}: {late_words(category.late)}"
        yield RuleLine("late", category.id, words, {**named, **late_fields(category.late)}, late_example(category))
    if category.symbols:
        rows = [(f"symbol-{n}", one.symbol) for n, one in enumerate(category.symbols)]
        rows += [(f"percent-{n}", exact_text(one.percent)) for n, one in enumerate(category.symbols)]
        yield RuleLine("symbols", category.id, f"{category.name}: {symbol_words(category)}", {**named, **dict(rows)})
    if category.rounding:
        yield RuleLine("rounding", category.id, f"{category.name}: {category_rounding_words(category.rounding)}", named)


def late_fields(rule: LateRule) -> Fields:
    """A rule for late work as its form holds it."""
    return {
        "per_day": exact_text(rule.per_day),
        "of": rule.of,
        "at_most": "" if rule.at_most is None else exact_text(rule.at_most),
        "grace_days": str(rule.grace_days or ""),
        "last_day": str(rule.last_day or ""),
        "free_days": str(rule.free_days or ""),
    }


def alternative_fields(rule: Alternative) -> Fields:
    """Alternative weights as their form holds them."""
    return {"name": rule.name, **{f"weight-{c}": exact_text(weight) for c, weight in rule.weights.items()}}


def requirement_fields(rule: Requirement) -> Fields:
    """A requirement as its form holds it."""
    condition, consequence = rule.condition, rule.consequence
    return {
        "condition": condition.kind,
        "subject": f"category {condition.category}" if condition.category else f"item {condition.item}",
        "threshold": exact_text(condition.threshold),
        "consequence": consequence.kind,
        "amount": consequence.letter or exact_text(consequence.amount),
        "for_each": "1" if consequence.for_each else "",
        "text": rule.text,
    }
