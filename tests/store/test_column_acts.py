"""Acts on whole columns, and which of them were done twice."""

from datetime import date

from tests.store.conftest import Kept
from vinemark.core.audit.recorded import TwiceAdjusted
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.column_acts import ColumnAct, columns_adjusted_twice, write_column
from vinemark.store.scores import write_cells
from vinemark.store.undo import undo_entry

DAY = date(2026, 12, 19)
TWICE = {"i0": TwiceAdjusted("add points to every score 2", DAY, DAY)}


def adjust(kept: Kept, score: int, action: str = "add", value: str = "2", item: str = "i0") -> int:
    changes = [CellWrite("ada", item, score)]  # type: ignore[arg-type]
    return write_column(kept.connection, kept.act(), ColumnAct(item, action, value), changes, "adjusted")


def found(kept: Kept) -> dict[str, TwiceAdjusted]:
    return columns_adjusted_twice(kept.connection, kept.section)


def test_the_same_act_twice_is_found_until_one_is_undone_and_again_when_that_is(kept: Kept) -> None:
    adjust(kept, 5)
    assert found(kept) == {}
    second = adjust(kept, 7)
    assert found(kept) == TWICE
    undone = undo_entry(kept.connection, kept.act(), second)
    assert found(kept) == {}
    undo_entry(kept.connection, kept.act(), undone.entry)
    assert found(kept) == TWICE


def test_other_figures_items_and_acts_are_not_the_same(kept: Kept) -> None:
    adjust(kept, 5)
    adjust(kept, 7, value="3")
    adjust(kept, 7, "maximum")
    adjust(kept, 7, item="i1")
    adjust(kept, 7, "everyone")
    adjust(kept, 7, "everyone")
    assert found(kept) == {}


def test_scores_typed_anew_between_the_two_are_another_matter(kept: Kept) -> None:
    adjust(kept, 5)
    write_cells(kept.connection, kept.act(), [CellWrite("bo", "i1", "missing")], "another item")
    adjust(kept, 7)
    assert found(kept) == TWICE
    write_cells(kept.connection, kept.act(), [CellWrite("bo", "i0", "missing")], "typed")
    adjust(kept, 9)
    assert found(kept) == TWICE
    adjust(kept, 4, "maximum", "20")
    write_cells(kept.connection, kept.act(), [CellWrite("bo", "i0", None)], "typed")
    adjust(kept, 3, "maximum", "20")
    assert found(kept) == TWICE
