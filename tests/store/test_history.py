"""Every write with who, when, before and after."""

import sqlite3
from fractions import Fraction

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.base.moments import stamp
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import (
    history,
    scores,
)
from vinemark.store.history import AlreadyDoneError

NINE, SEVEN = Fraction(9), Fraction(7)


def test_a_retried_request_is_the_same_write(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act("k1"), [CellWrite("ada", "i0", NINE)], "first")
    scores.write_cells(kept.connection, kept.act("k2"), [CellWrite("ada", "i0", SEVEN)], "second")
    with pytest.raises(AlreadyDoneError):
        scores.write_cells(kept.connection, kept.act("k1"), [CellWrite("ada", "i0", NINE)], "first again")
    assert kept.course().cell("ada", "i0") == 7
    assert [e["what"] for e in history.entries_of(kept.connection, kept.section)][:2] == ["second", "first"]


def test_every_write_leaves_who_when_before_and_after(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", NINE)], "nine")
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", "missing")], "missing")
    entry = history.entries_of(kept.connection, kept.section)[0]
    assert (entry["person_name"], entry["at"], entry["kind"]) == ("Maren", stamp(AT), "scores")
    kept_entry = history.entry_of(kept.connection, kept.section, entry["id"])
    assert kept_entry is not None
    assert (kept_entry["before"], kept_entry["after"]) == ('[["ada", "i0", "9"]]', '[["ada", "i0", "missing"]]')


def test_a_refused_write_leaves_nothing(kept: Kept) -> None:
    with pytest.raises(sqlite3.IntegrityError):
        scores.write_cells(
            kept.connection, kept.act(), [CellWrite("ada", "i0", NINE), CellWrite("nobody", "i0", NINE)], "x"
        )
    assert kept.course().scores == {}
    assert [e["kind"] for e in history.entries_of(kept.connection, kept.section)] == ["section"]
