"""When a requirement is met. Worked by hand."""

from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from tests.builders import AFTER, category, cell, plan
from vinemark.core.grade.calculation import Grade, work_out
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.plan.rules import Condition, Consequence, RecordedItem, Requirement

LABS = category("10", "10", "10", prefix="l", weight="50", drop_lowest=1)
FINAL = category("50", prefix="f", weight="50")
DOWN = Consequence("percent_down", Fraction(2))


def of(condition: Condition, consequence: Consequence = DOWN, **options: Any) -> Plan:
    return plan(LABS, FINAL, requirements=(Requirement("r", condition, consequence),), **options)


def found(of: Plan, **cells: str | int | None) -> Grade:
    row = {item: cell(None if text is None else str(text)) for item, text in cells.items()}
    return work_out(of, row, AFTER)


def times(grade: Grade) -> int:
    return sum(one.times for one in grade.not_met)


BELOW = Condition("percent_below", Fraction(60), category="c-l")


def test_a_category_below_a_percentage_after_its_drops() -> None:
    assert times(found(of(BELOW), l0=0, l1=6, l2=6, f0=40)) == 0
    assert times(found(of(BELOW), l0=0, l1=5, l2="6.9", f0=40)) == 1


def test_a_category_without_a_percentage_is_not_below() -> None:
    assert times(found(of(BELOW), f0=40)) == 0


@pytest.mark.parametrize(("cell", "unmet"), [("29.99", 1), ("30", 0), ("missing", 1), ("exempt", 0), (None, 0)])
def test_an_item_below_a_percentage(cell: str | None, unmet: int) -> None:
    condition = Condition("percent_below", Fraction(60), item="f0")
    assert times(found(of(condition), l0=8, l1=8, l2=8, f0=cell)) == unmet


def test_a_blank_item_is_below_where_blanks_are_0_and_not_where_they_are_full() -> None:
    grade = found(of(Condition("percent_below", Fraction(60), item="f0")), l0=8, l1=8, l2=8)
    assert (grade.percent, grade.blanks_zero, grade.blanks_full) == (80, 38, 90)


def test_a_planned_item_is_not_read_but_for_what_is_above() -> None:
    absences = Item("abs", "Absences", Fraction(30), counts=False)
    tally = replace(LABS, items=(*LABS.items, absences))
    below = Requirement("b", Condition("percent_below", Fraction(60), item="abs"), DOWN)
    above = Requirement("a", Condition("value_above", Fraction(3), item="abs"), DOWN)
    grade = found(plan(tally, FINAL, requirements=(below, above)), l0=8, l1=8, l2=8, f0=40, abs=4)
    assert [one.requirement.id for one in grade.not_met] == ["a"]


def test_missed_work_counts_dropped_items_and_blanks_that_count() -> None:
    missed = Condition("missed_at_least", Fraction(2), category="c-l")
    assert times(found(of(missed), l0="missing", l1="missing", l2=9, f0=40)) == 1
    assert times(found(of(missed), l0="missing", l1=0, l2=9, f0=40)) == 0
    assert times(found(of(missed), l0="missing", l2=9, f0=40)) == 0
    zero = replace(of(missed), categories=(replace(LABS, blanks="zero"), FINAL))
    assert times(found(zero, l0="missing", l2=9, f0=40)) == 1


@pytest.mark.parametrize(("absent", "k"), [("3", 0), ("3.5", 0), ("4", 1), ("6.9", 3), ("missing", 0), (None, 0)])
def test_for_each_above(absent: str | None, k: int) -> None:
    each = Consequence("letters_down", Fraction(1), for_each=True)
    recorded = of(Condition("value_above", Fraction(3), item="abs"), each, recorded=(RecordedItem("abs", "Absences"),))
    assert times(found(recorded, l0=8, l1=8, l2=8, f0=40, abs=absent)) == k


def test_for_each_missed() -> None:
    each = Consequence("percent_down", Fraction(2), for_each=True)
    missed = of(Condition("missed_at_least", Fraction(2), category="c-l"), each)
    assert times(found(missed, l0="missing", l1="missing", l2="missing", f0=40)) == 2
