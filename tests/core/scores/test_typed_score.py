"""What a plan says in words, as a ribbon, and in a cell."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import DetailedScore
from vinemark.core.plan.plan import Item, ScaleRow
from vinemark.core.plan.rules import LateRule, RecordedItem, Symbol
from vinemark.core.scores.typed_score import read_plan_score, read_typed_score

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
        ("9/10", Fraction(9), ""),
        ("8,5 / 10", Fraction(17, 2), ""),
        ("12/10", Fraction(12), "above the item's points"),
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


SYMBOLS = (Symbol("check+", Fraction(95)), Symbol("check", Fraction(80)), Symbol("late 1", Fraction(50)))


@pytest.mark.parametrize(
    ("typed", "cell"),
    [
        ("8.5 l2", DetailedScore(Fraction(17, 2), None, 2)),
        ("8.5l2", DetailedScore(Fraction(17, 2), None, 2)),
        ("8,5  Late 2 days", DetailedScore(Fraction(17, 2), None, 2)),
        ("85% late 1", DetailedScore(Fraction(17, 2), None, 1)),
        ("8 late 0", Fraction(8)),
        ("check+", DetailedScore(symbol="check+")),
        ("CHECK", DetailedScore(symbol="check")),
        ("check+ l3", DetailedScore(None, "check+", 3)),
        ("late 1", DetailedScore(symbol="late 1")),
    ],
)
def test_late_days_and_symbols(typed: str, cell: object) -> None:
    assert read_typed_score(typed, QUIZ, (), SYMBOLS).cell == cell


@pytest.mark.parametrize(
    ("typed", "reason"),
    [
        ("m late 2", "late days without a score"),
        ("8 late 400", "more than 366 late days"),
        ("chek", "must be a number"),
        ("l2", "must be a number"),
    ],
)
def test_late_days_that_cannot_be(typed: str, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_typed_score(typed, QUIZ, (), SYMBOLS)
    assert reason in caught.value.reason


def test_a_cell_of_the_plan_is_read_with_its_category() -> None:
    labs = category("10", symbols=SYMBOLS)
    of = replace(plan(labs), recorded=(RecordedItem("absences", "Absences"),))
    item, absences = of.columns["i0"], of.columns["absences"]
    assert read_plan_score(of, item, "check").cell == DetailedScore(symbol="check")
    assert read_plan_score(of, item, "8 l1").remark == "Category i has no rule for late work"
    ruled = plan(replace(labs, late=LateRule(Fraction(10))))
    assert read_plan_score(ruled, ruled.columns["i0"], "8 l1").remark == ""
    assert (read_plan_score(of, absences, "4").cell, read_plan_score(of, absences, "4").remark) == (4, "")
    assert read_plan_score(of, absences, "x").cell == "exempt"
    with pytest.raises(Refused):
        read_plan_score(of, absences, "85%")


@pytest.mark.parametrize(
    ("typed", "said"), [("9/20", "is out of 20, and the item has 10 points"), ("9/x", "type points")]
)
def test_a_pair_of_another_base_is_not_taken(typed: str, said: str) -> None:
    with pytest.raises(Refused, match=said):
        read_typed_score(typed, QUIZ)
