"""A workbook in which a spreadsheet works out every grade by itself, from the plan and the scores on its sheets.

Four kinds of sheets: Plan (numbers of the rules), Scores, one sheet for each category (what is in play, what is
dropped, its percent) and Grades. Numbers and scores can be changed and every grade follows; how a category is
split, its blanks rule and what it drops by are written into the formulas. Each formula carries its value, so that
a reader that does not calculate shows the right figures.
"""

import io
from collections.abc import Sequence
from datetime import date
from fractions import Fraction
from typing import Any

import xlsxwriter
from xlsxwriter.utility import xl_col_to_name

from vinemark.core.base.number import exact_text
from vinemark.core.course.course import Cell, Course
from vinemark.core.grade.category import common_denominator
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Category, Plan
from vinemark.core.plan.scale import scale_faults, sorted_scale
from vinemark.exchange.formula_sheet import FormulaSheet
from vinemark.exchange.workbook_category import FIRST_ROW, ROW, CategorySheet, Figures

SCORE_ROWS = ("Category", "Item", "Points", "Own share", "Due", "Kind", "May be dropped")
FIXED = 3
"""Columns of id, family name and given name before the scores."""

PLAN_TOP = 10
MINE = "{m}"
"""Stands in a formula for the number of a row on the Grades sheet."""
CATEGORY_HEADING = (
    "Category", "Weight", "Extra credit", "Split", "Drop highest", "Drop lowest", "Keep best", "Drops by", "Blanks",
    "Ceiling",
)  # fmt: skip


def live_workbook(course: Course, as_of: date) -> bytes:
    """The workbook as XLSX."""
    out = io.BytesIO()
    with xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        book.set_properties({"title": f"{course.section.short}: grades by formulas", "author": "Vine Mark"})
        _Builder(book, course, as_of).build()
    return out.getvalue()


