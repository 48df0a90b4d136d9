"""Departments, terms and choices as they are typed, and which sections are a department's."""

from datetime import date

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.college.college import (
    CollegeChoices,
    CollegePart,
    Department,
    choices_of,
    read_choices,
    read_department,
    read_term,
    term_of_day,
)
from vinemark.core.course.course import SectionName, Term

WATER = Department("Earth and Water", frozenset({"hydr", "soil"}))
FALL = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
SPRING = Term("Spring 2027", date(2027, 1, 18), date(2027, 5, 7))


def test_a_department_is_read() -> None:
    assert read_department("  Earth  and Water ", "hydr; SOIL, Soil") == WATER
    assert WATER.subject_words == "HYDR, SOIL"


@pytest.mark.parametrize(
    ("name", "subjects", "field"),
    [("", "HYDR", "name"), ("x" * 1000, "HYDR", "name"), ("Water", " ", "subjects"), ("Water", "HYDR 2", "subjects")],
)
def test_what_is_no_department_is_refused_at_its_field(name: str, subjects: str, field: str) -> None:
    with pytest.raises(Refused) as caught:
        read_department(name, subjects)
    assert caught.value.field == field


@pytest.mark.parametrize(
    ("course", "theirs"), [("HYDR 230", True), ("hydr-230", True), ("HYDRO 1", False), ("BOTN 105", False), ("", False)]
)
def test_a_section_is_a_departments_by_what_its_course_begins_with(course: str, theirs: bool) -> None:
    assert WATER.has(SectionName(course, "x", "01")) == theirs


def test_a_part_has_the_subjects_of_all_departments() -> None:
    other = Department("Plants", frozenset({"botn"}))
    assert CollegePart(chairs=(WATER, other)).subjects == {"hydr", "soil", "botn"}
    assert CollegePart().subjects == frozenset()


def test_a_term_is_read() -> None:
    assert read_term(" Fall  2026", "2026-08-31", "2026-12-18") == FALL
    for typed, field in ((("", "2026-08-31", "2026-12-18"), "term"), (("F", "x", "2026-12-18"), "starts"),
                         (("F", "2026-08-31", ""), "ends"), (("F", "2026-12-19", "2026-12-18"), "ends")):  # fmt: skip
        with pytest.raises(Refused) as caught:
            read_term(*typed)
        assert caught.value.field == field


def test_the_term_of_a_day_is_the_one_that_runs_the_next_or_the_last() -> None:
    terms = [SPRING, FALL]
    assert term_of_day(terms, date(2026, 10, 1)) == FALL
    assert term_of_day(terms, date(2026, 12, 30)) == SPRING
    assert term_of_day(terms, date(2030, 1, 1)) == SPRING
    assert term_of_day([], date(2030, 1, 1)) is None


def test_choices_are_read_and_what_is_kept_otherwise_is_nothing() -> None:
    assert read_choices(True, "4") == CollegeChoices(True, 4)
    assert read_choices(False, " ") == CollegeChoices()
    with pytest.raises(Refused):
        read_choices(False, "-1")
    assert choices_of({"chairs_open": True, "kept_terms": "x", "later": 1}) == CollegeChoices(True, 0)
