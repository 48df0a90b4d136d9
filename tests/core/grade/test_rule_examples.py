"""Small examples of further rules, redone by hand."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, plan
from vinemark.core.grade.rule_examples import (
    alternative_example,
    late_example,
    replacement_example,
    requirement_example,
)
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
)

PLAN = plan(category("10", "10", weight="40"), category("50", weight="60", prefix="j"))


def test_late_work() -> None:
    assert late_example(category("10")) == ""
    assert late_example(category("10", late=LateRule(Fraction(10)))) == "8.5 of 10, 2 days late, counts as 6.5."
    assert "Free days come off first." in late_example(category("10", late=LateRule(Fraction(10), free_days=2)))


def test_a_replacement() -> None:
    """70% and 90%: 40 * 0.7 + 60 * 0.9 = 82; with one of two at 90%: 40 * 0.8 + 54 = 86."""
    rule = Replacement("j0", "c-i")
    assert replacement_example(replace(PLAN, replacements=(rule,)), rule) == (
        "A student with 90% on J 0 and 70% on everything else gets B (86%) instead of B (82%)."
    )
    planned = plan(PLAN.categories[0], category("50", weight="60", prefix="j"))
    items = tuple(replace(i, counts=False) for i in planned.categories[1].items)
    planned = replace(planned, categories=(planned.categories[0], replace(planned.categories[1], items=items)))
    assert replacement_example(planned, rule) == "J 0 does not count yet: until it does, nothing is replaced."


def test_alternative_weights() -> None:
    """90% in the second: 40/60 gives 82, 10/90 gives 88."""
    rule = Alternative("a1", "More", {"c-i": Fraction(10), "c-j": Fraction(90)})
    assert alternative_example(replace(PLAN, alternatives=(rule,)), rule) == (
        "A student with 90% in Category j and 70% elsewhere gets B (88%) instead of B (82%)."
    )
    same = Alternative("a1", "Same", {"c-i": Fraction(40), "c-j": Fraction(60)})
    assert alternative_example(replace(PLAN, alternatives=(same,)), same) == ""


def test_requirements() -> None:
    failing = Consequence("letter_at_most", letter="F")
    below = Requirement("r", Condition("percent_below", Fraction(60), item="j0"), failing)
    assert requirement_example(replace(PLAN, requirements=(below,)), below) == (
        "A student with 55% on J 0 and 92% on everything else gets F (69.8%) instead of D (69.8%)."
    )
    capped = Consequence("percent_at_most", Fraction(59))
    missed = Requirement("r", Condition("missed_at_least", Fraction(2), "c-i"), capped)
    assert requirement_example(replace(PLAN, requirements=(missed,)), missed) == (
        "A student with 2 missed of Category i and 92% on everything else gets F (55.2%) with this rule or without."
    )
    many = replace(missed, condition=Condition("missed_at_least", Fraction(3), "c-i"))
    assert requirement_example(replace(PLAN, requirements=(many,)), many) == ""
    of = replace(PLAN, recorded=(RecordedItem("abs", "Absences"),))
    above = Requirement(
        "r", Condition("value_above", Fraction(3), item="abs"), Consequence("percent_down", Fraction(2))
    )
    assert requirement_example(replace(of, requirements=(above,)), above) == (
        "A student with 4 for Absences and 92% on everything else gets A (90%) instead of A (92%)."
    )
