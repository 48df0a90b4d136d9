"""The results as JSON text are what json.dumps makes of the results."""

import json
from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest
from hypothesis import HealthCheck, given, settings

from tests.builders import AFTER, category, course, plan
from tests.core.strategies import courses
from vinemark.core.course.course import Course
from vinemark.core.grade.results import results
from vinemark.exchange.results_json import results_json


@settings(deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(courses())
def test_it_is_the_same_text(of: Course) -> None:
    assert results_json(of, AFTER) == json.dumps(results(of, AFTER), ensure_ascii=False)


@pytest.mark.parametrize("basis", ["weighted", "points"])
def test_names_with_signs_of_every_kind(basis: str) -> None:
    made = plan(category("10", "20"))
    odd = [replace(made.categories[0], id='c"\\é\u2028', cap=Fraction(200, 3))]
    named = replace(made, categories=tuple(odd), basis=basis)  # type: ignore[arg-type]
    of = course(named, {'a"\n': ["3", None], "b</x>": ["exempt", "missing"]})
    for day in (AFTER, date(2026, 9, 1)):
        assert results_json(of, day) == json.dumps(results(of, day), ensure_ascii=False)


def test_a_section_without_students_or_categories() -> None:
    empty = course(plan(), {})
    assert json.loads(results_json(empty, AFTER)) == results(empty, AFTER)
