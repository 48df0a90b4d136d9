"""Categories from sentences."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.prose import Said, as_categories, said_formula, said_points, said_weights


def weights(text: str) -> list[tuple[str, Fraction | None, bool]]:
    return [(s.name.lower(), s.whole, s.rest) for s in said_weights(Page(f"Grading\n\n{text}"))]


@pytest.mark.parametrize(
    ("text", "name", "whole"),
    [
        ("Homework is worth 20% of the course grade.", "homework", 20),
        ("Each of the three midterms counts 15% of the grade.", "midterms", 45),
        ("A fifth of the grade comes from the field log.", "field log", 20),
        ("The final exam makes up 35 percent of your grade.", "final exam", 35),
    ],
)
def test_a_sentence(text: str, name: str, whole: int) -> None:
    found = weights(text)
    assert len(found) == 1
    assert name in found[0][0]
    assert found[0][1] == whole


def test_a_penalty_in_percent_is_no_weight() -> None:
    assert weights("A late report loses 10% per day.") == []


def test_a_formula_and_amounts_of_points() -> None:
    formula = said_formula(Page("Grading\n\nGrade = 0.4 x Labs + 0.6 x Exams\n"))
    assert [(s.name, s.amount) for s in formula] == [("Labs", 40), ("Exams", 60)]
    points = said_points(Page("Grading\n\nThe final exam is worth 150 points.\n"))
    assert [(s.unit, s.amount) for s in points] == [("points", 150)]


def test_a_name_said_twice_is_taken_once() -> None:
    one = Said("Homework", 0, 8, Fraction(20), False, None, False, True)
    again = Said("homework", 30, 38, Fraction(20), False, None, False, True)
    found = as_categories([one, again])
    assert [(c.name, c.weight) for c in found] == [("Homework", 20)]
