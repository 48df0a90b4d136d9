"""Settled grades against the work behind them."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from tests.builders import category, course, plan, roster
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Adjustment, Course, Settled

DUE = date(2026, 11, 20)
HOME = category("10", "10")
PLAN = plan(replace(HOME, items=(replace(HOME.items[0], due=DUE), HOME.items[1])))
FINISH = date(2027, 3, 1)


def settled(grade: Settled, *cells: str | None) -> Course:
    return course(PLAN, {"ada": list(cells) or ["9", "8"]}, roster("ada"), {"ada": grade})


@pytest.mark.parametrize(("days", "early"), [(8, True), (7, False), (0, False)])
def test_work_more_than_a_week_after_the_last_day_of_attendance(days: int, early: bool) -> None:
    left = Settled("F", reason="left", last_attended=DUE - timedelta(days=days))
    assert bool(of_code(settled(left), "attended-early")) == early
    assert of_code(settled(left, "0", "8"), "attended-early") == []


@pytest.mark.parametrize(("fallback", "above"), [("A", True), ("B", False), ("C", False), ("P", False)])
def test_a_fallback_above_the_computed_letter(fallback: str, above: bool) -> None:
    grade = Settled("I", fallback_grade=fallback, finish_by=FINISH)
    assert bool(of_code(settled(grade), "fallback-above")) == above


def test_an_incomplete_that_owes_nothing() -> None:
    grade = Settled("I", fallback_grade="C", finish_by=FINISH)
    assert [f.level for f in of_code(settled(grade), "owes-nothing")] == ["note"]
    assert of_code(settled(grade, "9", None), "owes-nothing") == []
    assert of_code(settled(grade, "9", "missing"), "owes-nothing") == []
    assert of_code(settled(replace(grade, owed="the essay")), "owes-nothing") == []
    assert of_code(settled(replace(grade, owed="  ")), "owes-nothing")


def test_a_letter_below_the_computed_one_with_a_reason() -> None:
    (finding,) = of_code(settled(Settled("C", reason="plagiarism")), "lowered")
    assert (finding.level, finding.evidence) == ("note", ["Reason: plagiarism"])
    assert of_code(settled(Settled("A", reason="late work found")), "lowered") == []
    assert of_code(settled(Settled("C")), "lowered") == []
    assert of_code(settled(Settled("C")), "settled-differs")


def test_a_percent_above_a_hundred_that_extra_credit_does_not_explain() -> None:
    (finding,) = of_code(course(plan(HOME), {"ada": ["11", "10"], "bo": ["9", "9"]}), "percent-high")
    assert (finding.student, finding.level) == ("ada", "note")
    assert of_code(course(plan(HOME), {"ada": ["11", "9"]}), "percent-high") == []
    hidden = course(plan(HOME, cap=Fraction(100)), {"ada": ["11", "10"]})
    assert len(of_code(hidden, "percent-high")) == 1


def test_extra_credit_points_for_all_and_adjustments_explain_it() -> None:
    extra = plan(HOME, category("10", weight="10", prefix="x", extra=True), added=Fraction(5))
    of = course(extra, {"ada": ["10", "10", "10"]})
    assert of_code(replace(of, adjustments={"ada": Adjustment(Fraction(3), "for courage")}), "percent-high") == []
    over = course(extra, {"ada": ["11", "10", "10"]})
    assert len(of_code(over, "percent-high")) == 1
