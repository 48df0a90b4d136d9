"""What each column holds."""

from fractions import Fraction

import pytest

from tests.core.table.grids import SMALL, columns_of, grid_of, lines_of, roles_of
from vinemark.core.table.columns import SCORE_OF, Held, cells_held, points_said
from vinemark.core.table.grid import text_cell


def test_people_then_work() -> None:
    assert roles_of(SMALL) == ["name", "item", "item"]


def test_sums_are_no_work() -> None:
    text = """ID,Name,Lab 1,Lab 2,Lab total,Exam 1,Exam 2,Exam average,Course total,Grade
1,Ode,9,8,17,80,90,85,187,A
2,Quist,5,6,11,60,50,55,121,D
3,Ray,10,9,19,99,97,98,215,A
4,Sam,7,7,14,70,80,75,164,B
"""
    assert roles_of(text) == [
        "id", "name", "item", "item", "subtotal", "item", "item", "subtotal", "total", "letter",
    ]  # fmt: skip


def test_an_exam_that_no_sum_explains_is_work_whatever_its_name() -> None:
    text = "Name,Lab 1,Best poster,Exam\nOde,9,3,80\nQuist,5,9,60\nRay,10,4,99\n"
    assert roles_of(text) == ["name", "item", "item", "item"]


def test_one_figure_alone_is_the_only_work() -> None:
    assert roles_of("Name,ID,Score\nOde,1,80\nQuist,2,60\n") == ["name", "id", "item"]


@pytest.mark.parametrize(
    ("heading", "cells", "role"),
    [
        ("E-Mail", ["a@x.example", "b@x.example"], "email"), ("Contact", ["a@x.example", "b@x.example"], "email"),
        ("Status", ["Enrolled", "Withdrawn"], "status"), ("Section", ["01", "02"], "section"),
        ("Letter", ["A-", "B+"], "letter"), ("Comments", ["good work", ""], "remark"),
        ("Attendance", ["P", "A"], "other"), ("Lab quiz", ["", ""], "item"), ("Middle initial", ["J", ""], "other"),
        ("Participation", ["A", "B"], "item"), ("Oral", ["9/10", "8/10"], "item"), ("Skit", ["EX", "9"], "item"),
    ],
)  # fmt: skip
def test_what_stands_in_it(heading: str, cells: list[str], role: str) -> None:
    text = f"Name,Lab 1,{heading}\nOde,9,{cells[0]}\nQuist,7,{cells[1]}\n"
    assert roles_of(text) == ["name", "item", role]


def test_rows_that_are_counted_are_no_ids() -> None:
    assert roles_of("#,Name,Lab 1\n1,Ode,9\n2,Quist,7\n3,Ray,8\n") == ["other", "name", "item"]
    assert roles_of("No.,Name,Lab 1\n417,Ode,9\n233,Quist,7\n")[0] == "id"


def test_a_column_without_heading_that_holds_codes_is_the_id() -> None:
    assert roles_of(",Name,Lab 1\nLM-1001,Ode,9\nLM-1002,Quist,7\n")[0] == "id"


def test_of_two_ids_the_first() -> None:
    assert roles_of("ID,Name,Student number,Lab\n1,Ode,71,9\n2,Quist,72,8\n") == ["id", "name", "other", "item"]


def test_the_same_work_on_several_days() -> None:
    columns = columns_of("Name,Log 9/14,Log 9/21,Quiz /10\nOde,9,8,7\nQuist,7,7,7\n")
    days = [one.heading.day for one in columns]
    assert [day and (day.month, day.day) for day in days] == [None, (9, 14), (9, 21), None]
    assert columns[3].heading.points == 10


def test_shares_of_what_is_filled() -> None:
    held = Held([text_cell("9/10"), text_cell(""), text_cell("8"), text_cell("EX")])
    assert held.numeric
    assert held.share(SCORE_OF) == Fraction(1, 3)
    assert Held([]).share(SCORE_OF) == 0
    assert Held([text_cell("90%"), text_cell("80%"), text_cell("7")]).percents


def test_only_students_count() -> None:
    grid = grid_of(SMALL)
    assert [cell.text for cell in cells_held(grid, lines_of(grid), 2).cells] == ["18", "", "20"]


@pytest.mark.parametrize(
    ("text", "points"),
    [("20", 20), ("out of 20", 20), ("/7.5", Fraction("7.5")), ("(max. 10 pts)", 10), ("ten", None), ("", None)],
)
def test_points_in_a_row_of_them(text: str, points: Fraction | int | None) -> None:
    assert points_said(text_cell(text)) == points


def test_codes_beside_the_names_are_ids_whatever_the_heading() -> None:
    assert roles_of("Student,Reg.,Lab 1\nOde,M-201,9\nQuist,M-202,7\n") == ["name", "id", "item"]
    assert roles_of("Student,Film,Lab 1\nOde,201,9\nQuist,198,7\n")[1] == "item"


def test_the_name_of_work_under_a_wide_heading() -> None:
    columns = columns_of("Student,Labs,,Essay\n,L1,L2,\nOde,9,8,40\nQuist,7,7,30\n")
    assert [one.heading.name for one in columns] == ["Student", "L1", "L2", "Essay"]


def test_names_where_no_heading_says_so() -> None:
    text = "ID,Nom,Pr,Lab 1\n8811,Kern,Eva,11\n8812,Lutz,Jan,9\n"
    assert roles_of(text) == ["id", "family_name", "given_name", "item"]
    assert roles_of('ID,Who,Lab 1\n8811,"Kern, Eva",11\n8812,"Lutz, Jan",9\n') == ["id", "name", "item"]


def test_what_stands_beside_the_table_is_none_of_it() -> None:
    text = "Name,Lab 1,Lab 2,,A,B\nOde,9,8,,,\nQuist,7,7,,,\n"
    assert roles_of(text) == ["name", "item", "item", "other", "other"]
    assert roles_of("Name,,Lab 1,Lab 2\nOde,,9,\nQuist,,7,\n") == ["name", "item", "other"]
