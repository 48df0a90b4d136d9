"""Extra credit on the whole grade, said in a sentence."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.extra import find_extra
from vinemark.core.syllabus.read.layout import Page


def extra(text: str, weighted: bool = True) -> tuple[Fraction | None, Fraction | None] | None:
    found = find_extra(Page(text), weighted)
    return (found.category.weight, found.category.points) if found else None


@pytest.mark.parametrize(
    ("text", "weight"),
    [
        ("Extra credit: up to 3% can be added to your final grade.", 3),
        ("A talk is worth half a point; at most 2% of extra credit can be had.", 2),
        ("# Something extra\n\nWrite a page and earn up to 2 points added to your final average.", 2),
    ],
)
def test_on_top_of_the_grade(text: str, weight: int) -> None:
    assert extra(text) == (weight, None)


def test_in_points_of_the_course() -> None:
    assert extra("Taking part earns you 20 extra-credit points.", weighted=False) == (None, 20)


@pytest.mark.parametrize(
    "text",
    [
        "I do not offer extra credit of 3% or any other.",
        "Exams have a bonus question worth up to 5 points on that exam.",
        "Students with a letter get 50% extra time.",
        "One report on a talk adds 2 points to your lowest exam as extra credit.",
        "For extra credit a talk report may add 2 points to your lowest exam.",
        "With bonus problems a set can come out above 100%.",
    ],
)
def test_what_is_none(text: str) -> None:
    assert extra(text) is None
