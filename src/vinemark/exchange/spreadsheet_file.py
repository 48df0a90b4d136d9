"""Sheets of XLSX and ODS files, each cell as the text a person would type for it.

A number keeps the digits it was written with, a cell shown as a percentage reads '85%', a formula gives the value
kept with it; one without a value stays '=…', so that it is refused where a number is wanted.
"""

import io
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from lxml import etree
from openpyxl import load_workbook

from vinemark.core.base.limits import DIGIT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.exchange.tables import MOST_COLUMNS, MOST_ROWS

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
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise Refused("file", "is an old binary spreadsheet; save it as XLSX, ODS or CSV")
    names = packed_names(data)
    if "xl/workbook.xml" in names:
        sheets = _guarded(_xlsx, data)
    elif "content.xml" in names:
        sheets = _guarded(_ods, data)
    else:
        raise Refused("file", "is a packed file, but no spreadsheet")
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


def _guarded(read: Any, data: bytes) -> list[Sheet]:
    """A reader's result; whatever a damaged file makes it stumble over is a refusal."""
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


_OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_WORDS = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"


def _ods(data: bytes) -> Iterator[Sheet]:
    """Tables of an OpenDocument spreadsheet (OASIS OpenDocument 1.2, part 1, section 9)."""
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        content = packed.read("content.xml")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False)
    for table in etree.fromstring(content, parser).iter(f"{_TABLE}table"):
        rows: list[list[str]] = []
        for row in table.iter(f"{_TABLE}table-row"):
            cells = _ods_row(row)
            times = int(row.get(f"{_TABLE}number-rows-repeated", "1"))
            # The empty rest of a sheet is one row repeated a million times.
            times = times if any(cells) else min(times, 1)
            if len(rows) + times > MOST_ROWS:
                raise Refused("file", f"has more than {MOST_ROWS:,} rows")
            rows += [cells] * times
        count = sum(1 for _ in table.iterfind(f".//*[@{_TABLE}formula]"))
        yield Sheet(table.get(f"{_TABLE}name", ""), rows, count)


def _ods_row(row: Any) -> list[str]:
    cells: list[str] = []
    for cell in row:
        if cell.tag not in {f"{_TABLE}table-cell", f"{_TABLE}covered-table-cell"}:
            continue
        times = int(cell.get(f"{_TABLE}number-columns-repeated", "1"))
        cells += [_ods_text(cell)] * min(times, max(0, MOST_COLUMNS - len(cells)))
    return cells


def _ods_text(cell: Any) -> str:
    kind, value = cell.get(f"{_OFFICE}value-type"), cell.get(f"{_OFFICE}value")
    if kind in {"float", "currency", "percentage"} and value is not None:
        return _plain(Decimal(value), kind == "percentage")
    words = " ".join("".join(part.itertext()) for part in cell.iter(f"{_WORDS}p"))
    return " ".join(words.split()) or str(cell.get(f"{_TABLE}formula") or "")
