"""Late days and symbols: what a score counts as. Worked by hand."""

from datetime import date
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.strategies import LATE
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.recorded import has_details, recorded_cells
from vinemark.core.grade.counted import counted_cells, counted_rows, late_work, what_is_left
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import LateRule, Symbol

TEN = Fraction(10)


def late(score: str, days: int) -> DetailedScore:
    return DetailedScore(Fraction(score), None, days)


def plan_with(rule: LateRule | None, **items: Any) -> Plan:
    found = tuple(Item(name, name, Fraction(20), **options) for name, options in items.items())
    category = Category("c", "C", Fraction(100), items=found, late=rule, symbols=(Symbol("ok", Fraction(85)),))
    return Plan("weighted", (category,))


@pytest.mark.parametrize(
    ("rule", "days", "left"),
    [
        (LateRule(TEN), 1, "16"),  # 10% of 20 points a day
        (LateRule(TEN), 9, "0"),  # never below 0
        (LateRule(TEN, of="score"), 1, "16.2"),  # 10% of the 18 earned
        (LateRule(TEN, at_most=Fraction(25)), 9, "13"),
        (LateRule(TEN, at_most=Fraction(0)), 9, "18"),  # at most nothing
        (LateRule(TEN, grace_days=2), 2, "18"),
        (LateRule(TEN, grace_days=2), 3, "16"),
        (LateRule(TEN, last_day=3), 3, "12"),
        (LateRule(TEN, last_day=3), 4, "0"),
        (LateRule(TEN, grace_days=5, last_day=3), 4, "0"),  # the last day counts the days of grace
    ],
)
def test_one_score(rule: LateRule, days: int, left: str) -> None:
    assert what_is_left(rule, Fraction(20), Fraction(18), days) == Fraction(left)


def test_free_days_go_by_due_date_whatever_the_order_of_the_plan() -> None:
    plan = plan_with(
        LateRule(TEN, free_days=3), second={"due": date(2026, 9, 21)}, first={"due": date(2026, 9, 7)}, undated={}
    )
    cells: dict[str, Cell] = {"second": late("18", 2), "first": late("18", 2), "undated": late("18", 1)}
    done = late_work(plan, cells)
    assert {item: (one.free, one.left, one.taken) for item, one in done.items()} == {
        "first": (2, 18, 0),
        "second": (1, 16, 2),
        "undated": (0, 16, 2),
    }


def test_planned_items_use_no_free_days_and_work_that_loses_nothing_does() -> None:
    plan = plan_with(LateRule(TEN, grace_days=1, free_days=1), a={"counts": False}, b={"due": date(2026, 9, 7)}, c={})
    done = late_work(plan, {"a": late("18", 4), "b": late("18", 1), "c": late("18", 2)})
    assert {item: (one.free, one.left) for item, one in done.items()} == {"b": (1, 18), "c": (0, 16)}


def test_symbols_become_points_and_may_be_late() -> None:
    plan = plan_with(LateRule(TEN), a={}, b={})
    cells: dict[str, Cell] = {"a": DetailedScore(None, "ok"), "b": DetailedScore(None, "ok", 1)}
    assert recorded_cells(plan, cells) == {"a": 17, "b": 17}
    assert counted_rows(plan, [cells]) == [{"a": 17, "b": 15}]


def test_without_a_rule_late_days_change_nothing() -> None:
    plan = plan_with(None, a={})
    assert counted_cells(plan, {"a": late("18", 40)}) == {"a": 18}


def test_plain_cells_are_given_back_as_they_are() -> None:
    cells: dict[str, Cell] = {"a": Fraction(3), "b": "missing", "c": None}
    assert not has_details(cells)
    assert counted_cells(plan_with(LateRule(TEN), a={}), cells) is cells


@given(LATE, st.integers(0, 20), st.integers(0, 30))
def test_another_late_day_never_raises_a_score(rule: LateRule, days: int, value: int) -> None:
    one, next_day = (what_is_left(rule, Fraction(20), Fraction(value), d) for d in (days, days + 1))
    assert 0 <= next_day <= one <= value


@given(st.integers(0, 6), st.lists(st.integers(1, 4), max_size=5))
def test_free_days_used_never_exceed_what_there_is(free: int, days: list[int]) -> None:
    plan = plan_with(LateRule(TEN, free_days=free), **{f"i{n}": {} for n in range(len(days))})
    done = late_work(plan, {f"i{n}": late("18", d) for n, d in enumerate(days)})
    assert sum(one.free for one in done.values()) == min(free, sum(days))
