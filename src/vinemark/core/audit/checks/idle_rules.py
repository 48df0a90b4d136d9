"""Rules of a plan that can do nothing, or far too much."""

import re
from collections.abc import Iterator

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import HUNDRED, Category, Plan
from vinemark.core.plan.rule_words import late_words, replacement_words, requirement_words
from vinemark.core.plan.rules import Requirement

LEAST_ASKED = 20
MOST_DAYS, MOST_FREE, MOST_A_DAY = 14, 15, 50


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


def late_rule_odd(facts: Facts) -> Iterator[Found]:
    """A rule for late work with a figure that is hardly meant, which the syllabus does not say."""
    for category in facts.plan.categories:
        late = category.late
        if late is None:
            continue
        odd = [
            (late.grace_days, f"{late.grace_days} days of grace", late.grace_days >= MOST_DAYS),
            (late.free_days, f"{late.free_days} free days", late.free_days >= MOST_FREE),
            (late.per_day, f"{exact_text(late.per_day)}% a day", late.per_day > MOST_A_DAY),
        ]
        said = set(re.findall(r"\d+", facts.course.syllabus or ""))
        for figure, words, is_odd in odd:
            if is_odd and str(figure) not in said:
                yield Found(f"The rule for late work of {category.name} has {words}.", category=category.id,
                            evidence=[late_words(late)], part=words)  # fmt: skip


def replaces_all(facts: Facts) -> Iterator[Found]:
    """A better score that replaces every item of a category of several."""
    for rule in facts.plan.replacements:
        into = facts.plan.category(rule.into)
        others = [item for item in into.regular if item.id != rule.source] if into else []
        if into is not None and len(others) >= 2 and rule.count >= len(others):
            yield Found(
                f"One score can replace all {len(others)} items of {into.name}.",
                category=into.id,
                evidence=[replacement_words(facts.plan, rule)],
                part=rule.source,
            )
