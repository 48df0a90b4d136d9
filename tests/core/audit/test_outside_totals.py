"""Totals from elsewhere, held against ours."""

import random
from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, course, plan
from tests.core.audit.audit_courses import clean
from vinemark.core.audit.other_rules import other_rules
from vinemark.core.audit.outside_totals import OutsideFigure, compare_totals, held_totals, read_figure, read_figures
from vinemark.core.base.number import round_half_up
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Adjustment
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Plan, ScaleRow
from vinemark.core.plan.rules import Alternative, Condition, Consequence, LateRule, Replacement, Requirement

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
    words = [one.words for one in other_rules(of)]
    assert "without Category i (60%)" in words
    assert "points earned out of points possible" in words
    assert "letters by the exact percent" not in words
    assert "nothing is dropped" not in words
    assert all(one.plan != of for one in other_rules(of))


TWO = Fraction(2)
LATE = replace(category("10", "10", weight="40"), late=LateRule(Fraction(10)))
RULED = replace(
    plan(LATE, category("50", weight="60", prefix="j")),
    replacements=(Replacement("j0", "c-i"),),
    alternatives=(Alternative("a1", "More", {"c-i": Fraction(10), "c-j": Fraction(90)}),),
    requirements=(
        Requirement("r1", Condition("percent_below", Fraction(95), item="j0"), Consequence("percent_down", TWO)),
        Requirement("r2", Condition("missed_at_least", Fraction(1), "c-i"), Consequence("percent_down", TWO)),
    ),
    added=TWO,
)


@pytest.mark.parametrize(
    ("words", "other"),
    [
        ("without late deductions", replace(RULED, categories=(replace(LATE, late=None), RULED.categories[1]))),
        ("without the replacement", replace(RULED, replacements=())),
        ("first weights only", replace(RULED, alternatives=())),
        ("without requirements", replace(RULED, requirements=())),
        ("without the points for everyone", replace(RULED, added=Fraction(0))),
    ],
)
def test_a_further_rule_left_out_explains_the_difference(words: str, other: Plan) -> None:
    of = course(RULED, {"ada": ["9", "4", "45"], "bo": ["8", None, "40"], "cy": ["10", "9", "30"]})
    of = of.with_cells({(s.id, "i0"): DetailedScore(Fraction(9), None, 2) for s in of.students})
    theirs = {
        student: OutsideFigure("", round_half_up(grade.percent, 4), 4)
        for student, grade in grades_of(replace(of, plan=other), AFTER).items()
        if grade.percent is not None
    }
    found = compare_totals(of, theirs, AFTER)
    assert found.agree < 3
    assert words in {one.words for one in found.explanations if one.agree == 3}


def test_without_adjustments() -> None:
    of = course(plan(category("10")), {"ada": ["9"], "bo": ["8"]})
    theirs = {"ada": OutsideFigure("90", Fraction(90)), "bo": OutsideFigure("80", Fraction(80))}
    given = replace(of, adjustments={"ada": Adjustment(Fraction(2))})
    assert [(one.words, one.agree) for one in compare_totals(given, theirs, AFTER).explanations] == [
        ("without adjustments", 2)
    ]


def test_how_far_theirs_is_from_ours() -> None:
    of = course(plan(category("3")), {"ada": ["2"], "bo": ["3"], "cy": [None]})
    theirs = {"ada": read_figure("70", LETTERS), "bo": read_figure("99.5", LETTERS), "cy": read_figure("1", LETTERS)}
    found = held_totals(of, {s: f for s, f in theirs.items() if f}, AFTER)
    assert [line.apart for line in found.lines] == ["+3.33", "−0.50", ""]
    assert held_totals(of, {"ada": OutsideFigure("A")}, AFTER).lines[0].apart == ""
    assert [student.id for student in held_totals(of, {"ada": OutsideFigure("A")}, AFTER).missing] == ["bo", "cy"]


def test_points_percents_and_letters_are_told_apart() -> None:
    of = course(plan(category("20", "30")), {"ada": ["18", "27"], "bo": ["10", "30"]})
    points = read_figures({"ada": "45", "bo": "40"}, of, AFTER)
    assert {f.points for f in points.values()} == {45, 40}
    assert held_totals(replace(of, plan=replace(of.plan, basis="points")), points, AFTER).agree == 2
    assert {f.percent for f in read_figures({"ada": "90", "bo": "80"}, of, AFTER).values()} == {90, 80}
    assert {f.text for f in read_figures({"ada": "a", "bo": "B", "cy": "?"}, of, AFTER).values()} == {"A", "B"}
    signed = replace(of, plan=replace(of.plan, scale=(ScaleRow("D+", Fraction(60)), ScaleRow("D-", Fraction(0)))))
    assert {f.text for f in read_figures({"ada": "D"}, signed, AFTER).values()} == {"D"}


def test_rules_that_make_few_agree_by_chance_are_not_told() -> None:
    of = clean(11)
    rng = random.Random(3)
    theirs = {s.id: OutsideFigure("", Fraction(rng.randrange(4000, 9900), 100), 2) for s in of.students}
    found = compare_totals(of, theirs, AFTER)
    assert all(one.agree - found.agree >= len(of.students) // 10 for one in found.explanations)
