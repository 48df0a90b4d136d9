"""Cells as typed or pasted, read one by one."""

from fractions import Fraction

from tests.builders import category, course, plan
from vinemark.core.scores.typed_cells import TypedCell, read_typed

CLASS = course(plan(category("10", "20")), {"ada": [], "bo": []})


def test_one_cell_is_named_and_keeps_what_was_seen_before() -> None:
    found = read_typed(CLASS, [TypedCell("ada", "i0", "8,5", was="8")])
    assert [(c.student_id, c.item_id, c.cell, c.was) for c in found.cells] == [("ada", "i0", Fraction(17, 2), "8")]
    assert (found.what, found.refused) == ("Mai Ada, I 0: 8.5", [])
    assert read_typed(CLASS, [TypedCell("ada", "i0", "")]).what == "Mai Ada, I 0: blank"


def test_several_cells_are_counted_with_their_people() -> None:
    one = [TypedCell("ada", "i0", "8"), TypedCell("ada", "i1", "9")]
    assert read_typed(CLASS, one).what == "2 cells of 1 student"
    assert read_typed(CLASS, [*one, TypedCell("bo", "i1", "9")]).what == "3 cells of 2 students"


def test_what_cannot_be_kept_is_refused_beside_what_can() -> None:
    typed = [TypedCell("ada", "i0", "eight"), TypedCell("cy", "i0", "8"), TypedCell("bo", "x", "8"),
             TypedCell("bo", "i1", "25")]  # fmt: skip
    found = read_typed(CLASS, typed)
    assert [(r.student, r.item) for r in found.refused] == [("ada", "i0"), ("cy", "i0"), ("bo", "x")]
    assert "no longer in the section" in found.refused[1].reason
    assert [c.student_id for c in found.cells] == ["bo"]
    assert len(found.remarks) == 1
    assert read_typed(CLASS, []).what == ""
