"""Further rules as sentences: late work, symbols, replacements, alternative weights, requirements, rounding."""

from collections.abc import Mapping, Sequence

from vinemark.core.base.names import folded
from vinemark.core.base.number import RoundingWay, exact_text
from vinemark.core.plan.plan import Category, Plan, Rounding
from vinemark.core.plan.rules import Alternative, Condition, Consequence, LateRule, Replacement, Requirement, RoundTo

WAY_WORDS: Mapping[RoundingWay, str] = {
    "nearest": "rounded, half up,",
    "up": "always rounded up",
    "down": "always rounded down",
}


def late_words(rule: LateRule) -> str:
    """'Late work loses 10% of the item's points a day, at most 50%; 1 free day a student.'"""
    of = "the item's points" if rule.of == "points" else "its score"
    parts = [f"Late work loses {exact_text(rule.per_day)}% of {of} a day"]
    if rule.at_most is not None:
        parts[0] += f", at most {exact_text(rule.at_most)}%"
    if rule.grace_days:
        free = "the first day" if rule.grace_days == 1 else f"each of the first {rule.grace_days} days"
        parts.append(f"{free} of an item costs nothing")
    if rule.free_days:
        parts.append(f"{_days(rule.free_days, 'free ')} a student in the category")
    if rule.last_day is not None:
        parts.append(f"more than {_days(rule.last_day)} late counts as 0")
    return "; ".join(parts) + "."


def _days(count: int, kind: str = "") -> str:
    return f"{count} {kind}day" if count == 1 else f"{count} {kind}days"


def symbol_words(category: Category) -> str:
    """'Symbols: check+ counts as 95%, check as 80%.' Empty without any."""
    if not category.symbols:
        return ""
    first, *rest = [f"{one.symbol} {{}}as {exact_text(one.percent)}%" for one in category.symbols]
    return f"Symbols: {', '.join([first.format('counts '), *(one.format('') for one in rest)])}."


def to_words(decimals: int) -> str:
    """'to a whole number'."""
    return {0: "to a whole number", 1: "to one decimal"}.get(decimals, f"to {decimals} decimals")


def category_rounding_words(rounding: RoundTo) -> str:
    """'Its percent is rounded, half up, to a whole number.'"""
    return f"Its percent is {WAY_WORDS[rounding.way]} {to_words(rounding.decimals)}."


def rounding_done(rounding: Rounding) -> str:
    """What was done to a percent: 'Rounded, half up'."""
    return {"nearest": "Rounded, half up", "up": "Rounded up", "down": "Rounded down"}[rounding.way]


def replacement_words(plan: Plan, rule: Replacement) -> str:
    """'A better score on Final exam replaces the weakest of Midterms, missing ones too.'"""
    category = plan.category(rule.into)
    which = "the weakest" if rule.count == 1 else f"the {rule.count} weakest"
    missed = "missing ones too" if rule.missed else "missing ones excepted"
    into = category.name if category else rule.into
    return f"A better score on {item_name(plan, rule.source)} replaces {which} of {into}, {missed}."


def alternative_words(plan: Plan, alternative: Alternative) -> str:
    """'Alternative weights, The final counts more: Midterms 10%, Final 60%; the better result counts.'"""
    names = {category.id: category.name for category in plan.categories}
    weights = [f"{names.get(c, c)} {exact_text(weight)}%" for c, weight in alternative.weights.items()]
    return f"Alternative weights, {alternative.name}: {', '.join(weights)}; the better result counts."


def requirement_words(plan: Plan, one: Requirement) -> str:
    """'If Final exam is below 60%, the letter is at most F.'"""
    if one.consequence.for_each:
        return f"{for_each_words(plan, one.condition)}, {consequence_words(one.consequence)}."
    return f"If {condition_words(plan, one.condition)}, {consequence_words(one.consequence)}."


def condition_words(plan: Plan, condition: Condition) -> str:
    """'Final exam is below 60%'."""
    subject, amount = subject_name(plan, condition), exact_text(condition.threshold)
    if condition.kind == "percent_below":
        return f"{subject} is below {amount}%"
    if condition.kind == "missed_at_least":
        return f"{amount} or more of {subject} are missed"
    return f"{subject} is above {amount}"


def for_each_words(plan: Plan, condition: Condition) -> str:
    """What counts each time: 'For each missed of Labs from number 2 on'."""
    subject, amount = subject_name(plan, condition), exact_text(condition.threshold)
    if condition.kind == "missed_at_least":
        return f"For each of {subject} that is missed, from number {amount} on"
    return f"For each whole {subject} above {amount}"


def consequence_words(consequence: Consequence) -> str:
    """'the letter is at most C'."""
    amount = exact_text(consequence.amount)
    if consequence.kind == "letter_at_most":
        return f"the letter is at most {consequence.letter}"
    if consequence.kind == "letters_down":
        return f"the letter goes down {amount} step{'' if consequence.amount == 1 else 's'} of the scale"
    if consequence.kind == "percent_down":
        return f"the percent goes down by {amount}"
    return f"the percent is at most {amount}"


def added_words(plan: Plan) -> str:
    """'Everyone gets 2 percentage points.'"""
    return f"Everyone gets {exact_text(plan.added)} percentage point{'' if plan.added == 1 else 's'}."


def subject_name(plan: Plan, condition: Condition) -> str:
    """The category or item that a condition looks at."""
    category = plan.category(condition.category or "")
    return category.name if category else item_name(plan, condition.item or "")


def item_name(plan: Plan, item_id: str) -> str:
    """An item's name, also of one that is only recorded, with its category where several items have that name; its id
    where the plan has no such item."""
    item = plan.columns.get(item_id)
    if item is None:
        return item_id
    alone = sum(folded(other.name) == folded(item.name) for other in plan.columns.values()) == 1
    placed = plan.placed.get(item_id)
    return item.name if alone or placed is None else f"{item.name} of {placed[0].name}"


def category_rule_words(category: Category) -> list[str]:
    """The further rules of one category."""
    found = [late_words(category.late)] if category.late else []
    found += [symbol_words(category)] if category.symbols else []
    return found + ([category_rounding_words(category.rounding)] if category.rounding else [])


def plan_rule_words(plan: Plan) -> Sequence[str]:
    """The further rules of a plan, beside those of its categories."""
    found = [replacement_words(plan, one) for one in plan.replacements]
    found += [alternative_words(plan, one) for one in plan.alternatives]
    found += [requirement_words(plan, one) for one in plan.requirements]
    found += [added_words(plan)] if plan.added else []
    if plan.recorded:
        found.append(f"Recorded only: {', '.join(one.name for one in plan.recorded)}.")
    return found
