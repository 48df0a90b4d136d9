"""Rules of a plan that can do nothing."""

from collections.abc import Iterator

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import HUNDRED, Category, Plan
from vinemark.core.plan.rule_words import late_words, replacement_words, requirement_words
from vinemark.core.plan.rules import Requirement

LEAST_ASKED = 20


def rule_idle(facts: Facts) -> Iterator[Found]:
    """A rule that can change no grade, whatever is scored."""
    plan = facts.plan
    for category in plan.categories:
        late = category.late
        free = late is not None and late.last_day is None and (not late.per_day or late.at_most == 0)
        if late is not None and free and category.counting:
            yield _idle(f"The rule for late work of {category.name} takes nothing.", late_words(late), category.id)
    for rule in plan.replacements:
        placed, into = plan.placed.get(rule.source), plan.category(rule.into)
        why = _nothing_replaced(placed[1].counts if placed else False, into)
        if why:
            yield _idle(f"A better score that replaces others never does: {why}.",
                        replacement_words(plan, rule), rule.into, rule.source)  # fmt: skip
    for other in plan.alternatives:
        if all(other.weights.get(c.id) == c.weight for c in plan.categories if not c.extra):
            yield _idle(f"The other weights “{other.name}” are those of the plan.", "", None, other.id)
    for one in plan.requirements:
        why = _never(plan, one)
        if why:
            yield _idle(f"A requirement {why}.", one.text or requirement_words(plan, one), None, one.id)


def _nothing_replaced(source_counts: bool, into: Category | None) -> str:
    if not source_counts:
        return "the item that it is taken from does not count yet"
    return "" if into is not None and into.regular else "there is nothing to replace"


def _never(plan: Plan, one: Requirement) -> str:
    """Why a requirement says nothing; empty where it says something."""
    condition, consequence = one.condition, one.consequence
    category = plan.category(condition.category or "")
    if condition.kind == "percent_below" and condition.threshold < LEAST_ASKED:
        return f"asks for {exact_text(condition.threshold)}% only"
    if condition.kind == "percent_below" and condition.threshold > HUNDRED:
        return "asks for more than 100%"
    if condition.kind == "missed_at_least" and category and condition.threshold > len(category.items):
        return "counts more missed work than there is"
    if consequence.kind in {"letters_down", "percent_down"} and not consequence.amount:
        return "takes nothing away"
    top = max(plan.scale, key=lambda row: row.cutoff, default=None)
    if consequence.kind == "letter_at_most" and top is not None and consequence.letter == top.letter:
        return "allows every letter"
    return ""


def _idle(message: str, words: str, category: str | None, part: str = "late") -> Found:
    return Found(message, category=category, evidence=[words] if words else [], part=part)
