"""What one score would do."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import AFTER, category, course, plan
from vinemark.core.grade.try_score import movers, with_score

PLAN = plan(category("10", "10"))


def test_a_tried_score_changes_nothing() -> None:
    of = course(PLAN, {"ada": ["9", "7"]})
    tried = with_score(of, "ada", "i1", Fraction(9), AFTER)
    assert (tried.percent, tried.letter) == (90, "A")
    assert of.cell("ada", "i1") == 7
    assert with_score(of, "ada", "i1", None, AFTER).percent == 90


def test_the_lowest_tenth_that_alone_brings_a_better_letter_fewest_first() -> None:
    """9 and 7 are 80%: B. A needs 18 of 20, so 9 more than nothing on neither; 10 on the first gives 85."""
    of = course(PLAN, {"ada": ["9", "7"], "bo": ["9", "8.6"], "cy": ["10", "10"], "di": [None, None]})
    assert [(m.item.id, m.score) for m in movers(of, "ada", AFTER)] == [("i1", "9")]
    assert [(m.item.id, m.score) for m in movers(of, "bo", AFTER)] == [("i0", "9.4"), ("i1", "9")]
    assert movers(of, "cy", AFTER) == []
    assert movers(of, "di", AFTER) == []


def test_a_blank_moves_too_and_an_exempt_or_planned_item_does_not() -> None:
    of = course(PLAN, {"ada": ["8", None], "bo": ["8", "exempt"]})
    assert [(m.item.id, m.score, m.now) for m in movers(of, "ada", AFTER)] == [
        ("i0", "9", Fraction(8)), ("i1", "10", None),
    ]  # fmt: skip
    assert [m.item.id for m in movers(of, "bo", AFTER)] == ["i0"]
    one, two = PLAN.categories[0].items
    planned = plan(replace(PLAN.categories[0], items=(one, replace(two, counts=False))))
    assert [m.item.id for m in movers(course(planned, {"ada": ["8", None]}), "ada", AFTER)] == ["i0"]
