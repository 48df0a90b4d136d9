"""Students of a table."""

import pytest

from tests.core.table.grids import reading_of
from vinemark.core.table.people import TableStudent


def student_of(heading: str, row: str) -> TableStudent:
    return reading_of(f"{heading},Lab 1,Lab 2\n{row},9,8\nBoll,7,7\n").students[0]


@pytest.mark.parametrize(
    ("heading", "row", "family", "given"),
    [
        ("Name", '"Ode, Marit"', "Ode", "Marit"), ("Name", "Marit Ode", "Ode", "Marit"),
        ("Name", "Theo van Dijk", "Dijk", "Theo van"), ("Name", '"van Dijk, Theo"', "van Dijk", "Theo"),
        ("Last,First", "Ode,Marit", "Ode", "Marit"), ("First,Last", "Marit,Ode", "Ode", "Marit"),
        ("Name", "Ode", "Ode", ""), ("Name,Last", "Marit Ode,Ode", "Ode", "Marit"),
        ("Name,Last", '"de la Cruz, Ana",de la Cruz', "de la Cruz", "Ana"),
        ("Name", '"O\'Neil-Ash, Mae Lin"', "O'Neil-Ash", "Mae Lin"),
    ],
)  # fmt: skip
def test_names(heading: str, row: str, family: str, given: str) -> None:
    student = student_of(heading, row)
    assert (student.family_name, student.given_name) == (family, given)


@pytest.mark.parametrize(
    ("heading", "said", "status"),
    [
        ("Status", "Withdrawn", "withdrawn"), ("Status", "W", "withdrawn"), ("Status", "Enrolled", "enrolled"),
        ("Status", "Auditing", "auditing"), ("Comments", "withdrew Oct 12", "withdrawn"),
        ("Comments", "dropped the lowest quiz", "enrolled"), ("Comments", "dropped the course", "withdrawn"),
    ],
)  # fmt: skip
def test_who_has_left(heading: str, said: str, status: str) -> None:
    text = f"Name,{heading},Lab 1,Lab 2\nOde,{said},9,8\nQuist,,7,7\nRay,,5,5\n"
    assert [student.status for student in reading_of(text).students] == [status, "enrolled", "enrolled"]


def test_a_letter_says_so_too() -> None:
    text = "Name,Lab 1,Lab 2,Total,Grade\nOde,9,8,17,W\nQuist,7,7,14,B\nRay,5,5,10,AU\n"
    assert [student.status for student in reading_of(text).students] == ["withdrawn", "enrolled", "auditing"]


def test_ids_keep_their_zeros() -> None:
    assert reading_of("ID,Name,Lab 1,Lab 2\n00012,Ode,9,8\n00013,Quist,7,7\n").students[0].id == "00012"
