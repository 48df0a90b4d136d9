"""Categories from tables, lists and short lines."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.row_reading import RowReading
from vinemark.core.syllabus.read.rows import entries
from vinemark.core.syllabus.read.tables import tables_of


def read(text: str) -> list[RowReading]:
    page = Page(f"Grading\n\n{text}")
    return entries(page, tables_of(page))


@pytest.mark.parametrize(
    ("line", "name", "weight", "count"),
    [
        ("Homework: 30%", "Homework", 30, None),
        ("- Exams (3)  45%", "Exams", 45, 3),
        ("* 25% field notebook", "Field notebook", 25, None),
        ("Quizzes ........ 12.5 %", "Quizzes", Fraction(25, 2), None),
        ("Shop work (30 hours) ..... 20%", "Shop work", 20, None),
        ("- Exams I, II and III, 15% each", "Exams", 15, 3),
        ("2. Papers. Two papers of five pages. Each paper is worth 25% of your grade.", "Papers", 25, 2),
        ("- Simulation (group grade 10%, reflection 5%)", "Simulation", 15, None),
    ],
)
def test_a_short_line(line: str, name: str, weight: Fraction, count: int | None) -> None:
    (row,) = read(line)
    assert (row.name, row.weight, row.count) == (name, weight, count)


def test_columns_by_their_headings() -> None:
    heads = "| Component | Number | Points each | Total |\n|---|---|---|---|\n"
    table = heads + "| Labs | 8 | 25 | 200 |\n| Exams | 2 | 100 | 200 |"
    rows = read(table)
    assert [(r.name, r.count, r.points_each) for r in rows][:2] == [("Labs", 8, 25), ("Exams", 2, 100)]


def test_a_late_penalty_is_no_category() -> None:
    assert [r.name for r in read("Homework: 30%\nLate work loses 10% per day.")] == ["Homework"]


def test_two_works_in_one_row_and_what_one_is_about() -> None:
    assert [(row.name, row.weight) for row in read("- Midterm and final exams (15% and 25%)")] == [
        ("Midterm", 15), ("Final exam", 25),
    ]  # fmt: skip
    kinds = "- Species test: 40 plants, 20 birds (15%)\n- Labs: ten labs, 20 points each"
    assert [row.count for row in read(kinds)] == [None, 10]


def test_a_range_of_items_is_counted() -> None:
    assert [(row.name, row.count) for row in read("Quizzes 5-8: 10%\nWeeks 1-4: 20%\nQuiz 4: 5%")] == [
        ("Quizzes 5-8", 4), ("Quiz 4", None),
    ]  # fmt: skip


def test_a_rule_for_what_is_late_is_no_row() -> None:
    page = Page("Grading\n\nProfile: 40 points\nStory: 60 points\nA story that is late by a day starts at 90 percent\n")
    assert [row.name for row in entries(page, tables_of(page))] == ["Profile", "Story"]
