"""The score sheet as a plain table, in CSV and XLSX: what can be read elsewhere, and imported again."""

import io
from datetime import date
from fractions import Fraction

import xlsxwriter

from vinemark.core.course.cell import DetailedScore, PlainCell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.grade.results import results
from vinemark.exchange.csv_text import csv_text
from vinemark.exchange.workbook_cells import write_exact

PERSON_HEADINGS = ("id", "family_name", "given_name", "email")
FIGURES = ("percent", "rounded", "letter", "blanks_zero", "blanks_full")

Value = PlainCell | str


def sheet_table(course: Course, as_of: date) -> list[list[Value]]:
    """A heading row, then one row a student: who, every cell by item name, the figures."""
    items = list(course.plan.columns.values())
    rows: list[list[Value]] = [[*PERSON_HEADINGS, *(item.name for item in items), *FIGURES]]
    for student, found in zip(course.students, results(course, as_of)["students"], strict=True):
        person: list[Value] = [student.id, student.family_name, student.given_name, student.email or ""]
        figures = [found[key] for key in FIGURES]
        numbers = [v if v is None or key == "letter" else Fraction(v) for key, v in zip(FIGURES, figures, strict=True)]
        cells = [course.cell(student.id, item.id) for item in items]
        rows.append([*person, *(cell_text(c) if isinstance(c, DetailedScore) else c for c in cells), *numbers])
    return rows


def sheet_csv(course: Course, as_of: date) -> str:
    """RFC 4180, lines ending in CRLF; text that a spreadsheet would take for a formula is made harmless."""
    heading, *rows = sheet_table(course, as_of)
    texts = ([value if isinstance(value, str) else cell_text(value) for value in row] for row in rows)
    return csv_text([str(value) for value in heading], texts)


def sheet_xlsx(course: Course, as_of: date) -> bytes:
    """One sheet of numbers as numbers and text as text, its headings in sight."""
    out = io.BytesIO()
    with xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        sheet, bold = book.add_worksheet("Scores"), book.add_format({"bold": True})
        for line, row in enumerate(sheet_table(course, as_of)):
            for column, value in enumerate(row):
                if isinstance(value, str):
                    sheet.write_string(line, column, value, bold if line == 0 else None)
                elif value is not None:
                    write_exact(sheet, line, column, value)
        sheet.freeze_panes(1, len(PERSON_HEADINGS))
        sheet.set_column(1, 3, 18)
    return out.getvalue()
