"""A worksheet that takes formulas as they are: the library looks each one through for functions of later versions with
more than two dozen patterns, and the formulas written here have none."""

from xlsxwriter.format import Format
from xlsxwriter.worksheet import CellFormulaTuple, Worksheet


class FormulaSheet(Worksheet):  # type: ignore[misc]
    """The library's worksheet, with formulas that are ready."""

    def put_formula(
        self, row: int, column: int, formula: str, value: float | str = 0, style: Format | None = None
    ) -> None:
        """A formula, without the sign before it, and the value that it gives."""
        self._check_dimensions(row, column)
        self.table[row][column] = CellFormulaTuple(formula, style, value)
