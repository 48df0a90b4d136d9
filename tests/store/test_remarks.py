"""Remarks kept with cells."""

from tests.store.conftest import Kept
from vinemark.store.remarks import remarks_of, write_remark
from vinemark.store.undo import undo_entry

CELL = ("ada", "i0")


def test_a_remark_is_kept_taken_away_and_brought_back(kept: Kept) -> None:
    write_remark(kept.connection, kept.act(), CELL, "  late, agreed ", "remark")
    write_remark(kept.connection, kept.act(), ("bo", "i0"), "sick", "remark")
    assert remarks_of(kept.connection, kept.section) == {CELL: "late, agreed", ("bo", "i0"): "sick"}
    assert remarks_of(kept.connection, kept.section, "bo") == {("bo", "i0"): "sick"}
    entry = write_remark(kept.connection, kept.act(), CELL, " ", "remark")
    assert entry is not None
    assert remarks_of(kept.connection, kept.section, "ada") == {}
    undo_entry(kept.connection, kept.act(), entry)
    assert remarks_of(kept.connection, kept.section, "ada") == {CELL: "late, agreed"}


def test_the_same_words_again_are_no_change(kept: Kept) -> None:
    assert write_remark(kept.connection, kept.act(), CELL, "", "remark") is None
    assert write_remark(kept.connection, kept.act(), CELL, "late", "remark") is not None
    assert write_remark(kept.connection, kept.act(), CELL, "late ", "remark") is None
