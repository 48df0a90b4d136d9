"""The grids of a file of scores (CSV, TSV, XLSX, ODS): cells with text and number, rows as the file has them."""

import csv
import io
import re
from collections.abc import Iterator, Mapping, Sequence
from datetime import date, datetime
from decimal import Context, Decimal
from fractions import Fraction
from itertools import pairwise
from typing import Any

from openpyxl import load_workbook

from vinemark.core.base.limits import DIGIT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.core.table.grid import FoundCell, Grid, read_day, text_cell
from vinemark.exchange.ods import OFFICE, TABLE, ods_cells, ods_number, ods_rows, ods_tables, ods_words
from vinemark.exchange.spreadsheet_file import is_spreadsheet, read_packed
from vinemark.exchange.tables import MAX_BYTES, MOST_COLUMNS, MOST_ROWS, decode

_PLACES = Context(prec=10)
"""A binary number is read as the shortest decimal that gives it, to so many places."""


def read_grids_of(data: bytes) -> list[Grid]:
    """Every sheet of a file that holds anything. Raises Refused for a file that cannot be read."""
    if len(data) > MAX_BYTES:
        raise Refused("file", f"is larger than {MAX_BYTES // 1024 // 1024} MB")
    if not is_spreadsheet(data):
        return [_text_grid(decode(data))]
    grids = [grid for grid in read_packed(data, _xlsx, _ods) if grid.rows]
    if not grids:
        raise Refused("file", "has nothing in it: every sheet is empty")
    return grids


def _text_grid(text: str) -> Grid:
    delimiter = _delimiter(text)
    rows: dict[int, list[FoundCell]] = {}
    if delimiter is None:
        return Grid(None, _aligned_rows(text))
    try:
        for number, cells in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter), 1):
            if number > MOST_ROWS or len(cells) > MOST_COLUMNS:
                raise Refused("file", f"has more than {MOST_ROWS:,} rows or {MOST_COLUMNS} columns")
            made = _trimmed([text_cell(cell, delimiter == ";") for cell in cells])
            if made:
                rows[number] = made
    except csv.Error as error:
        raise Refused("file", f"could not be read as a table: {error}") from None
    return Grid(None, rows)


