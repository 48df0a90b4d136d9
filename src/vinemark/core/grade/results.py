"""Grades as the results format spells them (`vine-mark-results/1`)."""

from collections.abc import Iterator
from datetime import date
from fractions import Fraction
from typing import Any, NamedTuple

from vinemark.core.base.number import exact_text, fixed, ratio_text, trimmed
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import CategoryResult, Grade, ItemResult
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import HUNDRED, Plan

RESULTS_FORMAT = "vine-mark-results/1"


def results(course: Course, as_of: date) -> dict[str, Any]:
    """Every student's grade, in the order of the file."""
    return {"format": RESULTS_FORMAT, "as_of": as_of.isoformat(), "students": list(_students(course, as_of))}


def _students(course: Course, as_of: date) -> Iterator[dict[str, Any]]:
    for student, grade in grades_of(course, as_of).items():
        yield {"id": student, **grade_values(course.plan, grade, rules_of(course))}


class Beside(NamedTuple):
    """Which rules a course has whose figures are printed beside the grade."""

    weighting: bool = False
    before: bool = False
    adjustment: bool = False
    not_met: bool = False


def rules_of(course: Course) -> Beside:
    """The rules that a course has."""
    plan = course.plan
    adjusted, required = bool(course.adjustments), bool(plan.requirements)
    return Beside(bool(plan.alternatives), bool(plan.added) or adjusted or required, adjusted, required)


def grade_values(plan: Plan, grade: Grade, beside: Beside) -> dict[str, Any]:
    """One student's grade as text values."""
    categories = [
        {**category_head(plan, result), "items": [item_values(item) for item in result.items]}
        for result in grade.categories
    ]
    return {**grade_head(plan, grade, beside), "categories": categories}


def grade_head(plan: Plan, grade: Grade, beside: Beside) -> dict[str, Any]:
    """The grade itself, without its working."""
    decimals = plan.rounding.decimals if plan.rounding else 0
    return {
        "percent": _six(grade.percent),
        "exact": None if grade.percent is None else ratio_text(grade.percent),
        "rounded": None if grade.rounded is None else fixed(grade.rounded, decimals),
        "letter": grade.letter,
        "blanks_zero": _six(grade.blanks_zero),
        "blanks_full": _six(grade.blanks_full),
        **_figures_beside(grade, beside),
    }


def _figures_beside(grade: Grade, beside: Beside) -> dict[str, Any]:
    """The figures of further rules, where the course has such rules."""
    found: dict[str, Any] = {}
    if beside.weighting:
        found["weighting"] = grade.weighting.id if grade.weighting else None
    if beside.before:
        found["before"] = _six(grade.uncapped)
    if beside.adjustment:
        found["adjustment"] = exact_text(grade.adjustment)
    if beside.not_met:
        found["letter_by_percent"] = grade.letter_by_percent
        found["not_met"] = [one.requirement.id for one in grade.not_met]
    return found


def _six(value: Fraction | None) -> str | None:
    return None if value is None else fixed(value, 6)


def category_head(plan: Plan, result: CategoryResult) -> dict[str, str | None]:
    """One category's figures, without its items."""
    percent = None if result.fraction is None else HUNDRED * result.fraction
    unrounded = {} if not result.rounds else {"unrounded": _six(hundredfold(result.unrounded))}
    return {
        "id": result.category.id,
        "percent": _six(percent),
        "exact": None if percent is None else ratio_text(percent),
        **unrounded,
        "weight": None if plan.basis == "points" or result.category.weight is None else exact_text(result.weight),
        "weight_in_force": _six(result.weight_now),
        "contributes": _six(result.contributes),
    }


def hundredfold(fraction: Fraction | None) -> Fraction | None:
    """A fraction of 1 in percent."""
    return None if fraction is None else HUNDRED * fraction


def item_values(result: ItemResult) -> dict[str, str | None]:
    """One item: its state, and what of it counts."""
    return {
        "id": result.item.id,
        "state": result.state,
        "earned": None if result.earned is None else trimmed(result.earned, 6),
        "of": None if result.size is None else trimmed(result.size, 6),
    }
