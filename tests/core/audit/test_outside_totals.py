"""Totals from elsewhere, held against ours."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, course, plan
from vinemark.core.audit.outside_totals import OutsideFigure, compare_totals, other_rules, read_figure
from vinemark.core.plan.plan import Plan

LETTERS = ("A", "A-", "B")


@pytest.mark.parametrize(
    ("typed", "figure"),
    [
        ("87.25", OutsideFigure("87.25", Fraction(349, 4), 2)),
        (" 87,25 % ", OutsideFigure("87,25", Fraction(349, 4), 2)),
        ("87", OutsideFigure("87", Fraction(87), 0)),
        ("a-", OutsideFigure("A-")),
        ("A−", OutsideFigure("A-")),
        ("Z", None),
        ("", None),
        ("-3", None),
    ],
)
def test_a_percent_or_a_letter(typed: str, figure: OutsideFigure | None) -> None:
    assert read_figure(typed, LETTERS) == figure


def compared(of: Plan, cells: dict[str, list[str | None]], theirs: dict[str, str]) -> list[str]:
    figures = {s: f for s, t in theirs.items() if (f := read_figure(t, "ABCDF")) is not None}
    return [e.words for e in compare_totals(course(of, cells), figures, AFTER).explanations]


def test_the_same_at_the_decimals_that_elsewhere_writes() -> None:
    of = course(plan(category("3")), {"ada": ["2"], "bo": [None]})
    found = compare_totals(of, {"ada": OutsideFigure("66.67", Fraction(6667, 100), 2)}, AFTER)
    assert (found.agree, found.lines[0].ours, found.lines[0].agrees) == (1, "66.6667 D", True)
    assert not compare_totals(of, {"ada": OutsideFigure("66.66", Fraction(6666, 100), 2)}, AFTER).agree
    none = compare_totals(of, {"bo": OutsideFigure("F")}, AFTER)
    assert (none.lines[0].ours, none.agree) == ("no grade yet", 0)
    assert compare_totals(of, {"ada": OutsideFigure("D"), "cy": OutsideFigure("A")}, AFTER).agree == 1


def test_the_rule_that_explains_a_difference_comes_first() -> None:
    of = plan(category("10", "10"))
    assert compared(of, {"ada": ["8", None]}, {"ada": "40"})[0] == "blanks count as 0"
    uneven = plan(category("10", "30"))
    assert "every item counts the same (equally)" in compared(uneven, {"ada": ["10", "15"]}, {"ada": "75"})
    dropping = plan(replace(category("10", "10"), drop_lowest=1))
    assert compared(dropping, {"ada": ["8", "6"]}, {"ada": "70"}) == ["nothing is dropped"]
    third = plan(category("3"))
    assert compared(third, {"ada": ["2"]}, {"ada": "66.66"}) == ["cut off instead of rounded"]
    assert compared(third, {"ada": ["2"]}, {"ada": "66.67"}) == []


def test_only_rules_that_are_others_are_tried() -> None:
    of = plan(category("10", weight="60"), category("10", weight="40", prefix="j"))
    words = [w for w, _ in other_rules(of)]
    assert "without Category i (60%)" in words
    assert "points earned out of points possible" in words
    assert "letters by the exact percent" not in words
    assert "nothing is dropped" not in words
    assert all(other != of for _, other in other_rules(of))
