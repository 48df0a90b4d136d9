"""One category in whole numbers: units, ceilings, extra items, and what is in play."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, plain
from vinemark.core.course.cell import PlainCell
from vinemark.core.grade.category import EXEMPT, CategoryWork, common_denominator, numbers_of
from vinemark.core.plan.plan import Category


def outcome(of: Category, *cells: str | None, blanks: str = "plan") -> tuple[Fraction, Fraction, bool]:
    row: dict[str, PlainCell] = {i.id: plain(c) for i, c in zip(of.items, cells, strict=True)}
    unit = common_denominator(of.items, [row])
    work = CategoryWork(of, of.split, AFTER, unit)
    found = work.outcome(numbers_of(row, unit), blanks)  # type: ignore[arg-type]
    return Fraction(found.earned, work.unit), Fraction(found.size, work.unit), found.has_blank


def test_every_score_is_whole_in_the_common_unit() -> None:
    of = category("10", "25/2")
    row = {"i0": Fraction(1, 3), "i1": "exempt", "i2": "missing", "i3": None}
    unit = common_denominator(of.items, [row])  # type: ignore[list-item]
    assert unit == 6
    assert numbers_of(row, unit) == {"i0": 2, "i1": EXEMPT, "i2": 0}  # type: ignore[arg-type]


def test_extra_items_add_what_is_earned_and_no_size() -> None:
    of = category("10", "5")
    of = replace(of, items=(of.items[0], replace(of.items[1], extra=True)))
    assert outcome(of, "8", "3") == (11, 10, False)
    assert outcome(of, "8", None) == (8, 10, True)
    assert outcome(of, "8", None, blanks="full") == (13, 10, True)
    assert outcome(of, "8", None, blanks="zero") == (8, 10, True)
    assert outcome(of, "8", "exempt") == (8, 10, False)


def test_blanks_by_the_plan_as_zero_and_in_full() -> None:
    of = category("10", "20")
    assert outcome(of, "8", None) == (8, 10, True)
    assert outcome(of, "8", None, blanks="zero") == (8, 30, True)
    assert outcome(of, "8", None, blanks="full") == (28, 30, True)
    assert outcome(replace(of, blanks="zero"), "8", None) == (8, 30, True)
    assert outcome(of, "8", "exempt", blanks="full") == (8, 10, False)


def test_a_drop_leaves_its_size_out_and_what_may_not_be_dropped_stays() -> None:
    of = replace(category("10", "10", "10"), drop_lowest=1)
    assert outcome(of, "2", "9", "8") == (17, 20, False)
    kept = replace(of, items=(replace(of.items[0], droppable=False), *of.items[1:]))
    assert outcome(kept, "2", "9", "8") == (11, 20, False)
    assert outcome(kept, "2", "9", None) == (2, 10, True)


@pytest.mark.parametrize(("earned", "p"), [(9, (9, 10)), (10, (10, 10)), (11, (100, 100)), (30, (100, 100))])
def test_a_ceiling_holds_only_what_is_above_it(earned: int, p: tuple[int, int]) -> None:
    of = replace(category("10"), cap=Fraction(100))
    assert CategoryWork(of, "by_points", AFTER, 1).ratio(earned, 10) == p
