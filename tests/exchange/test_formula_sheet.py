"""Formulas that need no looking through: the library's own look leaves them as they are."""

import io
import re
import zipfile

import pytest
import xlsxwriter
from hypothesis import HealthCheck, given, settings
from xlsxwriter.worksheet import Worksheet

from tests.builders import AFTER
from tests.core.strategies import courses
from vinemark.core.course.course import Course
from vinemark.exchange.formula_sheet import FormulaSheet
from vinemark.exchange.workbook import live_workbook


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(courses())
def test_no_formula_of_the_workbook_has_a_function_of_a_later_version(of: Course) -> None:
    seen: set[str] = set()
    own = FormulaSheet.put_formula

    def noting(sheet: FormulaSheet, row: int, column: int, formula: str, *more: object) -> None:
        seen.add(formula)
        own(sheet, row, column, formula, *more)  # type: ignore[arg-type]

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(FormulaSheet, "put_formula", noting)
        live_workbook(of, AFTER)
    library = Worksheet()
    assert all(library._prepare_formula(f"={formula}") == formula for formula in seen)
    assert seen


def test_it_is_written_as_the_library_writes_it() -> None:
    def sheet_xml(put: bool) -> bytes:
        out = io.BytesIO()
        with xlsxwriter.Workbook(out, {"in_memory": True}) as book:
            sheet = book.add_worksheet("One", worksheet_class=FormulaSheet)
            for row, (formula, value) in enumerate([('IF(A1<2,"a&b","")', "x"), ("1+1", 2.5), ("SUM(B1:B2)", "")]):
                if put:
                    sheet.put_formula(row, 3, formula, value)
                else:
                    sheet.write_formula(row, 3, f"={formula}", None, value)
        return zipfile.ZipFile(io.BytesIO(out.getvalue())).read("xl/worksheets/sheet1.xml")

    assert sheet_xml(put=True) == sheet_xml(put=False)
    assert len(re.findall(rb"<f>", sheet_xml(put=True))) == 3
