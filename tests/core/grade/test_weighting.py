"""Alternative weights: the better of the two counts. Worked by hand."""

from dataclasses import replace
from fractions import Fraction

from hypothesis import given, settings

from tests.builders import DURING, category, grade, plan
from tests.core.strategies import ruled_courses
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.weighting import weightings_of
from vinemark.core.plan.rules import Alternative

MID, FINAL = category("100", prefix="m", weight="40"), category("100", prefix="f", weight="60")
EXTRA = category("10", prefix="x", weight="3", extra=True)
MORE = Alternative("more", "The final counts more", {"c-m": Fraction(10), "c-f": Fraction(90)})
OF = plan(MID, FINAL, EXTRA, alternatives=(MORE,))


def test_the_plans_own_come_first_and_extra_credit_keeps_its_weight() -> None:
    own, more = weightings_of(OF)
    assert (own.id, own.weights) == (None, (40, 60, 3))
    assert (more.id, more.weights) == ("more", (10, 90, 3))
    assert own.whole([True, False, True]) == 40
    assert own.whole([False, False, True]) is None


def test_the_better_counts_and_its_weights_are_shown() -> None:
    # 0.4 * 60 + 0.6 * 90 = 78, and 0.1 * 60 + 0.9 * 90 = 87.
    found = grade(OF, "60", "90", "0")
    assert found.percent == 87
    assert found.weighting is not None
    assert found.weighting.id == "more"
    assert [c.weight for c in found.categories] == [10, 90, 3]
    assert [c.contributes for c in found.categories] == [6, 81, 0]


def test_of_equal_ones_the_plans_own_stays() -> None:
    found = grade(OF, "90", "90", "0")
    assert found.weighting is not None
    assert found.weighting.id is None


def test_each_companion_takes_its_own() -> None:
    found = grade(OF, "90", None, None)
    assert (found.percent, found.blanks_zero, found.blanks_full) == (90, 36, 102)


def test_a_weighting_that_has_nothing_to_weigh_yet_is_passed_over() -> None:
    no_mid = Alternative("no", "Without", {"c-m": Fraction(0), "c-f": Fraction(100)})
    found = grade(plan(MID, FINAL, alternatives=(no_mid,)), "70", None)
    assert found.percent == 70
    none_own = plan(category("100", prefix="m", weight="0"), FINAL, alternatives=(MORE,))
    assert grade(none_own, "70", None).percent == 70


@settings(max_examples=60)
@given(ruled_courses())
def test_alternatives_never_lower_the_percent_of_the_categories(of: Course) -> None:
    alone = grades_of(replace(of, plan=replace(of.plan, alternatives=())), DURING)
    for student, found in grades_of(of, DURING).items():
        assert (found.uncapped or 0) >= (alone[student].uncapped or 0)
