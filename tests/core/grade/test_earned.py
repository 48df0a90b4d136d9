"""Points earned of points possible."""

from fractions import Fraction

from tests.builders import category, grade, plan
from vinemark.core.grade.earned import EarnedPoints, earned_points


def test_points_of_a_points_course_are_what_is_earned_of_what_was_possible() -> None:
    by_points = plan(category("10", "40", weight=None), category("5", prefix="e", weight=None, extra=True),
                     basis="points")  # fmt: skip
    assert earned_points(grade(by_points, "8", "31.5", "3")) == EarnedPoints(Fraction("42.5"), Fraction(50))
    assert earned_points(grade(by_points, "8", None, "3")) == EarnedPoints(Fraction(11), Fraction(10))


def test_a_category_cap_takes_points_away() -> None:
    capped = plan(category("10", "10", weight=None, cap=Fraction(100)), basis="points")
    assert earned_points(grade(capped, "12", "10")) == EarnedPoints(Fraction(20), Fraction(20))


def test_without_a_grade_or_by_weights_there_are_none() -> None:
    assert earned_points(grade(plan(category("10", weight=None), basis="points"), None)) is None
    assert earned_points(grade(plan(category("10")), "8")) is None
