"""Cells with late days and cells without."""

from fractions import Fraction

from vinemark.core.course.cell import DetailedScore, scored


def test_a_number_without_late_days_is_a_plain_cell() -> None:
    assert scored(Fraction(8), 0) == Fraction(8)
    assert scored(Fraction(8), 2) == DetailedScore(Fraction(8), None, 2)


def test_the_same_score_on_time_and_late_are_two_cells() -> None:
    assert scored(Fraction(8), 2) not in {Fraction(8), DetailedScore(Fraction(8), None, 1)}
