"""Further rules kept whole while the rest of a plan is edited: what they name must stay, or they must go first."""

from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rule_words import alternative_words, replacement_words, requirement_words
from vinemark.core.plan.rules import Alternative, Replacement, Requirement
from vinemark.core.plan.scale import scale_faults


def kept_rules(plan: Plan, before: Plan) -> Plan:
    """An edited plan with its alternative weights brought in line with its categories.

    Raises Refused at 'rules', in the words of the plan before, where a rule lost what it names.
    """
    plan = replace(plan, alternatives=tuple(_with_every_category(plan, one) for one in plan.alternatives))
    for replacement in plan.replacements:
        if _source_lost(plan, replacement):
            _refuse(replacement_words(before, replacement))
    for alternative in plan.alternatives if plan.basis == "points" else ():
        _refuse(alternative_words(before, alternative))
    for requirement in plan.requirements:
        if _subject_lost(plan, requirement):
            _refuse(requirement_words(before, requirement))
    return plan


def _refuse(words: str) -> None:
    raise Refused("rules", f"the rule “{words.removesuffix('.')}” needs it; change or remove that rule first")


def _with_every_category(plan: Plan, one: Alternative) -> Alternative:
    """A weight for each ordinary category: a new one starts with the plan's own."""
    ordinary = [category for category in plan.categories if not category.extra]
    return replace(one, weights={c.id: one.weights.get(c.id, c.weight or Fraction(0)) for c in ordinary})


def _source_lost(plan: Plan, rule: Replacement) -> bool:
    placed, into = plan.placed.get(rule.source), plan.category(rule.into)
    return placed is None or placed[0].extra or placed[1].extra or into is None or into.extra


def _subject_lost(plan: Plan, rule: Requirement) -> bool:
    condition, letter = rule.condition, rule.consequence.letter
    if condition.category is not None and plan.category(condition.category) is None:
        return True
    known = plan.columns if condition.kind == "value_above" else plan.placed
    if condition.item is not None and condition.item not in known:
        return True
    sound = bool(plan.scale) and not scale_faults(plan.scale)
    return bool(letter) and sound and letter not in {row.letter for row in plan.scale}
