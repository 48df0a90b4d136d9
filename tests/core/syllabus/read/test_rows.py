"""Categories from tables, lists and short lines."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.rows import RowReading, entries
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


def test_each_ones_weight_times_the_count() -> None:
    row = RowReading("Midterms", 0, 1, 0, None, 0, weight=Fraction(15), weight_each=True, count=3)  # type: ignore[arg-type]
    assert row.worth == 45
    assert RowReading("Midterms", 0, 1, 0, None, 0).worth is None  # type: ignore[arg-type]


def test_a_late_penalty_is_no_category() -> None:
    assert [r.name for r in read("Homework: 30%\nLate work loses 10% per day.")] == ["Homework"]


@pytest.mark.parametrize(
    ("line", "points", "each", "count"),
    [
        ("- Exams: three exams at 100 points each (300)", 300, 100, 3),
        ("- News reports: two, 25 points each (50)", 50, 25, 2),
        ("- Homework: 13 sets at 10 points; the best 10 count (100)", 100, 10, 13),
        ("3 exams @ 100 points (the lowest does not count) . 200", 200, 100, 3),
        ("- Campaign: plan (50), materials (50), talk (50), 150 points", 150, None, None),
    ],
)
def test_the_whole_and_its_parts(line: str, points: int, each: int | None, count: int | None) -> None:
    (row,) = read(line)
    assert (row.points, row.points_each, row.count) == (points, each, count)


def test_two_works_in_one_row_and_what_one_is_about() -> None:
    assert [(row.name, row.weight) for row in read("- Midterm and final exams (15% and 25%)")] == [
        ("Midterm", 15), ("Final exam", 25),
    ]  # fmt: skip
    kinds = "- Species test: 40 plants, 20 birds (15%)\n- Labs: ten labs, 20 points each"
    assert [row.count for row in read(kinds)] == [None, 10]
