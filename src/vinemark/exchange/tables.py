"""Tables in text files: which characters, which delimiter, which columns."""

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from charset_normalizer import from_bytes

from vinemark.core.base.limits import STUDENT_LIMIT
from vinemark.core.base.names import folded
from vinemark.core.base.refused import Refused

MAX_BYTES = 5 * 1024 * 1024
DELIMITERS = (",", ";", "\t", "|")
LOOKED_AT = 30
MOST_ROWS = STUDENT_LIMIT.most + 100
"""As many as students in a section, and headings, totals and notes beside them."""
MOST_COLUMNS = 500
DETECTED = 100_000
"""So many bytes say which encoding a text is in."""


@dataclass(frozen=True)
class TableRow:
    """One row with its line number in the file, counted from 1."""

    line: int
    cells: Sequence[str]


@dataclass(frozen=True)
class Table:
    """A heading row and the rows under it; empty rows are left out."""

    heading: Sequence[str]
    rows: Sequence[TableRow]


def decode(data: bytes) -> str:
    """Text of a file: UTF-8 with or without a mark, UTF-16 with one, else what a detector says.

    Raises Refused for a file that is too large or no text.
    """
    if len(data) > MAX_BYTES:
        raise Refused("file", f"is larger than {MAX_BYTES // 1024 // 1024} MB")
    for mark, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return _decoded(data, encoding)
    if b"\0" in data:
        raise Refused("file", "is not a text file; save it as CSV first")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return _guessed(data)


def _decoded(data: bytes, encoding: str) -> str:
    try:
        return data.decode(encoding)
    except UnicodeDecodeError:
        raise Refused("file", "could not be read as text") from None


def _guessed(data: bytes) -> str:
    """Western European first: a detector mistakes it for its neighbours."""
    try:
        return data.decode("cp1252")
    except UnicodeDecodeError:
        best = from_bytes(data[:DETECTED]).best()
        if best is None:
            raise Refused("file", "could not be read as text; save it as UTF-8") from None
        return data.decode(best.encoding, errors="replace")


def read_table(text: str) -> Table:
    """The table in a text, by the delimiter that gives its rows the most columns, steadily.

    Raises Refused where there is no heading row with rows under it.
    """
    try:
        rows = _rows(text, _delimiter(text))
    except csv.Error as error:
        raise Refused("file", f"could not be read as a table: {error}") from None
    return table_of(rows)


def table_of(rows: Sequence[TableRow]) -> Table:
    """A table from rows, the first one its heading."""
    if len(rows) < 2:
        raise Refused("file", "needs a row of headings and at least one row under it")
    return Table([cell.strip() for cell in rows[0].cells], rows[1:])


def _delimiter(text: str) -> str:
    """The delimiter with the most columns in the row that has the fewest; decimal commas are no columns then."""
    lines = [line for line in text.splitlines() if line.strip()][:LOOKED_AT]
    return max(DELIMITERS, key=lambda delimiter: _columns(lines, delimiter))


def _columns(lines: Sequence[str], delimiter: str) -> tuple[int, int]:
    try:
        widths = [len(row) for row in csv.reader(lines, delimiter=delimiter) if row]
    except csv.Error:
        return 0, 0
    return min(widths, default=0), widths[0] if widths else 0


def _rows(text: str, delimiter: str) -> list[TableRow]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    rows: list[TableRow] = []
    for cells in reader:
        if len(cells) > MOST_COLUMNS:
            raise Refused("file", f"has more than {MOST_COLUMNS} columns")
        if any(cell.strip() for cell in cells):
            rows.append(TableRow(reader.line_num, cells))
        if len(rows) > MOST_ROWS:
            raise Refused("file", f"has more than {MOST_ROWS:,} rows")
    return rows


def cell_at(row: TableRow, column: int | None) -> str:
    """A cell with single blanks, empty where the row is short."""
    if column is None or column >= len(row.cells):
        return ""
    return " ".join(row.cells[column].split())


def find_columns(heading: Sequence[str], names: Mapping[str, Sequence[str]]) -> dict[str, int]:
    """Where each known column stands, by any of its names (as `folded` gives them)."""
    seen = [folded(cell) for cell in heading]
    found = {}
    for column, accepted in names.items():
        places = [i for i, cell in enumerate(seen) if cell in accepted]
        if places:
            found[column] = places[0]
    return found
