"""The table of limits holds for every way in: one too many is refused at its place, as many as may be are taken."""

from collections.abc import Callable
from pathlib import Path

import pytest

from vinemark.core.base.limits import (
    CODE_LIMIT,
    COUNT_LIMIT,
    DIGIT_LIMIT,
    LIMITS,
    NAME_LIMIT,
    NOTE_LIMIT,
    STUDENT_LIMIT,
    TEXT_LIMIT,
    Limit,
    more_than,
)
from vinemark.core.base.refused import (
    NumberText,
    Refused,
    any_name,
    any_short_text,
    any_text,
    count,
    iso_day,
    name,
    number,
    rows,
    short_text,
    text,
)
from vinemark.core.course.read import read_course

DOCUMENT = Path(__file__).parents[3] / "docs" / "formats.md"


@pytest.mark.parametrize("limit", LIMITS, ids=lambda limit: limit.what)
def test_the_document_says_each_limit(limit: Limit) -> None:
    assert f"| {limit.most:,} | {limit.what} |" in DOCUMENT.read_text()
    assert more_than(limit) == f"must be {limit.most:,} at most ({limit.what})"


@pytest.mark.parametrize(
    ("read", "limit"),
    [
        (name, NAME_LIMIT),
        (any_name, NAME_LIMIT),
        (short_text, NOTE_LIMIT),
        (any_short_text, NOTE_LIMIT),
        (text, TEXT_LIMIT),
        (any_text, TEXT_LIMIT),
    ],
)
def test_texts(read: Callable[[object, str], object], limit: Limit) -> None:
    assert read("x" * limit.most, "place") == "x" * limit.most
    with pytest.raises(Refused, match="at most") as refused:
        read("x" * (limit.most + 1), "place")
    assert refused.value.field == "place"


def test_numbers() -> None:
    assert count(NumberText(str(COUNT_LIMIT.most)), "n") == COUNT_LIMIT.most
    assert number("9" * DIGIT_LIMIT.most, "n") == int("9" * DIGIT_LIMIT.most)
    for read, typed in ((count, str(COUNT_LIMIT.most + 1)), (count, "9" * 41), (number, "9" * (DIGIT_LIMIT.most + 1))):
        with pytest.raises(Refused):
            read(typed, "n")


@pytest.mark.parametrize("day", ["1900-01-01", "2200-12-31"])
def test_days_within_three_centuries(day: str) -> None:
    assert iso_day(day, "due").isoformat() == day


@pytest.mark.parametrize("day", ["1899-12-31", "2201-01-01", "0001-01-01", "9999-12-31"])
def test_days_that_nobody_means(day: str) -> None:
    with pytest.raises(Refused, match="1900 to 2200"):
        iso_day(day, "due")


def test_a_list_is_counted_before_it_is_read() -> None:
    def never(value: object, field: str) -> object:
        raise AssertionError("it was read")

    with pytest.raises(Refused, match="registrar"):
        rows(never, CODE_LIMIT)([{}] * (CODE_LIMIT.most + 1), "codes")


def test_students_of_a_course_file() -> None:
    students = [{"id": f"L{n}", "family_name": "Ode", "given_name": "M"} for n in range(STUDENT_LIMIT.most + 1)]
    course = {
        "format": "vine-mark-course/1",
        "term": {"name": "Fall", "starts": "2026-08-31", "ends": "2026-12-18"},
        "section": {"course": "BRYO 110", "title": "Mosses", "number": "01"},
        "plan": {"basis": "points", "categories": []},
        "students": students,
    }
    with pytest.raises(Refused) as refused:
        read_course(course)
    assert refused.value.field == "students"
    assert len(read_course({**course, "students": students[1:]}).students) == STUDENT_LIMIT.most
