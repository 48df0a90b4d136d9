"""What a plan says in words, as a ribbon, and in a cell."""

from fractions import Fraction

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Item, ScaleRow
from vinemark.core.scores.typed_score import read_typed_score

QUIZ = Item("q", "Quiz", Fraction(10))


@pytest.mark.parametrize(
    ("typed", "cell", "remark"),
    [
        ("8.5", Fraction(17, 2), ""),
        (" 7 ", Fraction(7), ""),
        ("8,5", Fraction(17, 2), ""),
        (".5", Fraction(1, 2), ""),
        ("m", "missing", ""),
        ("Missing", "missing", ""),
        ("X", "exempt", ""),
        ("", None, ""),
        ("12", Fraction(12), "above the item's points"),
        ("85%", Fraction(17, 2), ""),
        ("7+1,5", Fraction(17, 2), ""),
        ("7 + 8.5", Fraction(31, 2), "above the item's points"),
        ("120 %", Fraction(12), "above the item's points"),
    ],
)
def test_a_typed_cell(typed: str, cell: object, remark: str) -> None:
    entry = read_typed_score(typed, QUIZ)
    assert (entry.cell, entry.remark) == (cell, remark)


@pytest.mark.parametrize(
    ("typed", "reason"), [("abc", "must be a number"), ("-4", "must not be negative"), ("1,000.5", "must be a number")]
)
def test_a_refused_cell_says_why(typed: str, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_typed_score(typed, QUIZ)
    assert reason in caught.value.reason


def test_a_letter_of_the_scale_is_taken_as_its_cutoff_and_said() -> None:
    """Arithmetic: a B from 80 is 8 of 10 points; 100/3 percent of 10 points is no finite decimal."""
    scale = [ScaleRow("B", Fraction(80)), ScaleRow("X", Fraction(50)), ScaleRow("D", Fraction(100, 3))]
    entry = read_typed_score("b", QUIZ, scale)
    assert (entry.cell, entry.remark) == (8, "B taken as its cutoff, 80%")
    assert read_typed_score("x", QUIZ, scale).cell == 5
    assert read_typed_score("exempt", QUIZ, scale).cell == "exempt"
    with pytest.raises(Refused) as caught:
        read_typed_score("D", QUIZ, scale)
    assert "cannot be written as a decimal" in caught.value.reason
