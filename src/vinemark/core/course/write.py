"""A Course as the values of a course file, every key written."""

from collections.abc import Callable
from datetime import date
from fractions import Fraction
from typing import Any, TypeVar

from vinemark.core.base.number import exact_text
from vinemark.core.course import course as c
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.read import COURSE_FORMAT
from vinemark.core.course.write_rules import Json, write_category_rules, write_rules
from vinemark.core.plan import plan as p

_T = TypeVar("_T")


def _maybe(value: _T | None, write: Callable[[_T], Any]) -> Any:
    return None if value is None else write(value)


def write_plan(plan: p.Plan) -> Json:
    """The plan as JSON values, every key written."""
    return {
        "basis": plan.basis,
        "ceiling": _maybe(plan.cap, exact_text),
        "rounding": _maybe(plan.rounding, _write_rounding),
        "scale": [{"letter": r.letter, "from": exact_text(r.cutoff)} for r in plan.scale],
        "categories": [_write_category(category) for category in plan.categories],
        **write_rules(plan),
    }


def _write_rounding(rounding: p.Rounding) -> Json:
    return {"decimals": rounding.decimals, "letter_uses": rounding.letter_uses, "way": rounding.way}


def _write_category(category: p.Category) -> Json:
    return {
        "id": category.id,
        "name": category.name,
        "weight": _maybe(category.weight, exact_text),
        "extra": category.extra,
        "split": category.split,
        "drop_lowest": category.drop_lowest,
        "drop_highest": category.drop_highest,
        "keep_best": category.keep_best,
        "drop_by": category.drop_by,
        "blanks": category.blanks,
        "ceiling": _maybe(category.cap, exact_text),
        "items": [_write_item(item) for item in category.items],
        **write_category_rules(category),
        "short": category.label or None,
    }


def _write_item(item: p.Item) -> Json:
    return {
        "id": item.id,
        "name": item.name,
        "points": exact_text(item.points),
        "extra": item.extra,
        "share": _maybe(item.share, exact_text),
        "counts": item.counts,
        "droppable": item.droppable,
        "due": _maybe(item.due, date.isoformat),
        "short": item.label or None,
    }


def write_cell(cell: Cell) -> str | Json | None:
    """A cell as a course file holds it; None for blank."""
    if isinstance(cell, Fraction):
        return exact_text(cell)
    if not isinstance(cell, DetailedScore):
        return cell
    what = {"symbol": cell.symbol} if cell.score is None else {"score": exact_text(cell.score)}
    return {**what, "late": cell.late}


def write_records(records: c.Records) -> Json:
    """The registrar's roster and rules as JSON values."""
    return {
        "roster": [vars(entry).copy() for entry in records.roster],
        "codes": [
            {"code": r.code, "basis": list(r.basis), "needs": list(r.needs), "office_only": r.office_only}
            for r in records.codes
        ],
        "incomplete_limit_days": records.incomplete_limit_days,
        "incomplete_fallback": records.incomplete_fallback,
        "incomplete_finish_by": _maybe(records.incomplete_finish_by, date.isoformat),
        "never_attended": records.never_attended,
        "pass_from": records.pass_from,
        "numbers": _maybe(records.numbers, _write_numbers),
    }


def _write_numbers(numbers: c.NumberGrades) -> Json:
    return {
        "from": exact_text(numbers.lowest),
        "to": exact_text(numbers.highest),
        "decimals": numbers.decimals,
    }


def write_settled(settled: c.Settled) -> Json:
    """One settled grade as JSON values."""
    return {
        "grade": settled.grade,
        "reason": settled.reason,
        "last_attended": _maybe(settled.last_attended, date.isoformat),
        "fallback_grade": settled.fallback_grade,
        "finish_by": _maybe(settled.finish_by, date.isoformat),
        "never_attended": settled.never_attended,
        "owed": settled.owed,
    }


def write_adjustment(adjustment: c.Adjustment) -> Json:
    """One student's adjustment as JSON values."""
    return {"percent": exact_text(adjustment.percent), "reason": adjustment.reason or None}


def write_course(course: c.Course) -> Json:
    """The whole course file as JSON values."""
    term = course.term
    return {
        "format": COURSE_FORMAT,
        "term": {"name": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()},
        "section": vars(course.section).copy(),
        "plan": write_plan(course.plan),
        "students": [vars(student).copy() for student in course.students],
        "scores": {
            student: {item: write_cell(cell) for item, cell in cells.items() if cell is not None}
            for student, cells in course.scores.items()
        },
        "syllabus": course.syllabus,
        "records": _maybe(course.records, write_records),
        "settled": {student: write_settled(s) for student, s in course.settled.items()},
        "midterm": {student: write_settled(s) for student, s in course.midterm.items()},
        "adjustments": {student: write_adjustment(one) for student, one in course.adjustments.items()},
        **_write_extensions(course),
    }


def _write_extensions(course: c.Course) -> Json:
    """Due dates of single students; the key is left out where there are none."""
    found: Json = {}
    for (student, item), due in course.extensions.items():
        found.setdefault(student, {})[item] = due.isoformat()
    return {"extensions": found} if found else {}
