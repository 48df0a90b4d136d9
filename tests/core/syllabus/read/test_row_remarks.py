"""Counts, points of each and drops from what stands beside a name."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.row_reading import RowReading
from vinemark.core.syllabus.read.row_remarks import read_remarks


def remarked(text: str, name: str = "labs", **known: Fraction) -> RowReading:
    made = RowReading(name.title(), 0, 1, 0, None, 0, **known)  # type: ignore[arg-type]
    read_remarks(made, f"{name} {text}", name)
    return made


@pytest.mark.parametrize(
    ("text", "count", "each", "lowest"),
    [
        ("(12 @ 10, best 10)", 12, 10, 0),
        ("(5, drop 1)", 5, None, 1),
        ("(8)", 8, None, 0),
        ("| ten reports; the lowest is dropped", 10, None, 1),
        ("(9 of 90)", None, None, 0),
        ("| plan (50), talk (50)", None, None, 0),
    ],
)
def test_remarks(text: str, count: int | None, each: int | None, lowest: int) -> None:
    made = remarked(text)
    assert (made.count, made.points_each, sum(drop.lowest for drop in made.drops)) == (count, each, lowest)


def test_a_bracket_with_the_whole_and_hours_that_are_no_number_of_items() -> None:
    made = remarked("three at 100 points each (300)", "exams")
    assert (made.points, made.points_each, made.count) == (300, 100, 3)
    assert remarked("(30 hours)", "shop hours").count is None


def test_points_of_several_parts_are_of_the_parts() -> None:
    told = "(25%): five reports, 20 points each, and a practical worth 100 points"
    made = remarked(told, weight=Fraction(25), points=Fraction(100))
    assert (made.count, made.points, made.points_each) == (None, None, None)
    assert remarked(told, points=Fraction(100)).points == 100
