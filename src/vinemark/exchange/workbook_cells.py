"""Values put into a workbook's cells, each as its kind."""

from collections.abc import Sequence
from datetime import date
from fractions import Fraction
from typing import Any

from vinemark.core.base.number import exact_text

CellValue = Fraction | int | str | date | None


class CellWriter:
    """Writes values into the sheets of one workbook."""

    def __init__(self, book: Any) -> None:
        self.bold = book.add_format({"bold": True})
        self.quiet = book.add_format({"font_color": "#5b5563", "text_wrap": True})
        self._day = book.add_format({"num_format": "yyyy-mm-dd"})

    def row(self, sheet: Any, row: int, values: Sequence[CellValue], style: Any = None) -> None:
        """A row from its first column on."""
        for column, value in enumerate(values):
            self.cell(sheet, row, column, value, style)

    def cell(self, sheet: Any, row: int, column: int, value: CellValue, style: Any = None) -> None:
        """A value as its kind; text is always text, whatever it begins with."""
        if value is None:
            return
        if isinstance(value, str):
            sheet.write_string(row, column, value, style)
        elif isinstance(value, date):
            sheet.write_datetime(row, column, value, self._day)
        else:
            write_exact(sheet, row, column, value)


def write_exact(sheet: Any, row: int, column: int, value: Fraction | int) -> None:
    """A number with all its digits; a third, which has no end, as a formula that divides."""
    text = exact_text(Fraction(value))
    if "/" in text:
        sheet.write_formula(row, column, f"={text}", None, float(value))
    else:
        sheet.write_number(row, column, float(value))
