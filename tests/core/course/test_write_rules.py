"""The further rules written and read again."""

import json
from dataclasses import replace
from fractions import Fraction

from hypothesis import given, settings

from tests.core.strategies import ruled_courses, ruled_plans
from vinemark.core.base.refused import NumberText
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.write import write_plan
from vinemark.core.plan.plan import Plan
from vinemark.exchange.course_file import course_of_text, course_text


@settings(max_examples=80)
@given(ruled_plans())
def test_a_plan_comes_back(plan: Plan) -> None:
    text = json.dumps(write_plan(plan))
    assert read_plan(json.loads(text, parse_int=NumberText)) == plan


def ends_as_decimal(cell: Cell) -> bool:
    number = cell.score if isinstance(cell, DetailedScore) else cell
    return not isinstance(number, Fraction) or number.denominator != 3


@settings(max_examples=40)
@given(ruled_courses())
def test_a_course_comes_back_with_cells_and_adjustments(course: Course) -> None:
    course = replace(
        course, scores={s: {i: c for i, c in row.items() if ends_as_decimal(c)} for s, row in course.scores.items()}
    )
    found = course_of_text(course_text(course))
    assert found.plan == course.plan
    assert found.adjustments == course.adjustments
    assert found.scores == {student: row for student, row in course.scores.items() if row}
