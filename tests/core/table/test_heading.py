"""A heading taken apart: name, points, weight, day, extra credit."""

from datetime import date
from fractions import Fraction

import pytest

from vinemark.core.table.heading import SaidDay, find_day, group_of, read_heading, says_extra


@pytest.mark.parametrize(
    ("text", "name", "points"),
    [
        ("Essay (25 pts)", "Essay", 25), ("Oral [15]", "Oral", 15), ("Quiz #1 /10", "Quiz #1", 10),
        ("Research Paper: 100", "Research Paper", 100), ("Peer review - 20 points", "Peer review", 20),
        ("Midterm out of 60", "Midterm", 60), ("Discussion (10 points each): Week 1", "Discussion: Week 1", 10),
        ("Lab 3", "Lab 3", None), ("Exam 2 (Oct 7)", "Exam 2", None), ("HW2 (max. 7.5)", "HW2", Fraction("7.5")),
        ("Quiz 10", "Quiz 10", None), ("(20)", "(20)", None),
    ],
)  # fmt: skip
def test_points_are_no_part_of_the_name(text: str, name: str, points: Fraction | int | None) -> None:
    heading = read_heading(text)
    assert (heading.name, heading.points) == (name, points)


@pytest.mark.parametrize(
    ("text", "name", "weight"),
    [
        ("Homework (20%)", "Homework", 20), ("Tests, 50% of grade", "Tests", 50), ("Paper 12.5%", "Paper", "12.5"),
        ("Final (30 percent of the course grade)", "Final", 30), ("Labs", "Labs", None),
    ],
)  # fmt: skip
def test_a_weight_is_no_part_of_the_name(text: str, name: str, weight: int | str | None) -> None:
    wanted = None if weight is None else Fraction(weight)
    assert group_of(text) == (name, wanted)
    assert (read_heading(text).name, read_heading(text).weight) == (name, wanted)


def test_weight_and_points_beside_one_another() -> None:
    heading = read_heading("Final Project (30%) out of 200")
    assert (heading.name, heading.weight, heading.points) == ("Final Project", 30, 200)


@pytest.mark.parametrize("text", ["Bonus", "Poster (EC)", "Extra credit: map", "Museum trip [extra-credit]"])
def test_extra_credit(text: str) -> None:
    assert says_extra(text)
    assert read_heading(text).extra


def test_what_only_holds_the_letters_is_no_extra_credit() -> None:
    assert not read_heading("Lecture 3").extra
    assert not read_heading("Specimen record").extra


@pytest.mark.parametrize(
    ("text", "name", "day"),
    [
        ("Lab 1 (9/14)", "Lab 1", SaidDay(9, 14)), ("Lab 1, due 9/14/26", "Lab 1", SaidDay(9, 14, 2026)),
        ("Lab 1 (Sept. 14, 2026)", "Lab 1", SaidDay(9, 14, 2026)), ("Lab 1 2026-09-14", "Lab 1", SaidDay(9, 14, 2026)),
        ("2026-09-14", "2026-09-14", SaidDay(9, 14, 2026)), ("Lab 9/14", "Lab 9/14", None),
    ],
)  # fmt: skip
def test_a_day_is_no_part_of_the_name(text: str, name: str, day: SaidDay | None) -> None:
    heading = read_heading(text)
    assert (heading.name, heading.day) == (name, day)


def test_days_before_months() -> None:
    assert find_day("(9/14)")[1] == SaidDay(9, 14)
    assert find_day("(14/9)")[1] is None
    assert find_day("(14/9)", day_first=True)[1] == SaidDay(9, 14)


def test_a_day_that_is_in_no_calendar() -> None:
    assert SaidDay(2, 30).in_year(2026) is None
    assert SaidDay(2, 29).in_year(2028) == date(2028, 2, 29)
    assert SaidDay(9, 14, 2025).in_year(2026) == date(2025, 9, 14)


def test_percents_are_said_and_nothing_is_left_in_brackets() -> None:
    assert (read_heading("Quiz 1 (%)").name, read_heading("Quiz 1 (%)").percent) == ("Quiz 1", True)
    assert read_heading("Exam 2 (50 pts) (Oct 7)").name == "Exam 2"
    assert read_heading("Journal (pts)").name == "Journal"
