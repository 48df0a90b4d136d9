"""What scores still to come would do, and what one of them would have to be; held against the calculation itself."""

from fractions import Fraction

import pytest

from tests.builders import AFTER, TENS, category, course, plan
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import grade_of
from vinemark.core.statement.visible import visible_course
from vinemark.core.statement.what_if import Needed, needed, tried

FOUR = course(plan(category("10", "10", "10", "10"), scale=TENS), {"s": ["8", "9", None, "3"]})
STUDENT = FOUR.students[0].id


def seen(*visible: str) -> Course:
    return visible_course(FOUR, STUDENT, set(visible))


def test_typed_scores_count_beside_the_visible_ones() -> None:
    found = tried(seen("i0", "i1"), FOUR.plan, STUDENT, {"i2": Fraction(4)}, AFTER)
    assert found.percent == Fraction(21 * 100, 30)
    assert found.letter == "C"
    whole = tried(seen("i0", "i1"), FOUR.plan, STUDENT, {"i2": Fraction(4), "i3": Fraction(3)}, AFTER)
    as_it_is = course(FOUR.plan, {"s": ["8", "9", "4", "3"]})
    assert whole.percent == grade_of(as_it_is, as_it_is.students[0].id, AFTER).percent


@pytest.mark.parametrize(
    ("letter", "reach", "score"), [("A", "from", "10"), ("B", "from", "7"), ("C", "from", "4"), ("D", "from", "1")]
)
def test_what_one_item_would_have_to_bring(letter: str, reach: str, score: str) -> None:
    item = FOUR.plan.columns["i2"]
    found = needed(seen("i0", "i1"), FOUR.plan, STUDENT, item, letter, {}, AFTER)
    assert (found.reach, found.score) == (reach, score)
    tenth = Fraction(score) - Fraction(1, 10)
    just_less = tried(seen("i0", "i1"), FOUR.plan, STUDENT, {"i2": tenth}, AFTER)
    assert just_less.letter is not None
    assert just_less.letter > letter


def test_what_any_score_does_and_what_none_can() -> None:
    item = FOUR.plan.columns["i2"]
    assert needed(seen("i0", "i1"), FOUR.plan, STUDENT, item, "F", {}, AFTER) == Needed(item, "F", "any")
    low = visible_course(course(FOUR.plan, {"s": ["1", "1"]}), "s", {"i0", "i1"})
    assert needed(low, FOUR.plan, low.students[0].id, item, "A", {}, AFTER) == Needed(item, "A", "not alone")
    assert needed(low, FOUR.plan, low.students[0].id, item, "Z", {}, AFTER).reach == "not alone"


def test_what_is_typed_for_others_counts_beside_it() -> None:
    item, typed = FOUR.plan.columns["i2"], {"i3": Fraction(10)}
    found = needed(seen("i0", "i1"), FOUR.plan, STUDENT, item, "A", typed, AFTER)
    assert (found.reach, found.score) == ("from", "9")
