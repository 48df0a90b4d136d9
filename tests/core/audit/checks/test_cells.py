"""Scores far from what class and student have elsewhere, and codes typed as scores."""

from fractions import Fraction

import pytest

from tests.builders import category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Course

PLAN = plan(category(*["100"] * 7))


def class_with(cells: list[str], level: str = "80") -> Course:
    """Eight students at a level and a bit around it, and Ada with these cells."""
    others = {f"s{n}": [str(Fraction(level) + n % 3 - 1)] * 7 for n in range(8)}
    return course(PLAN, {**others, "ada": list(cells)})


def outliers(of: Course) -> list[tuple[str | None, str | None]]:
    return [(f.student, f.item) for f in of_code(of, "outlier")]


def test_a_score_far_below_the_others_is_found_once_or_twice_and_not_three_times() -> None:
    assert outliers(class_with(["80"] * 6 + ["20"])) == [("ada", "i6")]
    assert outliers(class_with(["80"] * 5 + ["20", "15"])) == [("ada", "i5"), ("ada", "i6")]
    assert outliers(class_with(["80"] * 4 + ["20"] * 3)) == []


def test_the_limits_are_inclusive() -> None:
    """r is at most -0.55, and f at least 0.4 below the second-lowest other."""
    assert outliers(class_with(["80"] * 6 + ["25"])) == [("ada", "i6")]
    assert outliers(class_with(["80"] * 6 + ["25.01"])) == []
    assert outliers(class_with(["90", "90", "90", "90", "65", "65", "25"])) == [("ada", "i6")]
    assert outliers(class_with(["90", "90", "90", "90", "64", "64", "25"])) == []


def test_a_high_score_of_a_weak_student() -> None:
    assert outliers(class_with(["40"] * 6 + ["98"])) == [("ada", "i6")]
    assert outliers(class_with(["40"] * 6 + ["84"])) == []


def test_the_best_student_of_a_hard_exam_is_none() -> None:
    others = {f"s{n}": ["70"] * 6 + [str(30 + n)] for n in range(8)}
    assert outliers(course(PLAN, {**others, "ada": ["75"] * 6 + ["95"]})) == []


def test_a_typed_zero_stands_outside_and_small_items_are_left_out() -> None:
    assert outliers(class_with(["80"] * 6 + ["0"])) == []
    small = plan(category(*["4"] * 7))
    others = {f"s{n}": [str(Fraction(3) + Fraction(n % 3, 10))] * 7 for n in range(8)}
    assert outliers(course(small, {**others, "ada": ["3"] * 6 + ["0.5"]})) == []


def test_a_code_is_found_where_it_stands_three_times_where_it_does_not_fit() -> None:
    of = class_with(["80"] * 7)
    three = of.with_cells({("ada", "i1"): Fraction(1), ("s0", "i2"): Fraction(1), ("s3", "i5"): Fraction(1)})
    assert [(f.student, f.item) for f in of_code(three, "code-as-number")] == [
        ("ada", "i1"), ("s0", "i2"), ("s3", "i5"),
    ]  # fmt: skip
    two = of.with_cells({("ada", "i1"): Fraction(1), ("s0", "i2"): Fraction(1)})
    assert of_code(two, "code-as-number") == []
    assert of_code(of.with_cells({(f"s{n}", "i1"): Fraction(99) for n in range(4)}), "code-as-number") == []


@pytest.mark.parametrize("code", ["999", "0.01"])
def test_one_fault_is_one_finding(code: str) -> None:
    """What is a code is no slip, not above the points, and no outlier."""
    of = class_with(["80"] * 7).with_cells({(s, "i1"): Fraction(code) for s in ("ada", "s0", "s3")})
    for other in ("slipped-key", "over-points", "outlier"):
        assert of_code(of, other) == []
    assert len(of_code(of, "code-as-number")) == 3


def test_a_slip_is_not_above_the_points_as_well() -> None:
    of = class_with(["80"] * 6 + ["800"])
    assert [f.item for f in of_code(of, "slipped-key")] == ["i6"]
    assert of_code(of, "over-points") == []
    assert outliers(of) == []


def test_a_slip_of_extra_credit_is_found_too() -> None:
    extra = plan(category(*["10"] * 6, weight="100"), category("20", weight="5", prefix="x", extra=True))
    others = {f"s{n}": ["8"] * 6 + [str(15 + n % 4)] for n in range(7)}
    slip = course(extra, {**others, "ada": ["8"] * 6 + ["1.6"]})
    assert [(f.student, f.item) for f in of_code(slip, "slipped-key")] == [("ada", "x0")]
