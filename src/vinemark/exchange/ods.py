"""Tables of OpenDocument spreadsheets as elements (OASIS OpenDocument 1.2, part 1, section 9)."""

import io
import zipfile
from collections.abc import Iterator
from typing import Any

from lxml import etree

from vinemark.exchange.tables import MOST_COLUMNS

OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_WORDS = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"


def ods_tables(data: bytes) -> Iterator[tuple[str, Any]]:
    """Each table of a file with its name; what the file unpacks to was looked at before."""
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        content = packed.read("content.xml")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False)
    for table in etree.fromstring(content, parser).iter(f"{TABLE}table"):
        yield table.get(f"{TABLE}name", ""), table


def ods_rows(table: Any) -> Iterator[tuple[Any, int]]:
    """Each row of a table, and how many times it stands there."""
    return ((row, int(row.get(f"{TABLE}number-rows-repeated", "1"))) for row in table.iter(f"{TABLE}table-row"))


def ods_cells(row: Any) -> Iterator[tuple[Any, int]]:
    """Each cell of a row, and how many times it stands there; never more than a table may have columns."""
    room = MOST_COLUMNS
    for cell in row:
        if cell.tag in {f"{TABLE}table-cell", f"{TABLE}covered-table-cell"}:
            times = min(int(cell.get(f"{TABLE}number-columns-repeated", "1")), room)
            room -= times
            yield cell, times


def ods_number(cell: Any) -> tuple[str, bool] | None:
    """The digits of a cell that holds a number, and whether it is a percentage."""
    kind, value = cell.get(f"{OFFICE}value-type"), cell.get(f"{OFFICE}value")
    known = kind in {"float", "currency", "percentage"} and value is not None
    return (value, kind == "percentage") if known else None


def ods_words(cell: Any) -> str:
    """The text of a cell, with single blanks."""
    return " ".join(" ".join("".join(part.itertext()) for part in cell.iter(f"{_WORDS}p")).split())
