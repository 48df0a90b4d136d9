"""Cells as recorded: symbols in points, late days taking nothing."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, course, plan
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.recorded import recorded_cells, recorded_rows, recorded_value
from vinemark.core.plan.rules import Symbol

GRADED = replace(category("20", "10"), symbols=(Symbol("check+", Fraction(95)),))
PLAN = plan(GRADED)


def test_a_symbol_is_its_percent_of_the_points() -> None:
    item = GRADED.items[0]
    assert recorded_value(GRADED, item, DetailedScore(symbol="check+", late=3)) == 19
    assert recorded_value(GRADED, item, DetailedScore(Fraction(7), late=3)) == 7
    assert recorded_value(GRADED, item, "missing") == "missing"


def test_a_symbol_that_no_category_has_is_nothing() -> None:
    assert recorded_value(GRADED, GRADED.items[0], DetailedScore(symbol="gone")) is None
    assert recorded_value(None, None, DetailedScore(symbol="check+")) is None


def test_plain_cells_are_the_very_same() -> None:
    plain: dict[str, Cell] = {"i0": Fraction(5)}
    assert recorded_cells(PLAN, plain) is plain
    rows = {"ada": plain}
    assert recorded_rows(PLAN, rows) is rows
    mixed: dict[str, dict[str, Cell]] = {"ada": {**plain}, "bo": {"i1": DetailedScore(symbol="check+")}}
    assert recorded_rows(PLAN, mixed) == {"ada": plain, "bo": {"i1": Fraction("9.5")}}


def test_a_course_keeps_its_values_as_cells_change() -> None:
    found = course(PLAN, {"ada": ["20", "4"], "bo": ["8", None]})
    first, second = (item.id for _, item in PLAN.items())
    student, other = (one.id for one in found.students)
    assert found.values is found.scores
    after = found.with_cells({(student, first): DetailedScore(symbol="check+")})
    assert (after.value(student, first), after.value(other, first)) == (19, 8)
    assert after.values == recorded_rows(PLAN, after.scores)
    cleared = after.with_cells({(student, first): None, (student, second): None})
    assert cleared.values == recorded_rows(PLAN, cleared.scores)
    assert cleared.tally.scored == 1
    assert after.risen(first).numbers(slice(None)) == [8, 19]
