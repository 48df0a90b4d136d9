"""A whole table."""

from datetime import date
from fractions import Fraction

import pytest

from tests.core.table.grids import SMALL, grid_of, reading_of
from vinemark.core.base.refused import Refused
from vinemark.core.table.grid import Grid, text_cell
from vinemark.core.table.read import TableColumn, read_grid, read_grids


def works(text: str) -> list[TableColumn]:
    return [one for one in reading_of(text).columns if one.role == "item"]


def test_a_small_table() -> None:
    reading = reading_of(SMALL)
    assert [(s.row, s.family_name) for s in reading.students] == [(3, "Ode"), (4, "Quist"), (5, "Ray")]
    assert works(SMALL) == [
        TableColumn(2, "item", "Lab 1", Fraction(10), "row"), TableColumn(3, "item", "Lab 2", Fraction(20), "row"),
    ]  # fmt: skip
    assert {row: {c: cell.number for c, cell in cells.items()} for row, cells in reading.cells.items()} == {
        3: {2: 9, 3: 18}, 4: {2: 7}, 5: {2: 10, 3: 20},
    }  # fmt: skip
    assert reading.left_out == [(1, "heading"), (2, "points")]
    assert reading.scores == 5


def test_points_of_a_row_go_before_those_of_the_heading() -> None:
    one, two = works("Name,Essay (25),Oral (15)\nOut of,30,\nOde,20,10\nQuist,21,11\n")
    assert (one.points, one.points_from) == (30, "row")
    assert (two.points, two.points_from) == (15, "heading")


def test_points_that_every_cell_says() -> None:
    one, two = works("Name,Quiz,Skit\nOde,9/10,9/10\nQuist,7/10,8/12\nRay,EX,3/10\n")
    assert (one.points, one.points_from, two.points) == (10, "heading", None)
    cells = reading_of("Name,Quiz,Lab\nOde,9/10,1\nQuist,7/10,2\nRay,missing,3\n").cells
    assert [cells[row][2].number for row in (2, 3)] == [9, 7]
    assert cells[4][2].text == "missing"


def test_words_in_cells_are_kept_as_they_are() -> None:
    cells = reading_of("Name,Quiz,Lab\nOde,9,see me\nQuist,Excused,7\nRay,-,8\nSam,m,8\n").cells
    assert cells[2][3].text == "see me"
    assert cells[3][2].text == "exempt"
    assert 2 not in cells[4]
    assert cells[5][2].text == "missing"


def test_weights_as_parts_of_one_are_percents() -> None:
    assert [one.weight for one in works("Name,Logs,Paper\nWeight,0.25,0.75\nOde,9,8\nQuist,7,7\n")] == [25, 75]
    assert [one.weight for one in works("Name,Logs,Paper\nWeight,25%,75%\nOde,9,8\nQuist,7,7\n")] == [25, 75]
    assert [one.weight for one in works("Name,Logs,Paper\nWeight,0.5,1\nOde,9,8\nQuist,7,7\n")] == [Fraction("0.5"), 1]


def test_days_without_a_year_stand_near_those_with_one() -> None:
    text = "Name,Lab 1,Lab 2,Lab 3\nDue,2026-12-14,12/28,1/11\nOde,9,8,1\nQuist,7,7,2\n"
    assert [one.due for one in works(text)] == [date(2026, 12, 14), date(2026, 12, 28), date(2027, 1, 11)]


def test_the_title_says_the_year() -> None:
    text = "GEOL 101 Fall 2026,,,\nName,Lab 1,Lab 2,Lab 3\nDue,9/14,9/21,\nOde,9,8,1\nQuist,7,7,2\n"
    assert [one.due for one in works(text)] == [date(2026, 9, 14), date(2026, 9, 21), None]


def test_a_day_over_twelve_turns_the_row_to_days_before_months() -> None:
    text = "Name,Lab 1,Lab 2,x\nDue,14/9/2026,5/10/2026,\nOde,9,8,1\nQuist,7,7,2\n"
    assert [one.due for one in works(text)][:2] == [date(2026, 9, 14), date(2026, 10, 5)]


def test_groups_reach_to_the_next_one() -> None:
    text = ",,Labs (40%),,Exams (60%),\nID,Name,Lab 1,Lab 2,Exam 1,Exam 2\n1,Ode,9,8,80,70\n2,Quist,7,7,60,50\n"
    assert [one.group for one in works(text)] == ["Labs", "Labs", "Exams", "Exams"]
    assert reading_of(text).groups == [("Labs", Fraction(40)), ("Exams", Fraction(60))]


def test_a_merged_cell_reaches_as_far_as_it_is_wide() -> None:
    plain = grid_of(",,Labs,,,\nID,Name,Lab 1,Lab 2,Essay,Total\n1,Ode,9,8,80,97\n2,Quist,7,7,60,74\n")
    reading = read_grid(Grid("Grades", plain.rows, {(1, 2): 2}))
    assert reading is not None
    assert [one.group for one in reading.columns if one.role == "item"] == ["Labs", "Labs", None]


def test_a_group_of_extra_credit() -> None:
    text = ",,Labs,,Extra credit,\nID,Name,Lab 1,Lab 2,Museum,Talk\n1,Ode,9,8,3,1\n2,Quist,7,7,2,2\n"
    assert [one.extra for one in works(text)] == [False, False, True, True]