class _Builder:
    """One workbook being written."""

    def __init__(self, book: Any, course: Course, as_of: date) -> None:
        self.book = book
        self.course = course
        self.plan: Plan = course.plan
        self.as_of = as_of
        self.bold = book.add_format({"bold": True})
        self.quiet = book.add_format({"font_color": "#5b5563", "text_wrap": True})
        self.day = book.add_format({"num_format": "yyyy-mm-dd"})
        items = [item for _, item in self.plan.items()]
        self.columns = {item.id: FIXED + n for n, item in enumerate(items)}
        self.denominator = common_denominator(items, list(course.scores.values()))
        self.points = self.plan.basis == "points"
        self.grades = grades_of(course, as_of)

    def build(self) -> None:
        """All sheets, the grades first."""
        grades, plan, scores = (self._sheet(name) for name in ("Grades", "Plan", "Scores"))
        self._plan(plan)
        self._scores(scores)
        sheets = [self._category(place, category) for place, category in enumerate(self.plan.categories)]
        self._grades(grades, sheets)

    def _sheet(self, name: str) -> Any:
        return self.book.add_worksheet(name, worksheet_class=FormulaSheet)

    def _plan(self, sheet: Any) -> None:
        name = f"{self.course.section.short} {self.course.section.title}, {self.course.term.name}"
        sheet.write_string(0, 0, name, self.bold)
        rounding = self.plan.rounding
        rows: list[tuple[str, Any]] = [
            ("As of", self.as_of),
            ("Basis", self.plan.basis),
            ("Cap of the course percent", self.plan.cap),
            ("Rounded to decimals", rounding.decimals if rounding else None),
            ("The letter uses", rounding.letter_uses if rounding else "exact"),
        ]
        for row, (label, value) in enumerate(rows, 1):
            sheet.write_string(row, 0, label)
            self._write(sheet, row, 1, value)
        sheet.write_string(
            7, 0, "Numbers on this sheet and the scores can be changed; every grade follows. Splits, the blanks rules"
            " and what drops go by are written into the formulas.", self.quiet,
        )  # fmt: skip
        self._row(sheet, PLAN_TOP - 1, CATEGORY_HEADING, self.bold)
        for row, c in enumerate(self.plan.categories, PLAN_TOP):
            values = (c.name, c.weight, "yes" if c.extra else "no", c.split, c.drop_highest, c.drop_lowest, c.keep_best,
                      c.drop_by, c.blanks, c.cap)  # fmt: skip
            self._row(sheet, row, values)
        self.scale_top = PLAN_TOP + len(self.plan.categories) + 2
        self._row(sheet, self.scale_top - 1, ("Letter from", "Letter"), self.bold)
        self.scale = [] if scale_faults(self.plan.scale) else sorted_scale(self.plan.scale)[::-1]
        for row, step in enumerate(self.scale, self.scale_top):
            self._row(sheet, row, (step.cutoff, step.letter))
        sheet.set_column(0, 0, 34)
        sheet.set_column(1, 9, 13)

    def _scores(self, sheet: Any) -> None:
        for row, label in enumerate(SCORE_ROWS):
            sheet.write_string(row, 0, label, self.bold)
        for category, item in self.plan.items():
            kind = "planned" if not item.counts else "extra" if item.extra and not category.extra else "regular"
            values = (
                category.name,
                item.name,
                item.points,
                item.share,
                item.due,
                kind,
                "yes" if item.droppable else "no",
            )
            for row, value in enumerate(values):
                self._write(sheet, row, self.columns[item.id], value, self.bold if row == 1 else None)
        self._row(sheet, FIRST_ROW - 1, ("id", "family_name", "given_name"), self.bold)
        for row, student in enumerate(self.course.students, FIRST_ROW):
            self._row(sheet, row, (student.id, student.family_name, student.given_name))
            cells = self.course.scores.get(student.id, {})
            for item_id, column in self.columns.items():
                self._write(sheet, row, column, cells.get(item_id))
        sheet.freeze_panes(FIRST_ROW, FIXED)
        sheet.set_column(1, 2, 16)

    def _category(self, place: int, category: Category) -> CategorySheet:
        sheet = self._sheet(f"Category {place + 1}")
        columns = {item.id: self.columns[item.id] for item in category.items}
        made = CategorySheet(sheet, category, self.plan.basis, PLAN_TOP + place, columns, self.as_of, self.denominator)
        made.heading(self.bold)
        for row, student in enumerate(self.course.students, FIRST_ROW):
            sheet.put_formula(row, 0, f"Scores!A{row + 1}", student.id)
            made.student(row, self.course.scores.get(student.id, {}))
        sheet.freeze_panes(FIRST_ROW, 1)
        return made

    def _grades(self, sheet: Any, categories: Sequence[CategorySheet]) -> None:
        names = [c.name for c in self.plan.categories]
        weight = "Points possible" if self.plan.basis == "points" else "Weight now"
        heading = ("id", "family_name", "given_name", *names, weight, "percent", "rounded", "letter")
        self._row(sheet, 0, heading, self.bold)
        formulas = [text.split(ROW) for text in self._grade_formulas(categories)]
        for row, student in enumerate(self.course.students, FIRST_ROW):
            mine, number = row - FIRST_ROW + 1, str(row + 1)
            figures = [category.figures[row] for category in categories]
            values = (
                student.id, student.family_name, student.given_name,
                *("" if one.p is None else 100 * one.p[0] / one.p[1] for one in figures),
                *self._grade_values(student.id, categories, figures),
            )  # fmt: skip
            for column, (text, value) in enumerate(zip(formulas, values, strict=True)):
                sheet.put_formula(mine, column, number.join(text).replace(MINE, str(mine + 1)), value)
        sheet.freeze_panes(1, FIXED)
        sheet.set_column(1, 2, 16)
        sheet.set_column(FIXED, FIXED + len(names) + 3, 13)

    def _grade_formulas(self, categories: Sequence[CategorySheet]) -> list[str]:
        """A row of the Grades sheet; MINE stands for its own number, ROW for that of the student everywhere else."""
        column = FIXED + len(categories)
        whole, percent, rounded = (f"{xl_col_to_name(column + n)}{MINE}" for n in range(3))
        weights, sums = self._by_points(whole, categories) if self.points else self._by_weight(whole, categories)
        # The tenth decimal is below every exact difference that matters and above the noise of binary numbers.
        steady = f"ROUND({percent},10)"
        found = [f'Scores!{xl_col_to_name(n)}{ROW}&""' for n in range(FIXED)]
        found += [f'IF({p}="","",100*{p})' for p in (category.figure("p") for category in categories)]
        found.append(weights)
        found.append(f'IF({whole}=0,"",IF(Plan!$B$4="",{sums},MIN(Plan!$B$4,{sums})))')
        found.append(f'IF({percent}="","",IF(Plan!$B$5="",{percent},ROUND({steady},Plan!$B$5)))')
        if self.scale:
            top, bottom = self.scale_top + 1, self.scale_top + len(self.scale)
            cutoffs, letters = (f"Plan!${c}${top}:${c}${bottom}" for c in "AB")
            used = f'IF(Plan!$B$6="rounded",{rounded},{steady})'
            found.append(f'IF({percent}="","",LOOKUP({used},{cutoffs},{letters}))')
        return found

    def _grade_values(
        self, student: str, categories: Sequence[CategorySheet], figures: Sequence[Figures]
    ) -> list[float | str]:
        grade = self.grades[student]
        rounded = grade.percent if self.plan.rounding is None else grade.rounded
        ordinary = [(c, one) for c, one in zip(categories, figures, strict=True) if not c.category.extra]
        if self.points:
            whole = sum((one.size for _, one in ordinary), Fraction(0))
        else:
            weights = [c.category.weight or Fraction(0) for c, one in ordinary if one.p is not None]
            whole = sum(weights, Fraction(0))
        found = [float(whole), _value(grade.percent), _value(rounded)]
        return [*found, grade.letter or ""] if self.scale else found

    def _by_weight(self, whole: str, categories: Sequence[CategorySheet]) -> tuple[str, str]:
        ordinary = [c for c in categories if not c.category.extra]
        present = [f'IF({c.figure("p")}="",0,{c.plan_cell("B")})' for c in ordinary]
        parts = [f'IF({c.figure("p")}="",0,{c.plan_cell("B")}*{c.figure("p")})' for c in categories]
        regular = "+".join(p for p, c in zip(parts, categories, strict=True) if not c.category.extra) or "0"
        extra = "".join(f"+{p}" for p, c in zip(parts, categories, strict=True) if c.category.extra)
        return "+".join(present) or "0", f"100*({regular})/{whole}{extra}"

    def _by_points(self, whole: str, categories: Sequence[CategorySheet]) -> tuple[str, str]:
        sizes = [c.figure("size") for c in categories if not c.category.extra]
        earned = "+".join(c.figure("counted") for c in categories) or "0"
        return "+".join(sizes) or "0", f"100*({earned})/{whole}"

    def _row(self, sheet: Any, row: int, values: Sequence[Any], style: Any = None) -> None:
        for column, value in enumerate(values):
            self._write(sheet, row, column, value, style)

    def _write(self, sheet: Any, row: int, column: int, value: Cell | date | int | str, style: Any = None) -> None:
        """A value as its kind; text is always text, whatever it begins with."""
        if value is None:
            return
        if isinstance(value, str):
            sheet.write_string(row, column, value, style)
        elif isinstance(value, date):
            sheet.write_datetime(row, column, value, self.day)
        else:
            write_exact(sheet, row, column, value)


def write_exact(sheet: Any, row: int, column: int, value: Fraction | int) -> None:
    """A number with all its digits; a third, which has no end, as a formula that divides."""
    text = exact_text(Fraction(value))
    if "/" in text:
        sheet.write_formula(row, column, f"={text}", None, float(value))
    else:
        sheet.write_number(row, column, float(value))


def _value(percent: Fraction | None) -> Any:
    return "" if percent is None else float(percent)
