"""The further rules of a plan as the values of a course file, every key written."""

from datetime import date
from typing import Any

from vinemark.core.base.number import exact_text
from vinemark.core.plan import rules as r
from vinemark.core.plan.plan import Category, Plan

Json = dict[str, Any]


def write_rules(plan: Plan) -> Json:
    """The rules beside the categories."""
    return {
        "replacements": [
            {"from": one.source, "into": one.into, "count": one.count, "missed": one.missed}
            for one in plan.replacements
        ],
        "alternatives": [
            {"id": one.id, "name": one.name, "weights": {c: exact_text(w) for c, w in one.weights.items()}}
            for one in plan.alternatives
        ],
        "requirements": [_write_requirement(one) for one in plan.requirements],
        "added": exact_text(plan.added),
        "recorded": [
            {"id": one.id, "name": one.name, "due": None if one.due is None else date.isoformat(one.due)}
            for one in plan.recorded
        ],
    }


def write_category_rules(category: Category) -> Json:
    """The rules inside a category."""
    rounding = category.rounding
    return {
        "late": None if category.late is None else _write_late(category.late),
        "symbols": [{"symbol": one.symbol, "percent": exact_text(one.percent)} for one in category.symbols],
        "rounding": None if rounding is None else {"decimals": rounding.decimals, "way": rounding.way},
    }


def _write_late(late: r.LateRule) -> Json:
    return {
        "per_day": exact_text(late.per_day),
        "of": late.of,
        "at_most": None if late.at_most is None else exact_text(late.at_most),
        "grace_days": late.grace_days,
        "last_day": late.last_day,
        "free_days": late.free_days,
    }


def _write_requirement(one: r.Requirement) -> Json:
    condition, consequence = one.condition, one.consequence
    subject = {"category": condition.category} if condition.category is not None else {"item": condition.item}
    held = int(condition.threshold) if condition.kind == "missed_at_least" else exact_text(condition.threshold)
    return {
        "id": one.id,
        "text": one.text,
        "if": {**subject, condition.kind: held},
        "then": _write_consequence(consequence),
    }


def _write_consequence(one: r.Consequence) -> Json:
    if one.kind == "letter_at_most":
        return {one.kind: one.letter}
    amount = int(one.amount) if one.kind == "letters_down" else exact_text(one.amount)
    return {one.kind: amount, **({"for_each": True} if one.for_each else {})}
