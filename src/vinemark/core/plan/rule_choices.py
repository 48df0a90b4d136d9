"""What goes with what: which further rules a plan can have, and of what a requirement can be built."""

from typing import Literal

from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import ConditionKind, ConsequenceKind

RuleKind = Literal["late", "symbols", "replacement", "alternative", "requirement", "added", "recorded"]

CONDITIONS_OF_CATEGORY: tuple[ConditionKind, ...] = ("percent_below", "missed_at_least")
CONDITIONS_OF_ITEM: tuple[ConditionKind, ...] = ("percent_below", "value_above")
CONDITIONS_OF_RECORDED: tuple[ConditionKind, ...] = ("value_above",)
CONDITIONS_FOR_EACH: tuple[ConditionKind, ...] = ("missed_at_least", "value_above")
CONSEQUENCES_FOR_EACH: tuple[ConsequenceKind, ...] = ("letters_down", "percent_down")


def can_be_for_each(condition: ConditionKind, consequence: ConsequenceKind) -> bool:
    """Whether an effect can come as many times as the condition says."""
    return condition in CONDITIONS_FOR_EACH and consequence in CONSEQUENCES_FOR_EACH


def conditions_of_item(plan: Plan, item_id: str) -> tuple[ConditionKind, ...]:
    """What a requirement can ask of an item; what is only recorded has no percent."""
    return CONDITIONS_OF_RECORDED if plan.only_recorded(item_id) else CONDITIONS_OF_ITEM


def addable_rules(plan: Plan) -> list[RuleKind]:
    """The kinds of rules that can be added: most are about a category, alternatives weigh two against each other."""
    if not plan.categories:
        return ["recorded"]
    found: list[RuleKind] = ["late", "symbols", "replacement"]
    if plan.basis == "weighted" and sum(not category.extra for category in plan.categories) > 1:
        found.append("alternative")
    found.append("requirement")
    return [*found, "recorded"] if plan.added else [*found, "added", "recorded"]
