"""Rows at the ends of the students that are none, whatever they are called."""

import pytest

from tests.core.table.grids import grid_of, lines_of
from vinemark.core.table.ends import set_ends_apart
from vinemark.core.table.lines import Lines, people_columns

CLASS = "1,Ode,9,8,7.5,40\n2,Quist,7,7,6,30\n3,Ray,10,10,9,50\n4,Sam,5,6,4,22\n"


def told(text: str) -> Lines:
    grid = grid_of(text)
    lines = lines_of(grid)
    set_ends_apart(grid, lines, people_columns(grid, lines.heading))
    return lines


@pytest.mark.parametrize(
    ("row", "kind"),
    [(",As it went,7.8,7.8,6.6,35.5", "figures"), (",Best of all,10,10,9,50", "figures")],
)
def test_a_row_below_without_an_id(row: str, kind: str) -> None:
    lines = told(f"ID,Name,L1,L2,L3,Exam\n{CLASS}{row},,,\n")
    assert (lines.students, lines.kinds[6]) == ([2, 3, 4, 5], kind)


@pytest.mark.parametrize(
    ("row", "kind"),
    [(",To be had,10,10,10,50", "points"), (",P,10%,10%,10%,70%", "weight"), (",So far,7,8,6,35", "figures")],
)
def test_a_row_above_without_an_id(row: str, kind: str) -> None:
    lines = told(f"ID,Name,L1,L2,L3,Exam\n{row}\n{CLASS}")
    assert (lines.students, lines.kinds[2]) == ([3, 4, 5, 6], kind)


def test_means_are_nobody_even_where_there_are_no_ids() -> None:
    text = "\n".join(line.partition(",")[2] for line in CLASS.splitlines())
    assert told(f"Name,L1,L2,L3,Exam\n{text}\nIn all,7.75,7.75,6.63,35.5\n").students == [2, 3, 4, 5]
    assert told(f"Name,L1,L2,L3,Exam\n{text}\nUlm,8.5,7.75,6.63,35.5\n").students == [2, 3, 4, 5, 6]


def test_where_everybody_has_a_comma() -> None:
    text = "".join(f'"Ode{chr(97 + n)}, M",{n % 7 + 3},{n % 5 + 2}\n' for n in range(12))
    assert told(f"Name,L1,L2\n{text}To talk about,5,6\n").students == [*range(2, 14)]


def test_a_student_without_an_id_among_others_without_one_stays() -> None:
    some = CLASS.replace("2,Quist", ",Quist")
    assert told(f"ID,Name,L1,L2,L3,Exam\n{some},Tell,9,9,9,9\n").students == [2, 3, 4, 5, 6]


def test_a_class_of_three_is_left_alone() -> None:
    assert told("ID,Name,L1\n1,Ode,9\n2,Quist,7\n,Ray,8\n").students == [2, 3, 4]
