"""A section as one student may see it: nothing hidden is in it, and nothing of it came from a hidden score."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, course, plan
from vinemark.core.plan.rules import Condition, Consequence, Requirement
from vinemark.core.statement.visible import left_out, visible_course, visible_plan

AT_MOST_D = Consequence("letter_at_most", letter="D")
FINAL = Requirement("r1", Condition("percent_below", Fraction(50), item="i1"), AT_MOST_D)
LOWER = Consequence("letters_down", Fraction(1))
WHOLE = Requirement("r2", Condition("percent_below", Fraction(50), category="c"), LOWER)


def test_only_the_student_and_visible_scores_are_in_it() -> None:
    of = course(plan(category("10", "10")), {"a": ["5", "7"], "b": ["1", "2"]})
    student = of.students[0].id
    seen = visible_course(of, student, {"i0"})
    assert [one.id for one in seen.students] == [student]
    assert seen.scores == {student: {"i0": Fraction(5)}}
    assert [(item.id, item.counts) for _, item in seen.plan.items()] == [("i0", True), ("i1", False)]
    assert not seen.settled
    assert seen.records is None


def test_a_requirement_that_looks_at_hidden_work_waits() -> None:
    both = replace(plan(category("10", "10")), requirements=(FINAL, WHOLE))
    assert visible_plan(both, {"i0"}).requirements == (WHOLE,)
    assert left_out(both, {"i0"}) == [FINAL]
    assert left_out(both, {"i0", "i1"}) == []
