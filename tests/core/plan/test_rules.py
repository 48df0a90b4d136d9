"""The further rules as data: what stands where nothing is said."""

from fractions import Fraction

from vinemark.core.plan.plan import Category, Plan
from vinemark.core.plan.rules import CONDITION_KINDS, CONSEQUENCE_KINDS, LateRule, Replacement


def test_a_plan_has_no_further_rules_of_itself() -> None:
    plan, category = Plan("weighted"), Category("c", "C")
    assert (plan.replacements, plan.alternatives, plan.requirements, plan.added, plan.recorded) == ((), (), (), 0, ())
    assert (category.late, category.symbols, category.rounding) == (None, (), None)


def test_defaults_are_those_of_the_course_file() -> None:
    assert LateRule(Fraction(10)) == LateRule(Fraction(10), "points", None, 0, None, 0)
    assert Replacement("f", "test") == Replacement("f", "test", 1, True)
    assert len(CONDITION_KINDS) == 3
    assert len(CONSEQUENCE_KINDS) == 4
