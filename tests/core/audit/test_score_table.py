"""The scores of a class as one table, and brought forward."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, course, plan
from vinemark.core.audit.score_table import (
    IS_BLANK,
    IS_EXEMPT,
    IS_MISSING,
    LARGEST_UNIT,
    counting_columns,
    score_table,
)
from vinemark.core.course.cell import DetailedScore
from vinemark.core.plan.rules import Symbol

OF = category("10", "30", symbols=(Symbol("check", Fraction(85)),))
PLAN = plan(OF, category("5", weight="5", prefix="x", extra=True))
CLASS = course(PLAN, {"ada": ["8.5", "missing", "2"], "bo": [None, "exempt", None], "cy": ["0", "7", None]},
               aside={"cy": "left"})  # fmt: skip


def test_cells_are_parts_of_the_points_in_one_unit() -> None:
    table = score_table(CLASS)
    assert [student.id for student in table.students] == ["ada", "bo"]
    assert [Fraction(int(cell), table.unit) for cell in table.cells[0, [0, 2]]] == [Fraction("0.85"), Fraction("0.4")]
    assert [int(cell) for cell in (*table.cells[0, 1:2], *table.cells[1])] == [
        IS_MISSING, IS_BLANK, IS_EXEMPT, IS_BLANK,
    ]  # fmt: skip
    assert table.regular == [0, 1]
    assert table.count(IS_BLANK) == [1, 0, 1]


def test_a_symbol_stands_with_its_value() -> None:
    of = replace(CLASS, scores={"ada": {"i0": DetailedScore(None, "check", 0)}})
    table = score_table(of)
    assert Fraction(int(table.cells[0, 0]), table.unit) == Fraction("0.85")


def test_planned_items_are_no_columns() -> None:
    first, second = OF.items
    planned = plan(replace(OF, items=(first, replace(second, counts=False))))
    assert [column.item.id for column in counting_columns(planned)] == ["i0"]


def test_it_is_brought_forward_by_the_rows_that_changed() -> None:
    table = score_table(CLASS)
    later = CLASS.with_cells({("bo", "i0"): Fraction(6), ("ada", "i1"): None})
    after, fresh = table.after(later, {"ada", "bo"}), score_table(later)
    assert (after.cells * fresh.unit == fresh.cells * after.unit)[after.numbers].all()
    assert (after.cells == fresh.cells)[~after.numbers].all()
    assert int(table.cells[1, 0]) == IS_BLANK


def test_another_denominator_makes_it_anew_and_odd_ones_are_rounded() -> None:
    table = score_table(CLASS)
    thirds = table.after(CLASS.with_cells({("bo", "i0"): Fraction(20, 7)}), {"bo"})
    assert Fraction(int(thirds.cells[1, 0]), thirds.unit) == Fraction(2, 7)
    odd = score_table(CLASS.with_cells({("bo", "i0"): Fraction(1, 999_983), ("ada", "i0"): Fraction(10**30)}))
    assert odd.unit == LARGEST_UNIT
    assert int(odd.cells[1, 0]) == 0
    assert int(odd.cells[0, 0]) == 1000 * LARGEST_UNIT
