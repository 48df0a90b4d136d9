"""Rows of cells as lines of a text, a cell repeated in every place that it covers."""

import re
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

RAISED = str.maketrans("0123456789", "⁰¹²³⁴⁵⁶⁷⁸⁹")
"""The sign of a footnote keeps apart from the numbers beside it."""
MOST_TABLE_COLUMNS = 40
MOST_ROWS_READ = 2_000
LONG_CELL = 160
AMOUNT_FIRST = re.compile(r"\W{0,6}[\d.,]{1,9} ?(?:%|percent|points?\b|pts\b)")


def leads(words: str) -> bool:
    """Whether words in bold at the beginning of a block name what follows: they are words, and no amount."""
    return re.search("[A-Za-z]{2}", words) is not None and AMOUNT_FIRST.match(words) is None


class GridCell(NamedTuple):
    """A cell with the columns and rows it covers."""

    text: str
    columns: int = 1
    rows: int = 1


Spans = dict[int, tuple[str, int]]
"""What goes on from the rows above: by its column, the words and for how many more rows."""


def spread(cells: Iterable[GridCell], above: Spans) -> list[str]:
    """A row with a place for every column: a cell is repeated in each place that it covers."""
    row: list[str] = []
    for cell in cells:
        _go_on(row, above)
        for _ in range(cell.columns):
            if len(row) >= MOST_TABLE_COLUMNS:
                return row
            if cell.rows > 1:
                above[len(row)] = (cell.text, cell.rows - 1)
            row.append(cell.text)
    _go_on(row, above)
    return row


def _go_on(row: list[str], above: Spans) -> None:
    while len(row) in above and len(row) < MOST_TABLE_COLUMNS:
        text, rows = above.pop(len(row))
        if rows > 1:
            above[len(row)] = (text, rows - 1)
        row.append(text)


def cell_line(text: str) -> str:
    """The lines of a cell in one; a line of its own is told from the one above it by a semicolon."""
    lines = [line for part in text.split("\n") if (line := " ".join(part.split()))]
    return "; ".join(lines).replace(".; ", ". ").replace(":; ", ": ").replace("|", "/")


def bar_row(texts: Sequence[str]) -> Iterator[str]:
    if any(texts):
        yield "| " + " | ".join(texts) + " |"
