"""Cells in the database."""

from fractions import Fraction

from tests.store.conftest import Kept
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import (
    scores,
)


def test_cells_keep_every_digit_and_blanks_are_absent(kept: Kept) -> None:
    exact = Fraction("0.1234567890123456789")
    scores.write_cells(
        kept.connection, kept.act(), [CellWrite("ada", "i0", exact), CellWrite("bo", "i0", "exempt")], "x"
    )
    assert kept.course().scores == {"ada": {"i0": exact}, "bo": {"i0": "exempt"}}
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", None)], "x")
    assert kept.course().scores == {"bo": {"i0": "exempt"}}
