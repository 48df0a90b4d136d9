"""What a plan says in words, as a ribbon, and in a cell."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.plan.ribbon import ribbon, weight_verdict


@pytest.mark.parametrize(
    ("total", "words"),
    [("100", "100 of 100"), ("95", "95 of 100: 5 left to assign"), ("110", "110 of 100: 10 over"),
     ("99.99", "99.99 of 100: 0.01 left to assign"), ("300/3", "100 of 100"),
     ("100/3", "33.333333 of 100: 66.666667 left to assign"),
     ("100.0000001", "100 of 100: 0.0000001 over")],
)  # fmt: skip
def test_what_is_open_is_said_as_a_number(total: str, words: str) -> None:
    assert weight_verdict(Fraction(total)) == words


def test_the_ribbon_shows_what_is_open_and_what_is_too_much() -> None:
    open_ = ribbon(plan(category("1", weight="40"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.start, s.width) for s in open_.segments][-1] == ("left to assign", 900, 100)
    over = ribbon(plan(category("1", weight="75"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.value) for s in over.segments][-1] == ("over", "25")
    assert not over.full
    assert ribbon(plan(category("1"))).full


def test_a_points_plan_fills_its_own_sum() -> None:
    bonus = replace(category("20", prefix="x"), extra=True)
    found = ribbon(plan(category("30"), category(prefix="e"), category("70", prefix="j"), bonus, basis="points"))
    assert [(s.label, s.value, s.start, s.width, s.color) for s in found.segments] == [
        ("Category i", "30", 0, 300, 0), ("Category j", "70", 300, 700, 2),
    ]  # fmt: skip
    assert (found.total, found.verdict, found.full) == ("100", "100 points in all", True)
    assert list(found.ticks) == [(0, "0"), (250, "25"), (500, "50"), (750, "75"), (1000, "100")]
    assert ribbon(plan(category("1"), basis="points")).full
    empty = ribbon(plan(category(), basis="points"))
    assert (empty.segments, empty.full, list(empty.ticks)) == ([], False, [])


def test_ticks_and_colors_of_a_weighted_plan() -> None:
    parts = [category("1", weight="25", prefix=p) for p in "abcdefg"]
    found = ribbon(plan(*parts))
    assert [s.color for s in found.segments] == [0, 1, 2, 3, 4, 5, 0, None]
    assert list(found.ticks) == [(0, "0"), (142, "25"), (285, "50"), (428, "75"), (571, "100%")]
    assert found.total == "175"
