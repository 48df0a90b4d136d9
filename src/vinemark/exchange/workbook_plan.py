"""The Plan sheet of the workbook: the numbers of every rule, which formulas on the other sheets read."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Category
from vinemark.core.plan.rules import ConditionKind, ConsequenceKind, Requirement
from vinemark.exchange.workbook_cells import CellValue, CellWriter
from vinemark.exchange.workbook_places import CATEGORY_HEADING, LATE_COLUMNS, LATE_HEADING, PLAN_TOP, PlanPlaces

NOTE = (
    "Numbers on this sheet and the scores can be changed; every grade follows. Splits, the blanks rules, which way is"
    " rounded and what drops go by are written into the formulas."
)
ASKED: Mapping[ConditionKind, str] = {
    "percent_below": "below %",
    "missed_at_least": "missed at least",
    "value_above": "above",
}
DONE: Mapping[ConsequenceKind, str] = {
    "letter_at_most": "letter at most",
    "letters_down": "letters down",
    "percent_down": "points off the percent",
    "percent_at_most": "percent at most",
}


def write_plan_sheet(sheet: Any, course: Course, as_of: date, write: CellWriter) -> None:
    """Everything of the plan that a formula reads, each at its place."""
    plan, places = course.plan, PlanPlaces(course.plan)
    sheet.write_string(0, 0, f"{course.section.short} {course.section.title}, {course.term.name}", write.bold)
    rounding = plan.rounding
    rows: list[tuple[str, CellValue]] = [
        ("As of", as_of),
        ("Basis", plan.basis),
        ("Cap of the course percent", plan.cap),
        ("Rounded to decimals", rounding.decimals if rounding else None),
        ("The letter uses", rounding.letter_uses if rounding else "exact"),
    ]
    rows += [("Points for everyone", plan.added)] * bool(plan.added)
    for row, (label, value) in enumerate(rows, 1):
        sheet.write_string(row, 0, label)
        write.cell(sheet, row, 1, value)
    sheet.write_string(7, 0, NOTE, write.quiet)
    _write_categories(sheet, places, write)
    write.row(sheet, places.scale_top - 1, ("Letter from", "Letter"), write.bold)
    for row, step in enumerate(places.scale, places.scale_top):
        write.row(sheet, row, (step.cutoff, step.letter))
    _write_requirements(sheet, places, write)
    _write_symbols(sheet, places, write)
    sheet.set_column(0, 0, 34)
    sheet.set_column(1, places.alternative_column + len(plan.alternatives), 13)


def _write_categories(sheet: Any, places: PlanPlaces, write: CellWriter) -> None:
    plan = places.plan
    late = LATE_HEADING if places.has_late else ()
    write.row(sheet, PLAN_TOP - 1, (*CATEGORY_HEADING, *late, *(alt.name for alt in plan.alternatives)), write.bold)
    for row, c in enumerate(plan.categories, PLAN_TOP):
        values = (c.name, c.weight, "yes" if c.extra else "no", c.split, c.drop_highest, c.drop_lowest, c.keep_best,
                  c.drop_by, c.blanks, c.cap)  # fmt: skip
        others = [c.weight if c.extra else alt.weights[c.id] for alt in plan.alternatives]
        write.row(sheet, row, (*values, *(_late(c) if places.has_late else ()), *others))


def _late(category: Category) -> list[CellValue]:
    return [getattr(category.late, name) if category.late else None for name in LATE_COLUMNS]


def _write_requirements(sheet: Any, places: PlanPlaces, write: CellWriter) -> None:
    requirements = places.plan.requirements
    if requirements:
        write.row(sheet, places.requirement_top - 1, ("If", "", "then", ""), write.bold)
    for row, one in enumerate(requirements, places.requirement_top):
        each = ", for each" if one.consequence.for_each else ""
        does = one.consequence.letter or one.consequence.amount
        asks = f"{_subject(places, one)}: {ASKED[one.condition.kind]}"
        write.row(sheet, row, (asks, one.condition.threshold, DONE[one.consequence.kind] + each, does))


def _subject(places: PlanPlaces, one: Requirement) -> str:
    category = places.plan.category(one.condition.category or "")
    item = places.plan.item(one.condition.item or "")
    recorded = next((extra.name for extra in places.plan.recorded if extra.id == one.condition.item), "")
    return category.name if category else item.name if item else recorded


def _write_symbols(sheet: Any, places: PlanPlaces, write: CellWriter) -> None:
    if places.symbols:
        write.row(sheet, places.symbol_top - 1, ("Symbols of", "Symbol", "Percent"), write.bold)
    for row, (category, symbol) in enumerate(places.symbols, places.symbol_top):
        write.row(sheet, row, (category.name, symbol.symbol, symbol.percent))
