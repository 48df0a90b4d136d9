"""A sheet of a file as a grid of cells, before anything is known of what they mean."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import NotANumber, parse_decimal

EMPTY = frozenset(
    {"-", "–", "—", "--", ".", "n/a", "na", "#n/a", "#div/0!", "#ref!", "#value!", "#name?", "#num!", "#null!"}
)
"""What stands in a cell that holds nothing, in small letters."""


@dataclass(frozen=True)
class FoundCell:
    """One cell: its text with single blanks, its number (of a percent the percent that it shows), its day."""

    text: str = ""
    number: Fraction | None = None
    percent: bool = False
    day: date | None = None
    struck: bool = False

    @property
    def blank(self) -> bool:
        """Whether it holds nothing, or only a sign for nothing."""
        return not self.text or self.text.lower() in EMPTY

    @property
    def wordy(self) -> bool:
        """Whether it is text that is neither a number nor a date."""
        return bool(self.text) and self.number is None and self.day is None and not self.blank


NOTHING_THERE = FoundCell()


@dataclass(frozen=True)
class Grid:
    """A sheet: cells by row number, counted from 1, in columns counted from 0; `spans` says how many columns a merged
    cell covers, by row and column."""

    name: str | None
    rows: Mapping[int, Sequence[FoundCell]]
    spans: Mapping[tuple[int, int], int] = field(default_factory=dict)
    hidden: bool = False

    def cell(self, row: int, column: int) -> FoundCell:
        """A cell; an empty one where the row is short."""
        cells = self.rows.get(row, ())
        return cells[column] if column < len(cells) else NOTHING_THERE

    @property
    def width(self) -> int:
        """How many columns the longest row has."""
        return max((len(cells) for cells in self.rows.values()), default=0)

    def filled(self, row: int) -> Iterator[tuple[int, FoundCell]]:
        """The cells of a row that hold something, with their columns."""
        return ((column, cell) for column, cell in enumerate(self.rows.get(row, ())) if cell.text)


def text_cell(text: str, decimal_comma: bool = False) -> FoundCell:
    """A cell of a text file: '9,5' is a number where commas are decimal ones, '87%' is 87 as a percent."""
    plain = " ".join(text.split())
    if plain.startswith('="') and plain.endswith('"'):
        return FoundCell(plain[2:-1])
    digits = plain.removesuffix("%").strip()
    if decimal_comma and digits.count(",") == 1 and "." not in digits:
        digits = digits.replace(",", ".")
    if re.fullmatch(r"\.\d+", digits, re.ASCII):
        digits = "0" + digits
    try:
        number = parse_decimal(digits)
    except NotANumber:
        return FoundCell(plain, day=read_day(plain))
    return FoundCell(plain, number, plain.endswith("%"))


def read_day(text: str) -> date | None:
    """An ISO date."""
    try:
        return date.fromisoformat(text) if re.fullmatch(r"\d{4}-\d{2}-\d{2}", text, re.ASCII) else None
    except ValueError:
        return None
