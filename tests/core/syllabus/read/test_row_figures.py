"""The figures of a row: of its cells, of running words, and the whole beside its parts."""

import pytest

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.row_figures import of_those_kept, read_cell_figures, read_numerals
from vinemark.core.syllabus.read.row_reading import RowReading
from vinemark.core.syllabus.read.rows import entries
from vinemark.core.syllabus.read.tables import tables_of


def bare(name: str = "Exams") -> RowReading:
    return RowReading(name, 0, 1, 0, None, 0)  # type: ignore[arg-type]


def read(text: str) -> list[RowReading]:
    page = Page(f"Grading\n\n{text}")
    return entries(page, tables_of(page))


@pytest.mark.parametrize(
    ("line", "points", "each", "count"),
    [
        ("- Exams: three exams at 100 points each (300)", 300, 100, 3),
        ("- News reports: two, 25 points each (50)", 50, 25, 2),
        ("- Homework: 13 sets at 10 points; the best 10 count (100)", 100, 10, 13),
        ("3 exams @ 100 points (the lowest does not count) . 200", 200, 100, 3),
        ("   Pre-lab quizzes      12 x  5 =  60", 60, 5, 12),
        ("- Campaign: plan (50), materials (50), talk (50), 150 points", 150, None, None),
    ],
)
def test_the_whole_and_its_parts(line: str, points: int, each: int | None, count: int | None) -> None:
    (row,) = read(line)
    assert (row.points, row.points_each, row.count) == (points, each, count)


def test_as_many_as_the_whole_holds() -> None:
    """Arithmetic: three at 15% make 45%; 20% is no number of 15%."""
    assert [row.count for row in read("- Tests: 45% (15% each)\n- Talks: 20% (15% each)")] == [3, None]


def test_cells_by_the_roles_of_their_columns() -> None:
    made = bare()
    read_cell_figures(made, {"weight": "30%", "count": "3", "each": "50 points each"})
    assert (made.weight, made.count, made.points_each) == (30, 3, 50)
    product = bare()
    read_cell_figures(product, {"points": "200", "each": "4 x 50"})
    assert (product.points, product.count, product.points_each) == (200, 4, 50)


def test_numerals_and_what_is_left_of_a_whole() -> None:
    made = bare()
    read_numerals(made, "Exams I, II and III")
    assert (made.name, made.count) == ("Exams", 3)
    (row,) = read("- Exams: 3 at 100 points")
    assert of_those_kept(row, row.points_each) is None
    assert of_those_kept(row, 2 * (row.points_each or 0)) == 200  # type: ignore[arg-type]