@pytest.mark.parametrize(
    ("heading", "cells", "unit"),
    [
        ("Total", "38 74", "points"), ("Final %", "38 74", "percent"), ("Overall", "38 74", "percent"),
        ("Course average", "138 174", "percent"), ("Overall", "238 274", "points"), ("Overall", "38% 74%", "percent"),
    ],
)  # fmt: skip
def test_the_unit_of_a_figure(heading: str, cells: str, unit: str) -> None:
    one, two = cells.split()
    reading = reading_of(f"Name,Lab 1,Lab 2,{heading}\nOde,9,8,{one}\nQuist,7,7,{two}\n")
    assert reading.columns[-1].unit == unit


def test_values_of_columns_that_are_no_work() -> None:
    text = "Name,Section,Lab 1,Lab 2,Total,Comments\nOde,01,9,8,17,\nQuist,02,7,7,14,late in week two\n"
    assert reading_of(text).values == {
        2: {2: "01", 5: "17"}, 3: {2: "02", 5: "14", 6: "late in week two"},
    }  # fmt: skip


def test_the_sheet_with_most_scores_that_is_not_hidden() -> None:
    shown, other = grid_of(SMALL), grid_of("Name,Lab 1\nOde,9\nQuist,8\n")
    more = grid_of(SMALL + '"Sam, Tia",9,9\n')
    sheets = [
        Grid("Old", other.rows), Grid("Grades", shown.rows), Grid("Draft", more.rows, hidden=True),
        Grid("Notes", {1: [text_cell("Nothing here")]}),
    ]  # fmt: skip
    assert read_grids(sheets).sheet == "Grades"
    assert read_grids([Grid("Draft", more.rows, hidden=True)]).sheet == "Draft"


def test_what_holds_no_students_is_refused() -> None:
    with pytest.raises(Refused, match="no students"):
        read_grids([grid_of("Red,Green\nblue,yellow\n"), grid_of("Name,Lab 1,Lab 2\n")])


def test_headings_that_are_said_several_times_are_counted_by_the_row_under_them() -> None:
    text = "ID,Student,HW,HW,Quiz,Quiz\n,,1,2,1,2\nPoints,,10,10,20,20\n1,Ana Ode,9,10,18,17\n2,Bo Pell,8,7,15,19\n"
    assert [(one.name, one.points) for one in works(text)] == [
        ("HW 1", 10), ("HW 2", 10), ("Quiz 1", 20), ("Quiz 2", 20)
    ]  # fmt: skip
    assert reading_of(text).left_out == [(1, "heading"), (2, "heading"), (3, "points")]


def test_names_may_stand_under_no_heading() -> None:
    text = "Ceramics II,,,\n,,Bowl,Vase\n,,/10,/20\nOde,Ana,8,19\nPell,Bo,7,18\nDropped,,,\nRask,Cy,3,\n"
    reading = reading_of(text)
    assert [(s.family_name, s.given_name, s.status) for s in reading.students] == [
        ("Ode", "Ana", "enrolled"), ("Pell", "Bo", "enrolled"), ("Rask", "Cy", "withdrawn")
    ]  # fmt: skip
    assert [(one.name, one.points) for one in works(text)] == [("Bowl", 10), ("Vase", 20)]


def test_the_highest_scores_under_the_students_are_no_points() -> None:
    text = "Name,Test A,Test B\n,50,75\nOde,44,60\nPell,50,75\nRask,39,71\nmax,50,75\nmin,39,60\n"
    assert reading_of(text).left_out == [(1, "heading"), (2, "points"), (6, "figures"), (7, "figures")]


def test_two_title_lines_over_one_another_are_no_group() -> None:
    text = ",BIOL 101 Lab,,\n,Exported 12/10/2026,,\nStudent,SIS,Lab 1,Lab 2\nAna Ode,A1,9,8\nBo Pell,A2,7,6\n"
    reading = reading_of(text)
    assert reading.left_out == [(1, "title"), (2, "title"), (3, "heading")]
    assert [one.group for one in works(text)] == [None, None]


def test_who_was_there_and_what_was_used_up_is_no_work() -> None:
    text = "Name,Wk1,Wk2,Wk3,Total absences,Late passes used,Log,Standing,Note\n" \
        "Ode,,x,,1,0,18,Junior,B\nPell,x,x,,2,1,15,Senior,C\nRask,,,,0,2,20,Senior,A\n"  # fmt: skip
    assert [one.role for one in reading_of(text).columns] == [
        "name", "other", "other", "other", "other", "other", "item", "other", "letter"
    ]  # fmt: skip


def test_a_group_gives_the_points_of_each_of_its_items() -> None:
    one, two, three = works(",Quizzes (10 pts each),,Essays\nName,9/8,9/15,E1\nOde,8,9,40\nQuist,7,10,44\nRay,9,9,38\n")
    assert [(o.name, o.group, o.points, o.points_from) for o in (one, two, three)] == [
        ("9/8", "Quizzes", 10, "heading"), ("9/15", "Quizzes", 10, "heading"), ("E1", "Essays", None, None),
    ]  # fmt: skip


def test_a_heading_over_one_column_is_its_name_and_the_number_under_it_its_points() -> None:
    *_, final = works(",Quizzes,,Final\nName,Q1,Q2,100\nOde,8,9,87\nQuist,7,10,95\nRay,9,9,61\n")
    assert (final.name, final.group, final.points) == ("Final", None, 100)


@pytest.mark.parametrize("label", ["(max)", "max. Punkte", "(points)", "(out of)"])
def test_points_under_a_label_in_brackets(label: str) -> None:
    reading = reading_of(f"Name,ID,Lab 1\n{label},,25\nOde,71,22\nQuist,72,20\n")
    assert [s.family_name for s in reading.students] == ["Ode", "Quist"]
    assert [one.points for one in reading.columns if one.role == "item"] == [25]
