"""A workbook in which a spreadsheet works out every grade by itself, from the plan and the scores on its sheets.

Four kinds of sheets: Plan (numbers of the rules), Scores, one sheet for each category (what is in play, what is
dropped or replaced, its percent) and Grades. Numbers and scores can be changed and every grade follows; how a category
is split, its blanks rule and what it drops by are written into the formulas. Each formula carries its value, so that
a reader that does not calculate shows the right figures.
"""

import io
from datetime import date
from typing import Any

import xlsxwriter

from vinemark.core.course.course import Course
from vinemark.core.grade.category import common_denominator
from vinemark.core.grade.counted import counted_cells
from vinemark.exchange.formula_sheet import FormulaSheet
from vinemark.exchange.workbook_category import CategorySheet
from vinemark.exchange.workbook_cells import CellWriter
from vinemark.exchange.workbook_grades import GradesSheet
from vinemark.exchange.workbook_plan import write_plan_sheet
from vinemark.exchange.workbook_scores import FIRST_ROW, ScoresSheet, score_columns


def live_workbook(course: Course, as_of: date) -> bytes:
    """The workbook as XLSX."""
    out = io.BytesIO()
    with xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        book.set_properties({"title": f"{course.section.short}: grades by formulas", "author": "Vine Mark"})
        _build(book, course, as_of)
    return out.getvalue()


def _build(book: Any, course: Course, as_of: date) -> None:
    """All sheets, the grades first."""
    grades, plan, scores = (book.add_worksheet(name, FormulaSheet) for name in ("Grades", "Plan", "Scores"))
    write = CellWriter(book)
    write_plan_sheet(plan, course, as_of, write)
    ScoresSheet(scores, course, write).build()
    GradesSheet(grades, course, as_of, _categories(book, course, as_of, write), write).build()


def _categories(book: Any, course: Course, as_of: date, write: CellWriter) -> list[CategorySheet]:
    columns, made = score_columns(course), []
    rows = [counted_cells(course.plan_of(s.id), course.scores.get(s.id, {})) for s in course.students]
    denominator = common_denominator([item for _, item in course.plan.items()], rows)
    for place in range(len(course.plan.categories)):
        sheet = book.add_worksheet(f"Category {place + 1}", FormulaSheet)
        one = CategorySheet(sheet, course.plan, place, columns, as_of, denominator)
        one.heading(write.bold)
        for row, (student, cells) in enumerate(zip(course.students, rows, strict=True), FIRST_ROW):
            sheet.put_formula(row, 0, f"Scores!A{row + 1}", student.id)
            one.student(row, cells, course.extended.get(student.id, {}))
        sheet.freeze_panes(FIRST_ROW, 1)
        made.append(one)
    return made
