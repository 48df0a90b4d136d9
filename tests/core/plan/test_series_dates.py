"""Dates for several items in one text."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date

import pytest

from tests.core.plan.two_categories import two
from vinemark.core.base.dates import DateStyle, use_style
from vinemark.core.base.refused import Refused
from vinemark.core.plan.items import GroupEdit, change_items
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.series_dates import read_series_dates


@pytest.fixture(autouse=True)
def _style() -> Iterator[None]:
    yield
    use_style(DateStyle())


def undated() -> Plan:
    plan = two()
    bare = (replace(c, items=tuple(replace(item, due=None) for item in c.items)) for c in plan.categories)
    return replace(plan, categories=tuple(bare))


def dated() -> Plan:
    plan = undated()
    first, *others = plan.categories
    item = replace(first.items[0], due=date(2026, 10, 1))
    return replace(plan, categories=(replace(first, items=(item, *first.items[1:])), *others))


@pytest.mark.parametrize(
    ("typed", "days"),
    [
        ("weekly from Sep 7", [(9, 7), (9, 14), (9, 21)]),
        ("every 2 weeks from 2026-09-07", [(9, 7), (9, 21), (10, 5)]),
        ("every other week starting 9/7/2026", [(9, 7), (9, 21), (10, 5)]),
        ("Every 3 days, from 7 September", [(9, 7), (9, 10), (9, 13)]),
        ("Sep 7, Sep 14, 2026; Mon, Sep 28", [(9, 7), (9, 14), (9, 28)]),
        ("9/7\n9/14\n9/28", [(9, 7), (9, 14), (9, 28)]),
    ],
)
def test_a_series_or_a_list(typed: str, days: list[tuple[int, int]]) -> None:
    assert read_series_dates(typed, 3, dated()) == [date(2026, month, day) for month, day in days]


def test_a_year_that_is_not_typed_is_the_nearest_to_the_plans_dates() -> None:
    assert read_series_dates("Jan 10", 1, dated()) == [date(2027, 1, 10)]
    with pytest.raises(Refused, match="has no year"):
        read_series_dates("Jan 10", 1, undated())


def test_the_order_of_day_and_month_is_the_colleges() -> None:
    use_style(DateStyle("day-month"))
    assert read_series_dates("7/9", 1, dated()) == [date(2026, 9, 7)]


@pytest.mark.parametrize("typed", ["Feb 30", "13/40", "soon", "weekly from soon", "Sep 7, Sep 14", "Foo 7, 2026"])
def test_what_is_no_date_or_not_as_many_is_refused(typed: str) -> None:
    with pytest.raises(Refused) as refused:
        read_series_dates(typed, 1, dated())
    assert refused.value.field == "dates"


def test_chosen_items_get_their_dates_in_the_order_of_the_plan() -> None:
    plan = two()
    chosen = [item.id for _, item in plan.items()]
    made = change_items(plan, chosen, GroupEdit(dates="weekly from 2026-09-07"))
    assert [item.due for _, item in made.items()] == [date(2026, 9, 7), date(2026, 9, 14), date(2026, 9, 21)]
