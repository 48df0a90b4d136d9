"""A workbook in which a spreadsheet works out every grade by itself, from the plan and the scores on its sheets.

Four kinds of sheets: Plan (numbers of the rules), Scores, one sheet for each category (what is in play, what is
dropped, its percent) and Grades. Numbers and scores can be changed and every grade follows; how a category is
split, its blanks rule and what it drops by are written into the formulas. Each formula carries its value, so that
a reader that does not calculate shows the right figures.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

import xlsxwriter
from xlsxwriter.utility import xl_rowcol_to_cell

from vinemark.core.base.number import exact_text
from vinemark.core.course.course import Cell, Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.scale import scale_faults, sorted_scale
from vinemark.exchange.workbook_category import FIRST_ROW, CategorySheet

SCORE_ROWS = ("Category", "Item", "Points", "Own share", "Due", "Kind", "May be dropped")
FIXED = 3
"""Columns of id, family name and given name before the scores."""

PLAN_TOP = 10
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


@dataclass(frozen=True)
class _ItemColumn:
    """Where an item's scores stand."""

    item: Item
    column: int


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
        places = {item.id: FIXED + n for n, (_, item) in enumerate(self.plan.items())}
        self.columns = {i: _ItemColumn(item, places[i]) for i, item in ((i.id, i) for _, i in self.plan.items())}
        self.grades = grades_of(course, as_of)

    def build(self) -> None:
        """All sheets, the grades first."""
        grades, plan, scores = (self.book.add_worksheet(name) for name in ("Grades", "Plan", "Scores"))
        self._plan(plan)
        self._scores(scores)
        sheets = [self._category(place, category) for place, category in enumerate(self.plan.categories)]
        self._grades(grades, sheets)

    def _plan(self, sheet: Any) -> None:
        name = f"{self.course.section.short} {self.course.section.title}, {self.course.term.name}"
        sheet.write_string(0, 0, name, self.bold)
        rounding = self.plan.rounding
        rows: list[tuple[str, Any]] = [
            ("As of", self.as_of),
            ("Basis", self.plan.basis),
            ("Ceiling of the course percent", self.plan.cap),
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
                self._write(sheet, row, self.columns[item.id].column, value, self.bold if row == 1 else None)
        self._row(sheet, FIRST_ROW - 1, ("id", "family_name", "given_name"), self.bold)
        for row, student in enumerate(self.course.students, FIRST_ROW):
            self._row(sheet, row, (student.id, student.family_name, student.given_name))
            for item_id, place in self.columns.items():
                self._write(sheet, row, place.column, self.course.cell(student.id, item_id))
        sheet.freeze_panes(FIRST_ROW, FIXED)
        sheet.set_column(1, 2, 16)

    def _category(self, place: int, category: Category) -> CategorySheet:
        sheet = self.book.add_worksheet(f"Category {place + 1}")
        columns = {item.id: self.columns[item.id].column for item in category.items}
        made = CategorySheet(sheet, category, self.plan.basis, PLAN_TOP + place, columns, self.as_of)
        made.heading(self.bold)
        for row, student in enumerate(self.course.students, FIRST_ROW):
            sheet.write_formula(row, 0, f"=Scores!A{row + 1}", None, student.id)
            made.student(row, self.course.scores.get(student.id, {}))
        sheet.freeze_panes(FIRST_ROW, 1)
        return made

    def _grades(self, sheet: Any, categories: Sequence[CategorySheet]) -> None:
        names = [c.name for c in self.plan.categories]
        weight = "Points possible" if self.plan.basis == "points" else "Weight in force"
        heading = ("id", "family_name", "given_name", *names, weight, "percent", "rounded", "letter")
        self._row(sheet, 0, heading, self.bold)
        for row, student in enumerate(self.course.students, FIRST_ROW):
            mine = row - FIRST_ROW + 1
            for column, value in enumerate((student.id, student.family_name, student.given_name)):
                sheet.write_formula(mine, column, f'=Scores!{xl_rowcol_to_cell(row, column)}&""', None, value)
            for column, category in enumerate(categories, FIXED):
                p = category.figure(row, "p")
                share = category.values[row].p
                percent = None if share is None else 100 * share
                sheet.write_formula(mine, column, f'=IF({p}="","",100*{p})', None, _value(percent))
            self._grade(sheet, mine, row, categories, student.id)
        sheet.freeze_panes(1, FIXED)
        sheet.set_column(1, 2, 16)
        sheet.set_column(FIXED, FIXED + len(names) + 3, 13)

    def _grade(self, sheet: Any, mine: int, row: int, categories: Sequence[CategorySheet], student: str) -> None:
        grade, column = self.grades[student], FIXED + len(categories)
        whole, percent, rounded = (xl_rowcol_to_cell(mine, column + n) for n in range(3))
        points = self.plan.basis == "points"
        formulas = self._by_points(row, whole, categories) if points else self._by_weight(row, whole, categories)
        sheet.write_formula(mine, column, formulas[0], None, float(self._whole(row, categories)))
        capped = f'=IF({whole}=0,"",IF(Plan!$B$4="",{formulas[1]},MIN(Plan!$B$4,{formulas[1]})))'
        sheet.write_formula(mine, column + 1, capped, None, _value(grade.percent))
        # The tenth decimal is below every exact difference that matters and above the noise of binary numbers.
        steady = f"ROUND({percent},10)"
        sheet.write_formula(
            mine, column + 2, f'=IF({percent}="","",IF(Plan!$B$5="",{percent},ROUND({steady},Plan!$B$5)))', None,
            _value(grade.percent if self.plan.rounding is None else grade.rounded),
        )  # fmt: skip
        if self.scale:
            top, bottom = self.scale_top + 1, self.scale_top + len(self.scale)
            cutoffs, letters = (f"Plan!${c}${top}:${c}${bottom}" for c in "AB")
            used = f'IF(Plan!$B$6="rounded",{rounded},{steady})'
            formula = f'=IF({percent}="","",LOOKUP({used},{cutoffs},{letters}))'
            sheet.write_formula(mine, column + 3, formula, None, grade.letter or "")

    def _by_weight(self, row: int, whole: str, categories: Sequence[CategorySheet]) -> tuple[str, str]:
        ordinary = [c for c in categories if not c.category.extra]
        present = [f'IF({c.figure(row, "p")}="",0,{c.plan_cell("B")})' for c in ordinary]
        parts = [f'IF({c.figure(row, "p")}="",0,{c.plan_cell("B")}*{c.figure(row, "p")})' for c in categories]
        regular = "+".join(p for p, c in zip(parts, categories, strict=True) if not c.category.extra) or "0"
        extra = "".join(f"+{p}" for p, c in zip(parts, categories, strict=True) if c.category.extra)
        return f"={'+'.join(present) or '0'}", f"100*({regular})/{whole}{extra}"

    def _by_points(self, row: int, whole: str, categories: Sequence[CategorySheet]) -> tuple[str, str]:
        sizes = [c.figure(row, "size") for c in categories if not c.category.extra]
        earned = "+".join(c.figure(row, "counted") for c in categories) or "0"
        return f"={'+'.join(sizes) or '0'}", f"100*({earned})/{whole}"

    def _whole(self, row: int, categories: Sequence[CategorySheet]) -> Fraction:
        ordinary = [c for c in categories if not c.category.extra]
        if self.plan.basis == "points":
            return sum((c.values[row].size for c in ordinary), Fraction(0))
        present = [c.category.weight or Fraction(0) for c in ordinary if c.values[row].p is not None]
        return sum(present, Fraction(0))

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
