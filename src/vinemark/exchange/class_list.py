"""A class list in CSV, read as students."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.exchange.tables import Table, TableRow, cell_at, decode, find_columns, read_table

COLUMNS = {
    "id": ("id", "studentid", "studentnumber", "studentno", "sid", "number", "idnumber", "campusid", "personid"),
    "family": ("familyname", "lastname", "surname", "last", "family", "nachname"),
    "given": ("givenname", "firstname", "forename", "first", "given", "givennames", "preferredname"),
    "email": ("email", "emailaddress", "mail", "studentemail"),
    "name": ("name", "student", "studentname", "fullname"),
}  # fmt: skip


@dataclass(frozen=True)
class ClassList:
    """The students of a file and what was wrong with it, line by line."""

    students: Sequence[Student]
    errors: Sequence[str]


def read_class_list(data: bytes) -> ClassList:
    """Students from a file: id, family name, given name, email, under any sensible headings.

    Raises Refused for a file that is no table or lacks the columns; faults of rows are gathered.
    """
    table = read_table(decode(data))
    columns = find_columns(table.heading, COLUMNS)
    if "id" not in columns:
        raise Refused("file", f"no column is headed “id” or “student id” (found: {', '.join(table.heading)})")
    if "family" not in columns and "name" not in columns:
        raise Refused("file", f"no column is headed “family name” or “name” (found: {', '.join(table.heading)})")
    return _students(table, columns)


def _students(table: Table, columns: dict[str, int]) -> ClassList:
    students: list[Student] = []
    errors: list[str] = []
    seen: dict[str, int] = {}
    for row in table.rows:
        student = _student(row, columns)
        if not student.id or not student.family_name:
            errors.append(f"line {row.line}: {'an id' if not student.id else 'a family name'} is missing")
        elif student.id in seen:
            errors.append(f"line {row.line}: the id {student.id} is on line {seen[student.id]} already")
        else:
            seen[student.id] = row.line
            students.append(student)
    return ClassList(students, errors)


def _student(row: TableRow, columns: dict[str, int]) -> Student:
    family, given = cell_at(row, columns.get("family")), cell_at(row, columns.get("given"))
    if "family" not in columns:
        family, given = _split_name(cell_at(row, columns["name"]))
    if not family:
        family, given = given, ""
    return Student(cell_at(row, columns["id"]), family, given, cell_at(row, columns.get("email")) or None)


def _split_name(name: str) -> tuple[str, str]:
    """'Ode, Marit' or 'Marit Ode'; one word is a family name."""
    if "," in name:
        family, _, given = name.partition(",")
        return family.strip(), given.strip()
    given, _, family = name.rpartition(" ")
    return family, given
