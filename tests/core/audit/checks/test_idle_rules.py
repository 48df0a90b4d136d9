"""Rules that can do nothing, or far too much."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import Alternative, Condition, Consequence, LateRule, Replacement, Requirement

HOME = category("10", "10", "10", weight="40")
FINAL = category("100", prefix="f", weight="60")
PLAN = plan(HOME, FINAL)
AT_MOST_C = Consequence("letter_at_most", letter="C")


def found(made: Plan, code: str = "rule-idle") -> list[str]:
    return [f.message for f in of_code(course(made, {"ada": ["9", "8", "7", "80"]}), code)]


def requires(condition: Condition, consequence: Consequence = AT_MOST_C) -> Plan:
    return replace(PLAN, requirements=(Requirement("r", condition, consequence),))


@pytest.mark.parametrize(("made", "words"), [
    (requires(Condition("percent_below", Fraction(19), item="f0")), "asks for 19% only"),
    (requires(Condition("percent_below", Fraction(20), item="f0")), ""),
    (requires(Condition("percent_below", Fraction(101), item="f0")), "asks for more than 100%"),
    (requires(Condition("missed_at_least", Fraction(4), category="c-i")), "counts more missed work than there is"),
    (requires(Condition("missed_at_least", Fraction(3), category="c-i")), ""),
    (requires(Condition("percent_below", Fraction(60), item="f0"), Consequence("percent_down")), "takes nothing away"),
    (requires(Condition("percent_below", Fraction(60), item="f0"), Consequence("letter_at_most", letter="A")),
     "allows every letter"),
])  # fmt: skip
def test_a_requirement_that_says_nothing(made: Plan, words: str) -> None:
    assert found(made) == ([f"A requirement {words}."] if words else [])


def test_other_rules_that_do_nothing() -> None:
    same = Alternative("a", "Final first", {"c-i": Fraction(40), "c-f": Fraction(60)})
    assert len(found(replace(PLAN, alternatives=(same,)))) == 1
    other = replace(same, weights={"c-i": Fraction(20), "c-f": Fraction(80)})
    assert found(replace(PLAN, alternatives=(other,))) == []
    planned = replace(FINAL, items=(replace(FINAL.items[0], counts=False),))
    made = replace(plan(HOME, planned), replacements=(Replacement("f0", "c-i"),))
    assert len(found(made)) == 1
    assert len(found(plan(replace(HOME, late=LateRule(Fraction(0))), FINAL))) == 1
    assert found(plan(replace(HOME, late=LateRule(Fraction(0), last_day=0)), FINAL)) == []


@pytest.mark.parametrize(("count", "due"), [(2, False), (3, True)])
def test_one_score_for_a_whole_category(count: int, due: bool) -> None:
    made = replace(PLAN, replacements=(Replacement("f0", "c-i", count=count),))
    assert bool(found(made, "replaces-all")) == due


@pytest.mark.parametrize(("rule", "due"), [
    (LateRule(Fraction(10), grace_days=13), False), (LateRule(Fraction(10), grace_days=14), True),
    (LateRule(Fraction(10), free_days=15), True), (LateRule(Fraction(50)), False), (LateRule(Fraction(51)), True),
])  # fmt: skip
def test_a_figure_of_a_late_rule_that_the_syllabus_does_not_say(rule: LateRule, due: bool) -> None:
    made = course(plan(replace(HOME, late=rule), FINAL), {"ada": ["9"]})
    assert bool(of_code(made, "late-rule-odd")) == due
    said = replace(made, syllabus="Late work: 14 days of grace, 15 free days, 51% a day.")
    assert of_code(said, "late-rule-odd") == []
