"""Sheets of XLSX and ODS files, each cell as the text a person would type for it.

A number keeps the digits it was written with, a cell shown as a percentage reads '85%', a formula gives the value
kept with it; one without a value stays '=…', so that it is refused where a number is wanted.
"""

import io
import zipfile
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, TypeVar

from openpyxl import load_workbook

from vinemark.core.base.limits import DIGIT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.exchange.ods import TABLE, ods_cells, ods_number, ods_rows, ods_tables, ods_words
from vinemark.exchange.tables import MOST_COLUMNS, MOST_ROWS

_S = TypeVar("_S")
_Reader = Callable[[bytes], Iterator[_S]]
MOST_UNPACKED = 100 * 1024 * 1024


@dataclass(frozen=True)
class Sheet:
    """One sheet: its rows of texts, and how many of its cells were worked out by formulas."""

    name: str
    rows: Sequence[Sequence[str]]
    formulas: int = 0


def is_spreadsheet(data: bytes) -> bool:
    """Whether a file is a packed one, as XLSX and ODS are (or an old binary one, which is refused)."""
    return data.startswith((b"PK\x03\x04", b"\xd0\xcf\x11\xe0"))


def read_sheets(data: bytes) -> list[Sheet]:
    """The sheets of a file that hold anything. Raises Refused for what is no such file or is too large."""
    sheets = read_packed(data, _xlsx, _ods)
    filled = [sheet for sheet in sheets if any(cell for row in sheet.rows for cell in row)]
    if not filled:
        raise Refused("file", "has nothing in it: every sheet is empty")
    return filled


def packed_names(data: bytes) -> set[str]:
    """The files in a packed file. Raises Refused where it is damaged or too large once unpacked."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            entries = packed.infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError):
        raise Refused("file", "is damaged: it cannot be unpacked") from None
    if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
        raise Refused("file", "is too large once unpacked")
    return {entry.filename for entry in entries}


def read_packed(data: bytes, xlsx: _Reader[_S], ods: _Reader[_S]) -> list[_S]:
    """The sheets of a file by the reader of its kind; whatever a damaged file makes it stumble over is a refusal."""
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise Refused("file", "is an old binary spreadsheet; save it as XLSX, ODS or CSV")
    names = packed_names(data)
    read = xlsx if "xl/workbook.xml" in names else ods if "content.xml" in names else None
    if read is None:
        raise Refused("file", "is a packed file, but no spreadsheet")
    try:
        return list(read(data))
    except (Refused, MemoryError):
        raise
    except Exception as error:
        raise Refused("file", f"could not be read as a spreadsheet ({type(error).__name__})") from error


def _xlsx(data: bytes) -> Iterator[Sheet]:
    values = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
    formulas = load_workbook(io.BytesIO(data), read_only=True)
    for value_sheet, formula_sheet in zip(values.worksheets, formulas.worksheets, strict=True):
        rows, count = [], 0
        for value_row, formula_row in zip(_limited(value_sheet), _limited(formula_sheet), strict=True):
            worked_out = [isinstance(cell.value, str) and cell.data_type == "f" for cell in formula_row]
            count += sum(worked_out)
            pairs = zip(value_row, formula_row, worked_out, strict=True)
            rows.append([_xlsx_text(value, formula.value if is_f else None) for value, formula, is_f in pairs])
        yield Sheet(value_sheet.title, rows, count)


def _limited(sheet: Any) -> Iterator[Sequence[Any]]:
    for number, row in enumerate(sheet.iter_rows(max_col=min(sheet.max_column or MOST_COLUMNS, MOST_COLUMNS))):
        if number >= MOST_ROWS:
            raise Refused("file", f"has more than {MOST_ROWS:,} rows")
        yield row


def _xlsx_text(cell: Any, formula: str | None) -> str:
    value = cell.value
    if value is None:
        return formula or ""
    percent = "%" in str(getattr(cell, "number_format", ""))
    return _text(value, percent)


def _text(value: Any, percent: bool = False) -> str:
    """A value as it would be typed: the shortest digits that a binary number stands for."""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, int | float):
        return _plain(Decimal(repr(value)), percent)
    if isinstance(value, datetime | date):
        return value.isoformat()
    return " ".join(str(value).split())


def _plain(number: Decimal, percent: bool) -> str:
    """Digits without an exponent or trailing zeros: Decimal('0.850') as a percentage is '85%'."""
    if abs(number.adjusted()) > DIGIT_LIMIT.most:
        return str(number)
    text = f"{number * 100 if percent else number:f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return text + ("%" if percent else "")


def _ods(data: bytes) -> Iterator[Sheet]:
    for name, table in ods_tables(data):
        rows: list[list[str]] = []
        for row, repeated in ods_rows(table):
            cells = [text for cell, times in ods_cells(row) for text in [_ods_text(cell)] * times]
            # The empty rest of a sheet is one row repeated a million times.
            times = repeated if any(cells) else min(repeated, 1)
            if len(rows) + times > MOST_ROWS:
                raise Refused("file", f"has more than {MOST_ROWS:,} rows")
            rows += [cells] * times
        count = sum(1 for _ in table.iterfind(f".//*[@{TABLE}formula]"))
        yield Sheet(name, rows, count)


def _ods_text(cell: Any) -> str:
    number = ods_number(cell)
    if number is not None:
        return _plain(Decimal(number[0]), number[1])
    return ods_words(cell) or str(cell.get(f"{TABLE}formula") or "")
