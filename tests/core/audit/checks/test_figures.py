"""Figures, dates and names of the plan, each check at its limit."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta
from fractions import Fraction

import pytest

from tests.builders import TERM, category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item, Plan, ScaleRow
from vinemark.core.plan.rules import Symbol


def series(points: Sequence[str], days: Sequence[int] = (), names: str = "Log") -> Plan:
    items = tuple(
        Item(f"i{n}", f"{names} {n + 1}", Fraction(p), due=TERM.starts + timedelta(days=days[n]) if days else None)
        for n, p in enumerate(points)
    )
    return plan(replace(category("10"), items=items))


def of(made: Plan, cells: Sequence[str | None] = ()) -> Course:
    return course(made, {"ada": list(cells), "bo": list(cells)})


@pytest.mark.parametrize(("points", "cells", "found"), [
    ("10 10 10 10", (), []),
    ("10 10 50 10", (), ["i2"]),
    ("10 10 40 10", (), []),
    ("10 10 1 10", (), ["i2"]),
    ("10 10 100 10", ("9", "9", "88", "9"), []),
    ("10 10 100 10", ("9", "9", "9", "9"), ["i2"]),
    ("10 20 50 10", (), []),
    ("10 10 100", (), []),
])  # fmt: skip
def test_points_unlike_the_others_of_a_series(points: str, cells: tuple[str, ...], found: list[str]) -> None:
    assert [f.item for f in of_code(of(series(points.split()), cells), "points-odd")] == found


@pytest.mark.parametrize(("days", "found"), [
    ((1, 8, 15, 22, 29), []), ((1, 8, 85, 22, 29), ["i2"]), ((1, 8, 30, 22, 29), []), ((29, 22, 15, 8, 1), []),
    ((1, 50, 15, 22, 29), ["i1"]),
])  # fmt: skip
def test_a_day_out_of_turn(days: tuple[int, ...], found: list[str]) -> None:
    assert [f.item for f in of_code(of(series(["10"] * 5, days)), "due-unordered")] == found


@pytest.mark.parametrize(("gone", "found"), [(2, True), (0, False), (5, False)])
def test_a_number_that_a_series_lacks(gone: int, found: bool) -> None:
    made = series(["10"] * 6)
    left = tuple(item for n, item in enumerate(made.categories[0].items) if n != gone)
    findings = of_code(of(replace(made, categories=(replace(made.categories[0], items=left),))), "number-missing")
    assert [f.level for f in findings] == (["note"] if found else [])


@pytest.mark.parametrize(("name", "found"), [
    ("Copy of Log 3", True), ("Log 3 (copy)", True), ("Log 3 copy 2", True), ("Copy editing", False),
    ("Untitled", True),
    ("New item", True), ("New England field trip", False), ("Tabdelta", False), ("Do not use", True),
])  # fmt: skip
def test_a_name_left_behind(name: str, found: bool) -> None:
    made = plan(replace(category("10"), items=(Item("i0", name, Fraction(10)),)))
    assert bool(of_code(of(made), "name-left")) == found


@pytest.mark.parametrize(("cutoffs", "found"), [
    ("90 80 70 60 0", None), ("93 85 77 70 0", None), ("90 80 70 6 0", "D"), ("90 80 79.5 70 0", "C"),
    ("85 70 55 45 0", None),
])  # fmt: skip
def test_a_band_unlike_the_others(cutoffs: str, found: str | None) -> None:
    scale = tuple(map(ScaleRow, "ABCDF", map(Fraction, cutoffs.split())))
    assert [f.message[:1] for f in of_code(of(plan(category("10"), scale=scale)), "scale-gap")] == (
        [found] if found else []
    )


@pytest.mark.parametrize(("extra", "weight", "found"), [("1", "40", False), ("3", "40", True), ("20", "1", False)])
def test_extra_credit_that_can_raise_a_grade_far(extra: str, weight: str, found: bool) -> None:
    of_items = (Item("i0", "Essay", Fraction(10)), Item("x", "Bonus", Fraction(extra), extra=True))
    made = plan(replace(category("10", weight=weight), items=of_items), category("10", prefix="j", weight="60"))
    assert [f.item for f in of_code(of(made), "extra-heavy")] == (["x"] if found else [])


@pytest.mark.parametrize(("symbol", "percent", "found"), [
    ("ok+", 84, True), ("ok+", 95, False), ("ok-", 90, True), ("ok-", 75, False), ("+", 100, False),
    ("star", 1000, True),
])  # fmt: skip
def test_a_symbol_worth_less_with_a_plus(symbol: str, percent: int, found: bool) -> None:
    made = plan(category("10", symbols=(Symbol("ok", Fraction(85)), Symbol(symbol, Fraction(percent)))))
    assert bool(of_code(of(made), "symbols-odd")) == found


def test_a_part_of_nothing_and_extra_among_regular_work() -> None:
    made = category("10", "10", split="own_shares")
    shares = tuple(replace(i, share=Fraction(s)) for i, s in zip(made.items, (100, 0), strict=True))
    assert [f.item for f in of_code(of(plan(replace(made, items=shares))), "share-zero")] == ["i1"]
    logs = series(["10"] * 4).categories[0]
    odd = replace(logs, items=(*logs.items[:3], replace(logs.items[3], extra=True)))
    assert [f.item for f in of_code(of(plan(odd)), "extra-odd")] == ["i3"]
    few = replace(logs, items=(*logs.items[:2], replace(logs.items[3], extra=True)))
    assert of_code(of(plan(few)), "extra-odd") == []


def test_a_scale_that_is_not_in_percent() -> None:
    made = course(plan(category("10")), {"ada": ["9"], "bo": ["8"]})
    for times, due in ((Fraction(1, 25), True), (Fraction(6, 10), False)):
        scale = tuple(replace(row, cutoff=row.cutoff * times) for row in made.plan.scale)
        assert bool(of_code(replace(made, plan=replace(made.plan, scale=scale)), "scale-base")) == due
