"""Cells as text: what people read, and what is kept."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.strategies import DECIMALS
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.cell_text import cell_text, kept_cell, kept_text, shown_text

DETAILED = st.one_of(
    st.builds(DetailedScore, DECIMALS, st.none(), st.integers(1, 366)),
    st.builds(DetailedScore, st.none(), st.text("ab+✓ l2{\"", min_size=1, max_size=20).filter(str.strip),
              st.integers(0, 366)),
)  # fmt: skip


@given(st.one_of(st.sampled_from([None, "missing", "exempt"]), DECIMALS, DETAILED))
def test_what_is_kept_comes_back(cell: Cell) -> None:
    assert kept_cell(kept_text(cell)) == cell


@pytest.mark.parametrize(
    ("kept", "read"),
    [
        ("8.5", "8.5"),
        ("missing", "missing"),
        (None, ""),
        ('{"score": "8.5", "late": 2}', "8.5 late 2"),
        ('{"symbol": "check+", "late": 0}', "check+"),
        ('{"symbol": "check+", "late": 1}', "check+ late 1"),
    ],
)
def test_what_people_read(kept: str | None, read: str) -> None:
    assert shown_text(kept) == read
    assert cell_text(kept_cell(kept)) == read


def test_a_symbol_that_looks_like_late_days_is_kept_apart_from_them() -> None:
    looks, late = DetailedScore(None, "check late 2"), DetailedScore(None, "check", 2)
    assert cell_text(looks) == cell_text(late)
    assert kept_text(looks) != kept_text(late)


def test_a_damaged_text_is_refused_at_its_place() -> None:
    with pytest.raises(Refused, match="scores: needs one of score and symbol"):
        kept_cell('{"late": 2}', "scores")
