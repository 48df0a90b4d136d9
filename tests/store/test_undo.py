"""Undo of any entry."""

from fractions import Fraction

import pytest

from tests.builders import plan
from tests.store.conftest import Kept
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import (
    history,
    plans,
    scores,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.undo import NothingToUndoError, undo_entry

NINE, SEVEN = Fraction(9), Fraction(7)


def test_undo_of_an_import_puts_every_cell_back_and_can_be_undone(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", NINE)], "typed")
    changes = [CellWrite("ada", "i0", SEVEN), CellWrite("bo", "i1", SEVEN)]
    entry = scores.write_cells(kept.connection, kept.act(), changes, "taken", "import")
    assert undo_entry(kept.connection, kept.act(), entry).what == "taken"
    assert kept.course().scores == {"ada": {"i0": NINE}}
    with pytest.raises(NothingToUndoError):
        undo_entry(kept.connection, kept.act(), entry)
    latest = history.entries_of(kept.connection, kept.section)[0]
    undo_entry(kept.connection, kept.act(), latest["id"])
    assert kept.course().scores == {"ada": {"i0": SEVEN}, "bo": {"i1": SEVEN}}


def test_undo_never_overwrites_a_later_change(kept: Kept) -> None:
    entry = scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", NINE)], "nine")
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", SEVEN)], "seven")
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().cell("ada", "i0") == 7


def edit(kept: Kept, changed: Plan, what: str = "changed") -> int | None:
    return plans.write_plan_version(kept.connection, kept.act(), lambda _: (changed, what))


def test_a_deleted_category_comes_back_with_its_scores(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", NINE)], "x")
    before = kept.course()
    entry = edit(kept, plan())
    assert kept.course().scores == {}
    assert entry is not None
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course() == before
