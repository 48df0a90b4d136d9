"""A better score that replaces weaker ones. Worked by hand."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import AFTER, DURING, category, grade, plan
from tests.core.strategies import courses
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import work_out
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import Replacement

TESTS = category("50", "100", "100", prefix="t", weight="60", drop_lowest=1)
FINAL = category("100", prefix="f", weight="40")


def with_rule(*rules: Replacement) -> Plan:
    return plan(TESTS, FINAL, replacements=rules)


def states(of: Plan, *cells: str | None) -> list[str]:
    return [item.state for item in grade(of, *cells).categories[0].items]


def test_after_the_drop_the_weakest_that_is_left_is_replaced() -> None:
    # 20/50 is dropped; of 70 and 80 the 70 becomes 90: (90 + 80) / 200 = 85%; 0.6 * 85 + 0.4 * 90 = 87.
    found = grade(with_rule(Replacement("f0", "c-t")), "20", "70", "80", "90")
    assert found.percent == 87
    replaced = found.categories[0].items[1]
    assert (replaced.state, replaced.earned, replaced.size, replaced.replaced_by) == ("replaced", 90, 100, "f0")


def test_what_is_better_or_the_same_stays() -> None:
    assert "replaced" not in states(with_rule(Replacement("f0", "c-t", 3)), "20", "90", "95", "90")


def test_missing_work_is_replaced_unless_the_rule_says_not() -> None:
    two = plan(replace(TESTS, drop_lowest=0), FINAL)
    rule = Replacement("f0", "c-t")
    assert states(replace(two, replacements=(rule,)), "40", "missing", "80", "90") == ["kept", "replaced", "kept"]
    scored = replace(two, replacements=(replace(rule, missed=False),))
    assert states(scored, "40", "missing", "80", "90") == ["replaced", "kept", "kept"]


@pytest.mark.parametrize("cell", [None, "exempt", "missing", "0"])
def test_a_source_without_a_score_does_nothing(cell: str | None) -> None:
    assert "replaced" not in states(with_rule(Replacement("f0", "c-t", 3)), "20", "30", "40", cell)


def test_a_planned_source_does_nothing_yet() -> None:
    planned = replace(FINAL, items=(replace(FINAL.items[0], counts=False),))
    of = plan(TESTS, planned, replacements=(Replacement("f0", "c-t"),))
    assert "replaced" not in states(of, "20", "70", "80", "90")


def test_a_dropped_source_serves_and_is_not_altered_by_its_own_rule() -> None:
    quizzes = category("10", "10", "10", prefix="q", drop_highest=1)
    of = plan(quizzes, replacements=(Replacement("q0", "c-q", 2),))
    found = grade(of, "9", "5", "7").categories[0]
    assert [item.state for item in found.items] == ["dropped_highest", "replaced", "replaced"]
    assert found.fraction == Fraction(9, 10)


def test_ties_go_to_what_stands_first_and_rules_run_in_order() -> None:
    quizzes = category("10", "10", "10", prefix="q")
    twice = plan(quizzes, FINAL, replacements=(Replacement("f0", "c-q"), Replacement("f0", "c-q")))
    once = replace(twice, replacements=twice.replacements[:1])
    assert states(once, "5", "5", "9", "80") == ["replaced", "kept", "kept"]
    assert states(twice, "5", "5", "9", "80") == ["replaced", "replaced", "kept"]


def test_in_blanks_in_full_a_blank_final_replaces_too() -> None:
    found = grade(with_rule(Replacement("f0", "c-t", 2)), "20", "70", "80", None)
    assert found.percent == 75
    assert found.blanks_full == 100


@settings(max_examples=60)
@given(courses(), st.data())
def test_a_replacement_never_lowers_a_grade(of: Course, data: st.DataObject) -> None:
    sources = [i.id for c, i in of.plan.items() if not c.extra and not i.extra]
    into = [c.id for c in of.plan.categories if not c.extra]
    if not sources:
        return
    rule = Replacement(data.draw(st.sampled_from(sources)), data.draw(st.sampled_from(into)))
    before, after = grades_of(of, DURING), grades_of(replace(of, plan=replace(of.plan, replacements=(rule,))), DURING)
    for student, found in before.items():
        assert (after[student].percent or 0) >= (found.percent or 0)


def test_a_replaced_item_stays_a_source_by_its_own_score() -> None:
    quizzes, labs = category("10", "10", prefix="q", weight="50"), category("10", prefix="l", weight="50")
    rules = (Replacement("f0", "c-q"), Replacement("q0", "c-l"))
    of = plan(quizzes, labs, replace(FINAL, weight=Fraction(0)), replacements=rules)
    found = work_out(of, {"q0": Fraction(5), "q1": Fraction(8), "l0": Fraction(2), "f0": Fraction(90)}, AFTER)
    assert [c.fraction for c in found.categories[:2]] == [Fraction(17, 20), Fraction(1, 2)]