def _aligned_rows(text: str) -> dict[int, list[FoundCell]]:
    """Lines in columns of blanks: cut where nothing stands in any line that has three parts or more."""
    lines = text.expandtabs().splitlines()[: MOST_ROWS + 1]
    if len(lines) > MOST_ROWS or any(len(line) > LONGEST_ALIGNED for line in lines):
        raise Refused("file", f"has more than {MOST_ROWS:,} rows or lines of more than {LONGEST_ALIGNED:,} signs")
    wide = [line for line in lines if len(_PARTS.split(line.strip())) >= FEWEST_PARTS]
    width = max(map(len, wide), default=0)
    taken = [sum(line[at : at + 1] not in {"", " "} for line in wide) for at in range(width)]
    few = max(1, len(wide) // 6)
    cuts = [0, *(at for at in range(2, width) if taken[at - 2] <= few and not taken[at - 1] and taken[at]), width]
    if len(cuts) > MOST_COLUMNS:
        raise Refused("file", f"has more than {MOST_COLUMNS} columns")
    rows: dict[int, list[FoundCell]] = {}
    for number, line in enumerate(lines, 1):
        pieces = [line[begin:end].strip() for begin, end in pairwise([*cuts[:-1], len(line)])]
        across = any(line[at - 1 : at] not in {"", " "} for at in cuts[1:-1])
        if across or len(_PARTS.split(line.rstrip())) == 1:
            pieces = [line.strip()]
        made = _trimmed([text_cell(piece) for piece in pieces])
        if made:
            rows[number] = made
    return rows


_PARTS = re.compile(r"(?<! ) {2,}")
FEWEST_PARTS = 3
LONGEST_ALIGNED = 2_000


def _delimiter(text: str) -> str | None:
    """The sign that stands in most lines the same number of times, the most often; None where columns of blanks part
    the lines."""
    lines = [re.sub(r'"[^"]*"', "", line) for line in text.splitlines()[:60] if line.strip()]

    def steady(sign: str) -> tuple[int, int]:
        counts = [line.count(sign) for line in lines]
        often = max(set(counts), key=lambda n: (counts.count(n), n), default=0)
        return (counts.count(often) if often else 0), often

    best = max(("\t", ";", ","), key=steady)
    parted = sum(len(_PARTS.split(line.strip())) >= FEWEST_PARTS for line in lines)
    return None if parted > 2 and 2 * parted > len(lines) and parted > steady(best)[0] else best


def _trimmed(cells: Sequence[FoundCell]) -> list[FoundCell]:
    """A row without the empty cells at its end; empty where it holds nothing."""
    last = max((n for n, cell in enumerate(cells) if cell.text), default=-1)
    return list(cells[: last + 1])


def _xlsx(data: bytes) -> Iterator[Grid]:
    book = load_workbook(io.BytesIO(data), data_only=True)
    for sheet in book.worksheets:
        if (sheet.max_row or 0) > 50 * MOST_ROWS:
            raise Refused("file", f"has more than {MOST_ROWS:,} rows")
        rows: dict[int, list[FoundCell]] = {}
        for number, cells in enumerate(sheet.iter_rows(max_col=min(sheet.max_column or 1, MOST_COLUMNS)), 1):
            made = _trimmed([_xlsx_cell(cell) for cell in cells])
            if made:
                rows[number] = made
            if len(rows) > MOST_ROWS:
                raise Refused("file", f"has more than {MOST_ROWS:,} rows")
        spans = {(r.min_row, r.min_col - 1): r.max_col - r.min_col + 1 for r in sheet.merged_cells.ranges}
        yield Grid(sheet.title, rows, spans, sheet.sheet_state != "visible")


def _xlsx_cell(cell: Any) -> FoundCell:
    value = cell.value
    if value is None:
        return FoundCell()
    shown = str(getattr(cell, "number_format", "") or "")
    struck = bool(getattr(getattr(cell, "font", None), "strike", False))
    if isinstance(value, bool):
        return FoundCell("TRUE" if value else "FALSE", struck=struck)
    if isinstance(value, int | float):
        return _number_cell(Decimal(repr(value)), "%" in shown, shown, struck)
    if isinstance(value, datetime | date):
        day = value.date() if isinstance(value, datetime) else value
        return FoundCell(day.isoformat(), day=day, struck=struck)
    made = text_cell(str(value))
    return FoundCell(made.text, made.number, made.percent, made.day, struck)


def _number_cell(value: Decimal, percent: bool, shown: str = "", struck: bool = False) -> FoundCell:
    if not value.is_finite() or abs(value.adjusted()) > DIGIT_LIMIT.most:
        return FoundCell(str(value), struck=struck)
    number = _PLACES.plus(value) if value != value.to_integral_value() else value
    if percent:
        number = _PLACES.plus(number * 100)
    text = f"{number:f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    if re.fullmatch(r"0{2,}", shown) and number >= 0:
        text = text.zfill(len(shown))
    return FoundCell(text + ("%" if percent else ""), Fraction(number), percent, struck=struck)


def _ods(data: bytes) -> Iterator[Grid]:
    for name, table in ods_tables(data):
        rows: dict[int, list[FoundCell]] = {}
        spans: dict[tuple[int, int], int] = {}
        number = 1
        for row, times in ods_rows(table):
            cells, wide = _ods_row(row)
            made = _trimmed(cells)
            for again in range(min(times, MOST_ROWS) if made else 0):
                rows[number + again] = made
                spans.update({(number + again, column): count for column, count in wide.items()})
            if len(rows) > MOST_ROWS:
                raise Refused("file", f"has more than {MOST_ROWS:,} rows")
            number += times
        yield Grid(name, rows, spans)


def _ods_row(row: Any) -> tuple[list[FoundCell], Mapping[int, int]]:
    cells: list[FoundCell] = []
    spans: dict[int, int] = {}
    for cell, times in ods_cells(row):
        wide = int(cell.get(f"{TABLE}number-columns-spanned", "1"))
        if wide > 1:
            spans[len(cells)] = wide
        cells += [_ods_cell(cell)] * times
    return cells, spans


def _ods_cell(cell: Any) -> FoundCell:
    number = ods_number(cell)
    if number is not None:
        return _number_cell(Decimal(number[0]), number[1])
    day = cell.get(f"{OFFICE}date-value")
    return FoundCell(day[:10], day=read_day(day[:10])) if day is not None else text_cell(ods_words(cell))
