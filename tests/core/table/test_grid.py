"""A cell of a text file is a number, a percent, a day, nothing, or words."""

from datetime import date
from fractions import Fraction

import pytest

from tests.core.table.grids import grid_of
from vinemark.core.table.grid import EMPTY, NOTHING_THERE, FoundCell, read_day, text_cell


@pytest.mark.parametrize(
    ("text", "number", "percent"),
    [("9", "9", False), ("8.50", "8.5", False), (".5", "0.5", False), ("87.5%", "87.5", True), ("90 %", "90", True)],
)
def test_a_number_is_exact(text: str, number: str, percent: bool) -> None:
    cell = text_cell(text)
    assert (cell.number, cell.percent, cell.blank, cell.wordy) == (Fraction(number), percent, False, False)


def test_a_comma_is_a_decimal_sign_only_where_the_file_says_so() -> None:
    assert text_cell("9,5").number is None
    assert text_cell("9,5", decimal_comma=True).number == Fraction("9.5")
    assert text_cell("1,2,3", decimal_comma=True).number is None


@pytest.mark.parametrize("text", ["nine", "1e3", "9/10", "--9", "٣", "1 000", "NaN", "inf", "0x10", "²"])
def test_what_only_looks_like_a_number_is_words(text: str) -> None:
    assert text_cell(text) == FoundCell(text)
    assert text_cell(text).wordy


def test_an_id_kept_from_a_spreadsheet_as_a_formula_loses_no_zeros() -> None:
    assert text_cell('="00123"') == FoundCell("00123")


@pytest.mark.parametrize("text", ["", "   ", *sorted(EMPTY), "N/A", "#DIV/0!"])
def test_signs_for_nothing_are_nothing(text: str) -> None:
    assert text_cell(text).blank
    assert not text_cell(text).wordy


def test_a_day() -> None:
    assert read_day("2026-09-14") == date(2026, 9, 14)
    assert read_day("2026-02-30") is None
    assert read_day("14.9.2026") is None
    assert text_cell("2026-09-14").day == date(2026, 9, 14)


def test_a_short_row_ends_in_nothing() -> None:
    grid = grid_of("a,b,c\n\nd\n")
    assert (grid.cell(3, 2), grid.cell(2, 0), grid.width) == (NOTHING_THERE, NOTHING_THERE, 3)
    assert [(column, cell.text) for column, cell in grid.filled(3)] == [(0, "d")]
