"""Cells that are objects, and adjustments: taken where they are right, refused at their place where not."""

from fractions import Fraction
from typing import Any

import pytest

from vinemark.core.base.refused import Keys, NumberText, Refused
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Adjustment
from vinemark.core.course.read_cells import read_adjustments, read_cell, read_scores, symbols_of_items
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import RecordedItem, Symbol

PLAN = Plan(
    "weighted",
    (
        Category("a", "A", Fraction(1), items=(Item("q", "Q", Fraction(4)),), symbols=(Symbol("ok", Fraction(80)),)),
        Category("b", "B", Fraction(1), items=(Item("p", "P", Fraction(4)),)),
    ),
    recorded=(RecordedItem("abs", "Absences"),),
)


def test_cells_with_late_days_and_symbols() -> None:
    assert read_cell({"score": "8.5", "late": NumberText("2")}, "x") == DetailedScore(Fraction(17, 2), None, 2)
    assert read_cell({"score": "8.5"}, "x") == Fraction(17, 2)
    assert read_cell({"symbol": "ok"}, "x") == DetailedScore(None, "ok", 0)


@pytest.mark.parametrize(
    ("value", "refusal"),
    [
        ({"score": "1", "symbol": "ok"}, "x: needs one of score and symbol"),
        ({"late": "1"}, "x: needs one of score and symbol"),
        ({"score": "missing"}, "x.score: must be a number, not “missing”"),
        ({"score": "1", "late": "367"}, "x.late: must be 366 or less"),
        ({"score": "1", "late": "2.0"}, "x.late: must be a whole number, 0 or more"),
        ({"score": "-1"}, "x.score: must not be negative"),
        ({"score": "1", "days": "1"}, "x.days: unknown key"),
    ],
)
def test_what_is_refused(value: Any, refusal: str) -> None:
    with pytest.raises(Refused) as caught:
        read_cell(value, "x")
    assert str(caught.value) == refusal


def test_a_symbol_belongs_to_its_category() -> None:
    assert symbols_of_items(PLAN) == {"q": frozenset({"ok"}), "p": frozenset(), "abs": frozenset()}
    rows = read_scores(Keys({"scores": {"S1": {"q": {"symbol": "ok"}, "abs": "4"}}}, "", None), {"S1"}, PLAN)
    assert rows == {"S1": {"q": DetailedScore(None, "ok"), "abs": Fraction(4)}}
    with pytest.raises(Refused) as caught:
        read_scores(Keys({"scores": {"S1": {"p": {"symbol": "ok"}}}}, "", None), {"S1"}, PLAN)
    assert str(caught.value) == "scores.S1.p: “ok” is no symbol of the category"


def test_adjustments_alone_may_be_negative() -> None:
    value = {"adjustments": {"S1": {"percent": "-1.50", "reason": None}, "S2": {"percent": NumberText("-7.25")}}}
    found = read_adjustments(Keys(value, "", None), {"S1", "S2"})
    assert found == {"S1": Adjustment(Fraction(-3, 2)), "S2": Adjustment(Fraction(-29, 4))}


@pytest.mark.parametrize(
    ("value", "refusal"),
    [
        ({"S9": {"percent": "1"}}, "adjustments.S9: unknown student"),
        ({"S1": {"percent": "--1"}}, "adjustments.S1.percent: must not be negative"),
        ({"S1": {"percent": "a bit"}}, "adjustments.S1.percent: must be a number, not “a bit”"),
        ({"S1": {}}, "adjustments.S1.percent: is missing"),
    ],
)
def test_adjustments_that_are_refused(value: Any, refusal: str) -> None:
    with pytest.raises(Refused) as caught:
        read_adjustments(Keys({"adjustments": value}, "", None), {"S1"})
    assert str(caught.value) == refusal
