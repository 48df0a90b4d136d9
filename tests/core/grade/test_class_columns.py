"""A whole class at once, against the definition worked out slowly by itself (by_the_book.py)."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings

from tests.builders import AFTER, DURING, category, course, plan
from tests.core.grade import by_the_book
from tests.core.strategies import courses, ruled_courses
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Calculator, Grade, work_out
from vinemark.core.grade.category import common_denominator
from vinemark.core.grade.class_columns import FEW, LIMIT, grades_of, together
from vinemark.core.grade.counted import counted_rows
from vinemark.core.plan.plan import Plan

pytestmark = pytest.mark.many


def by_definition(of: Course, student: str) -> tuple[Fraction | None, ...]:
    cells, plan = of.scores[student], by_the_book.plan_for(of, student)
    now = by_the_book.percent(plan, cells, DURING)
    with_blanks = [by_the_book.percent(plan, cells, DURING, blanks) for blanks in ("zero", "full")]
    return (None, None, None) if now is None else (now, *with_blanks)


@settings(max_examples=120)
@given(courses())
def test_it_agrees_with_the_definition(of: Course) -> None:
    at_once = grades_of(of, DURING)
    assert len(of.students) > FEW
    for student in of.students:
        found = at_once[student.id]
        assert (found.percent, found.blanks_zero, found.blanks_full) == by_definition(of, student.id)


@settings(max_examples=60)
@given(courses(students=2))
def test_one_student_at_a_time_agrees_with_the_definition_too(of: Course) -> None:
    for student, found in grades_of(of, DURING).items():
        assert (found.percent, found.blanks_zero, found.blanks_full) == by_definition(of, student)


@settings(max_examples=120)
@given(courses())
def test_the_working_of_the_whole_class_is_that_of_one_at_a_time(of: Course) -> None:
    for student, found in grades_of(of, DURING).items():
        alone = work_out(by_the_book.plan_for(of, student), of.scores.get(student, {}), DURING)
        for one, other in zip(found.categories, alone.categories, strict=True):
            assert (one.items, one.fraction, one.earned, one.size) == (
                other.items,
                other.fraction,
                other.earned,
                other.size,
            )
            assert (one.capped, one.weight_now, one.contributes) == (other.capped, other.weight_now, other.contributes)


@settings(max_examples=150)
@given(ruled_courses())
def test_it_agrees_with_the_definition_under_all_further_rules(of: Course) -> None:
    at_once = grades_of(of, DURING)
    for student in of.students:
        found, cells, adjustment = at_once[student.id], of.scores[student.id], of.adjustment(student.id)
        plan = by_the_book.plan_for(of, student.id)
        wanted = by_the_book.outcome(plan, cells, DURING, "plan", adjustment)
        assert figures(found) == wanted
        if wanted is None:
            assert (found.blanks_zero, found.blanks_full) == (None, None)
            continue
        for blanks, percent in (("zero", found.blanks_zero), ("full", found.blanks_full)):
            other = by_the_book.outcome(plan, cells, DURING, blanks, adjustment)
            assert percent == (other.percent if other else None)


def figures(found: Grade) -> by_the_book.Outcome | None:
    if found.percent is None or found.uncapped is None:
        return None
    return by_the_book.Outcome(
        found.uncapped, found.percent, found.rounded, found.letter_by_percent, found.letter,
        found.weighting.id if found.weighting else None, [one.requirement.id for one in found.not_met],
    )  # fmt: skip


@settings(max_examples=150)
@given(ruled_courses())
def test_the_working_under_all_further_rules_is_that_of_one_at_a_time(of: Course) -> None:
    at_once = grades_of(of, DURING)
    for student in of.students:
        found = at_once[student.id]
        plan = by_the_book.plan_for(of, student.id)
        alone = work_out(plan, of.scores.get(student.id, {}), DURING, of.adjustment(student.id))
        assert figures(found) == figures(alone)
        assert (found.blanks_zero, found.blanks_full) == (alone.blanks_zero, alone.blanks_full)
        for one, other in zip(found.categories, alone.categories, strict=True):
            assert (one.items, one.fraction, one.unrounded) == (other.items, other.fraction, other.unrounded)
            assert (one.earned, one.size, one.weight) == (other.earned, other.size, other.weight)
        if found.uncapped is not None:
            assert sum((c.contributes or 0 for c in found.categories), Fraction(0)) == found.uncapped


def class_of(of: Plan, cells: list[list[str | None]]) -> list[Grade] | None:
    made = course(of, {f"s{n}": row for n, row in enumerate(cells)})
    rows = [made.scores[s.id] for s in made.students]
    items = [item for _, item in of.items()]
    calculator = Calculator(of, AFTER, common_denominator(items, counted_rows(of, rows)))
    return together(calculator, [calculator.row(row) for row in rows])


@pytest.mark.parametrize(("points", "fits"), [("1000", True), (str(LIMIT), False), ("1/" + str(LIMIT), False)])
def test_what_could_leave_64_bits_is_left_to_the_other_way(points: str, fits: bool) -> None:
    of = plan(category("10", "10"))
    found = class_of(of, [["10", "5"], [points, "1"]])
    assert (found is not None) is fits


def test_a_class_without_items_has_no_grade_yet() -> None:
    of = plan(category(), category("10", prefix="j", weight="0"))
    assert [g.percent for g in class_of(of, [["1"], [None]]) or ()] == [None, None]


def test_ties_are_dropped_from_the_front() -> None:
    of = plan(replace(category("10", "10", "10"), drop_lowest=1))
    first = (class_of(of, [["5", "5", "9"], ["9", "5", "5"]]) or [])[0]
    states = [item.state for item in first.categories[0].items]
    assert states == ["dropped_lowest", "kept", "kept"]
