"""Which row is what."""

import pytest

from tests.core.table.grids import SMALL, grid_of, lines_of
from vinemark.core.table.lines import find_heading, people_columns

LONG = """Larkmoor College,,,,
GEOL 101-02 Fall 2026,,,,
,,Labs,,
ID,Name,Lab 1,Lab 2,Total
,Points possible,10,20,30
,Weight,40,60,
,Due,9/14,9/21,
Section 1,,,,
1001,"Ode, Marit",9,18,27
1002,"Quist, Jon",7,12,19
ID,Name,Lab 1,Lab 2,Total
Withdrawn,,,,
1003,"Ray, Sol",10,,10
,"Student, Test",1,1,2
,,,,
,Average,8.7,15,
,Std Dev,1.2,3,
Blank means not handed in,,,,
"""


def test_every_row_that_is_no_student_has_a_kind() -> None:
    lines = lines_of(grid_of(LONG))
    assert lines.kinds == {
        1: "title", 2: "title", 3: "group", 4: "heading", 5: "points", 6: "weight", 7: "date", 8: "title",
        11: "heading", 12: "title", 14: "other", 16: "figures", 17: "figures", 18: "note",
    }  # fmt: skip
    assert lines.students == [9, 10, 13]


def test_students_stand_under_the_line_before_them() -> None:
    lines = lines_of(grid_of(LONG))
    assert lines.under == {9: "Section 1", 10: "Section 1", 13: "Withdrawn"}
    assert lines.of("title") == [1, 2, 8, 12]


def test_a_table_that_starts_with_its_headings() -> None:
    lines = lines_of(grid_of(SMALL))
    assert (lines.heading, lines.of("points"), lines.students) == (1, [2], [3, 4, 5])


@pytest.mark.parametrize("text", ["", "1,2,3\n4,5,6\n", "A note\nAnother\n", "Red,Green\nblue,yellow\n"])
def test_what_is_no_table_of_people_has_no_headings(text: str) -> None:
    assert find_heading(grid_of(text)) is None


def test_where_people_stand() -> None:
    grid = grid_of("Student No.,Last,First,E-mail,Essay\n1,Ode,Marit,m@x.example,9\n")
    assert people_columns(grid, 1) == {"id": 0, "family": 1, "given": 2, "email": 3}


def test_two_rows_of_headings() -> None:
    grid = grid_of("Student,Student,Lab,Lab,Final\nName,ID,one,two,exam\nOde,1,9,8,77\nQuist,2,7,7,70\n")
    lines = lines_of(grid)
    assert (lines.second, lines.heading, lines.students) == (1, 2, [3, 4])


def test_a_student_known_only_by_an_id() -> None:
    lines = lines_of(grid_of("ID,Name,Lab 1,Lab 2\n1001,,9,18\n1002,,7,12\n"))
    assert lines.students == [2, 3]


def test_scores_such_as_9_10_are_no_days_and_a_name_such_as_low_is_no_figure() -> None:
    assert lines_of(grid_of("Name,Quiz,Skit\nOde,9/10,9/10\nQuist,7/10,8/10\n")).students == [2, 3]
    assert lines_of(grid_of("ID,Name,Quiz,Skit\n41,Low,9,9\n42,Ode,7,8\n,Low,7,8\n")).students == [2, 3]


def test_headings_under_wide_ones() -> None:
    text = "Student,Labs,,Essay\n,L1,L2,\nmax,10,10,50\nOde,9,8,40\nQuist,7,7,30\n"
    lines = lines_of(grid_of(text))
    assert (lines.heading, lines.below, lines.students) == (1, 2, [4, 5])
    assert (lines.kinds[1], lines.kinds[2], lines.kinds[3]) == ("group", "heading", "points")


@pytest.mark.parametrize("row", ["out of 10,out of 20", "/10,/20", "(max 10),(max 20)", "10,out of 20 pts"])
def test_a_row_of_points_in_words(row: str) -> None:
    assert lines_of(grid_of(f"Name,Lab 1,Lab 2\n,{row}\nOde,9,8\nQuist,7,7\n")).kinds[2] == "points"


@pytest.mark.parametrize(("row", "kind"), [("20%,80%", "weight"), ("20%,30%", "title"), ("20%,", "title")])
def test_percents_over_the_headings_are_weights_where_they_make_a_whole(row: str, kind: str) -> None:
    assert lines_of(grid_of(f",{row}\nName,Logs,Exam\nOde,9,8\nQuist,7,7\n")).kinds[1] == kind


def test_points_under_the_students() -> None:
    lines = lines_of(grid_of("Name,Logs,Exam\nOde,9,8\nQuist,7,7\n(20 possible),10,10\n"))
    assert (lines.students, lines.of("points")) == ([2, 3], [4])


def test_headings_as_programs_write_them() -> None:
    assert lines_of(grid_of("student_id,student_name,a1\n7,Ode,9\n")).students == [2]
    assert lines_of(grid_of("Name,a1\nPoints →,10\nOde,9\n")).students == [3]
