"""Rows of a file as students of a section."""

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.bring.people import ADD, LEAVE, brought_people, new_students
from vinemark.core.course.course import Student
from vinemark.core.table.people import TableStatus, TableStudent

HERE = [Student("L1", "Ode", "Marit", "ode@x.example"), Student("no-id-1", "Pell", "Jonas"), Student("L3", "Li", "Bo")]


def row(number: int, name: str, student_id: str | None = None, status: TableStatus = "enrolled") -> TableStudent:
    given, _, family = name.rpartition(" ")
    email = "ode@x.example" if name == "By Email" else None
    return TableStudent(number, student_id, family, given, email, status)


def test_an_empty_class_takes_everybody_and_gives_numbers_that_stand_in() -> None:
    found = brought_people([row(2, "Marit Ode", "7"), row(3, "Jonas Pell"), row(4, "Ana Quist", None, "withdrawn")], ())
    assert [(s.id, s.set_aside) for s in found.new] == [("7", None), ("no-id-1", None), ("no-id-2", "withdrawn")]
    assert found.of_row == {2: "7", 3: "no-id-1", 4: "no-id-2"}


def test_a_row_is_found_by_number_address_or_whole_name() -> None:
    rows = [row(2, "Somebody Else", "L3"), row(3, "By Email"), row(4, "Jonas Pell", "L2"), row(5, "No One")]
    found = brought_people(rows, HERE)
    assert found.of_row == {2: "L3", 3: "L1", 4: "no-id-1"}
    assert [one.row for one in found.strangers] == [5]
    assert found.ids == {"no-id-1": "L2"}


def test_a_name_is_no_proof_against_another_number_nor_twice() -> None:
    assert [r.row for r in brought_people([row(2, "Bo Li", "L9")], HERE).strangers] == [2]
    twice = brought_people([row(2, "Bo Li"), row(3, "Bo Li")], HERE)
    assert (twice.of_row, [r.row for r in twice.strangers]) == ({2: "L3"}, [3])


def test_what_a_person_says_goes_before() -> None:
    said = brought_people([row(2, "Bo Li"), row(3, "No One"), row(4, "Any Body")], HERE, {2: LEAVE, 3: ADD, 4: "L1"})
    assert (said.of_row, [s.id for s in said.new]) == ({3: "no-id-2", 4: "L1"}, ["no-id-2"])
    assert [r.row for r in said.strangers] == [2]


def test_a_number_that_two_rows_have_is_refused_with_both() -> None:
    with pytest.raises(Refused, match="row 5: the ID 7 is in row 2 already"):
        brought_people([row(2, "Marit Ode", "7"), row(5, "Jonas Pell", "7")], ())


def test_numbers_that_stand_in_go_on_where_others_ended() -> None:
    assert [s.id for s in new_students([row(2, "A B"), row(3, "C D")], ["no-id-4", "L1"])] == ["no-id-5", "no-id-6"]
