"""A line by itself: what it is by its signs, and where its cells stand."""

import pytest

from vinemark.core.syllabus.read.lines import line_of


@pytest.mark.parametrize(
    ("piece", "kind", "cells"),
    [("- Labs: 20%", "item", ["Labs: 20%"]), ("(b) Labs", "item", ["Labs"]), ("| Labs | 20 |", "row", ["Labs", "20"]),
     ("Labs ........ 20%", "row", ["Labs", "20%"]), ("Labs\t20", "row", ["Labs", "20"]),
     ("| L |  | 2 |", "row", ["L", "", "2"]), ("Labs    20", "row", ["Labs", "20"]), ("-----", "rule", []),
     ("   ", "blank", []), ("Labs are due.  Late ones lose.", "text", ["Labs are due.  Late ones lose."])],
)  # fmt: skip
def test_its_kind_and_its_cells(piece: str, kind: str, cells: list[str]) -> None:
    line = line_of(piece, 7)
    assert line.kind == kind
    assert [piece[cell.start - 7 : cell.end - 7] for cell in line.cells] == cells
