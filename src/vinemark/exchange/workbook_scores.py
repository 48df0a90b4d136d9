"""The Scores sheet of the workbook: every score as it counts.

A symbol is a formula of the item's points and its percent; late work is a formula of the score, the days and the rule.
How many of the late days were free ones is worked out here and carried as a number.
"""

from collections.abc import Mapping
from datetime import date
from typing import Any

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.course.recorded import PlainCells, recorded_cells
from vinemark.core.grade.counted import late_work
from vinemark.core.plan.plan import Category, Item
from vinemark.exchange.workbook_cells import CellValue, CellWriter
from vinemark.exchange.workbook_places import PlanPlaces

SCORE_ROWS = ("Category", "Item", "Points", "Own share", "Due", "Kind", "May be dropped")
FIRST_ROW = 8
"""The first student's row on every sheet but Grades, counted from 0."""
FIXED = 3
"""Columns of id, family name and given name before the scores."""
LATE_NOTE = "A late score is what is left of it; the days in its formula are those after free days."


def score_columns(course: Course) -> dict[str, int]:
    """The column of each item, and after them of what is only recorded."""
    ids = [item.id for _, item in course.plan.items()]
    ids += [one.id for one in course.plan.recorded if one.id not in ids]
    return {item: FIXED + n for n, item in enumerate(ids)}


def due_before(column: int) -> str:
    """Whether the item of a column was due before the day of the Plan sheet, as a condition."""
    return f"Scores!{xl_col_to_name(column)}${SCORE_ROWS.index('Due') + 1}<Plan!$B$2"


def with_own_dates(formula: str, own: Mapping[str, date], columns: Mapping[str, int]) -> str:
    """A formula in which the due dates of one student stand for those of the class."""
    for item, due in own.items():
        formula = formula.replace(due_before(columns[item]), f"DATE({due.year},{due.month},{due.day})<Plan!$B$2")
    return formula


class ScoresSheet:
    """Writes the sheet."""

    def __init__(self, sheet: Any, course: Course, write: CellWriter) -> None:
        self.sheet = sheet
        self.course = course
        self.write = write
        self.columns = score_columns(course)
        self.places = PlanPlaces(course.plan)
        self._category_places = {category.id: n for n, category in enumerate(course.plan.categories)}

    def build(self) -> None:
        """The whole sheet."""
        self._heading()
        for row, student in enumerate(self.course.students, FIRST_ROW):
            self.write.row(self.sheet, row, (student.id, student.family_name, student.given_name))
            self._student(row, student.id)
        self.sheet.freeze_panes(FIRST_ROW, FIXED)
        self.sheet.set_column(1, 2, 16)

    def _heading(self) -> None:
        for row, label in enumerate(SCORE_ROWS):
            self.sheet.write_string(row, 0, label, self.write.bold)
        for category, item in self.course.plan.items():
            kind = "planned" if not item.counts else "extra" if item.extra and not category.extra else "regular"
            droppable = "yes" if item.droppable else "no"
            values = (category.name, item.name, item.points, item.share, item.due, kind, droppable)
            self._above(self.columns[item.id], values)
        for one in self.course.plan.recorded:
            self._above(self.columns[one.id], ("", one.name, None, None, one.due, "recorded", ""))
        if self.places.has_late:
            self.sheet.write_string(len(SCORE_ROWS), FIXED, LATE_NOTE, self.write.quiet)
        self.write.row(self.sheet, FIRST_ROW - 1, ("id", "family_name", "given_name"), self.write.bold)

    def _above(self, column: int, values: tuple[CellValue, ...]) -> None:
        for row, value in enumerate(values):
            self.write.cell(self.sheet, row, column, value, self.write.bold if row == 1 else None)

    def _student(self, row: int, student: str) -> None:
        plan, cells = self.course.plan, self.course.scores.get(student, {})
        recorded, late = recorded_cells(plan, cells), late_work(self.course.plan_of(student), cells)
        for item_id, column in self.columns.items():
            cell, placed = cells.get(item_id), plan.placed.get(item_id)
            if not isinstance(cell, DetailedScore) or placed is None:
                self.write.cell(self.sheet, row, column, recorded.get(item_id))
                continue
            formula = self._value_formula(*placed, cell, recorded)
            work = late.get(item_id)
            if work is None:
                counts = recorded[item_id]
            else:
                formula, counts = self._late_formula(*placed, formula, work.days - work.free), work.left
            assert not isinstance(counts, str | None)  # noqa: S101
            self.sheet.put_formula(row, column, formula, float(counts))

    def _points(self, item: Item) -> str:
        return f"{xl_col_to_name(self.columns[item.id])}${SCORE_ROWS.index('Points') + 1}"

    def _value_formula(self, category: Category, item: Item, cell: DetailedScore, recorded: PlainCells) -> str:
        if cell.symbol is not None:
            return f"{self._points(item)}*{self.places.symbol(category, cell.symbol)}/100"
        value = recorded[item.id]
        assert not isinstance(value, str | None)  # noqa: S101
        return exact_text(value)

    def _late_formula(self, category: Category, item: Item, value: str, days: int) -> str:
        """What is left of a score so many days late, free days already taken off."""
        assert category.late is not None  # noqa: S101
        place = self._category_places[category.id]
        per_day, most, grace, last = (
            self.places.late(place, name) for name in ("per_day", "at_most", "grace_days", "last_day")
        )
        part = f'MIN(IF({most}="",100,{most}),MAX(0,{days}-{grace})*{per_day})/100'
        left = f"MAX(0,{value}-{part}*{self._points(item)})" if category.late.of == "points" else f"{value}*(1-{part})"
        return f'IF(AND({last}<>"",{days}>{last}),0,{left})'
