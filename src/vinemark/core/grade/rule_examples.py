"""Further rules on a small example with a section's own categories, so that what surprises is seen at once."""

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.number import trimmed
from vinemark.core.course.cell import Cell
from vinemark.core.grade.calculation import Grade, work_out
from vinemark.core.grade.counted import what_is_left
from vinemark.core.grade.examples import EXAMPLE_DAY
from vinemark.core.plan.plan import HUNDRED, Category, Plan
from vinemark.core.plan.rule_words import item_name, subject_name
from vinemark.core.plan.rules import Alternative, Replacement, Requirement

SCORE, LATE_DAYS = Fraction(17, 20), 2
STEADY, STRONG, HIGH = Fraction(7, 10), Fraction(9, 10), Fraction(23, 25)


def late_example(category: Category) -> str:
    """'8.5 of 10, 2 days late, counts as 6.5.' Empty without a rule or an item."""
    rule, item = category.late, next(iter(category.regular), None)
    if rule is None or item is None:
        return ""
    left = what_is_left(rule, item.points, SCORE * item.points, LATE_DAYS)
    free = " Free days come off first." if rule.free_days else ""
    return (
        f"{trimmed(SCORE * item.points, 2)} of {trimmed(item.points, 2)}, {LATE_DAYS} days late, counts as"
        f" {trimmed(left, 2)}.{free}"
    )


def replacement_example(plan: Plan, rule: Replacement) -> str:
    """What a good source does for a student who is steady elsewhere."""
    item = plan.item(rule.source)
    if item is None or not item.counts:
        return f"{item_name(plan, rule.source)} does not count yet: until it does, nothing is replaced."
    cells = {**_everything(plan, STEADY), item.id: STRONG * item.points}
    without = replace(plan, replacements=tuple(one for one in plan.replacements if one is not rule))
    return _compared(
        plan, without, cells, f"{_percent(STRONG)} on {item.name} and {_percent(STEADY)} on everything else"
    )


def alternative_example(plan: Plan, rule: Alternative) -> str:
    """What the weights do for a student who is strong where they weigh more."""
    gains = {c.id: rule.weights.get(c.id, Fraction(0)) - (c.weight or 0) for c in plan.categories if not c.extra}
    best = max(gains, key=lambda c: gains[c], default="")
    category = plan.category(best)
    if category is None or gains[best] <= 0 or not category.regular:
        return ""
    cells = {**_everything(plan, STEADY), **{i.id: STRONG * i.points for i in category.regular}}
    without = replace(plan, alternatives=tuple(one for one in plan.alternatives if one is not rule))
    return _compared(plan, without, cells, f"{_percent(STRONG)} in {category.name} and {_percent(STEADY)} elsewhere")


def requirement_example(plan: Plan, rule: Requirement) -> str:
    """What becomes of a student who is good elsewhere and does not meet it."""
    cells, what = _everything(plan, HIGH), ""
    condition, name = rule.condition, subject_name(plan, rule.condition)
    category = plan.category(condition.category or "")
    if condition.kind == "percent_below":
        low = max(Fraction(0), (condition.threshold - 5) / HUNDRED)
        items = category.regular if category else [i for i in [plan.item(condition.item or "")] if i and i.counts]
        cells.update({item.id: low * item.points for item in items})
        what = f"{_percent(low)} {'in' if category else 'on'} {name}"
    elif condition.kind == "missed_at_least" and category is not None:
        missed = category.regular[: int(condition.threshold)]
        if len(missed) < condition.threshold:
            return ""
        cells.update(dict.fromkeys([item.id for item in missed], "missing"))
        what = f"{len(missed)} missed of {name}"
    elif condition.item is not None:
        cells[condition.item] = condition.threshold + 1
        what = f"{trimmed(condition.threshold + 1, 2)} for {name}"
    without = replace(plan, requirements=tuple(one for one in plan.requirements if one is not rule))
    return _compared(plan, without, cells, f"{what} and {_percent(HIGH)} on everything else")


def _everything(plan: Plan, part: Fraction) -> dict[str, Cell]:
    """Every counting regular item of the ordinary categories at a part of its points."""
    ordinary = [category for category in plan.categories if not category.extra]
    return {item.id: part * item.points for category in ordinary for item in category.regular}


def _compared(plan: Plan, without: Plan, cells: Mapping[str, Cell], tried: str) -> str:
    now, then = work_out(plan, cells, EXAMPLE_DAY), work_out(without, cells, EXAMPLE_DAY)
    if now.percent is None or then.percent is None:
        return ""
    if (now.percent, now.letter) == (then.percent, then.letter):
        return f"A student with {tried} gets {_said(now)} with this rule or without."
    return f"A student with {tried} gets {_said(now)} instead of {_said(then)}."


def _said(grade: Grade) -> str:
    percent = f"{trimmed(grade.percent or Fraction(0), 2)}%"
    return f"{grade.letter} ({percent})" if grade.letter else percent


def _percent(part: Fraction) -> str:
    return f"{trimmed(HUNDRED * part, 2)}%"
