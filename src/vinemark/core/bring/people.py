"""Rows of a file as students: those of the section they are, and new ones."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.base.names import folded
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.course.stand_in import is_stand_in, stand_ins
from vinemark.core.table.people import TableStudent

ROWS_SAID = 8
ADD, LEAVE = "add", "leave"
RowChoices = Mapping[int, str]
"""What a person says of rows: 'add', 'leave' or the id of a student."""


@dataclass(frozen=True)
class BroughtPeople:
    """Whose each row is, by row; the students who are new; rows that are nobody's so far; numbers newly known."""

    of_row: Mapping[int, str]
    new: Sequence[Student]
    strangers: Sequence[TableStudent]
    ids: Mapping[str, str]


def brought_people(
    rows: Sequence[TableStudent], there: Sequence[Student], choices: RowChoices | None = None
) -> BroughtPeople:
    """Each row by id, email address or whole name; one that fits nobody is added where the class is empty, or is said
    to be new. Raises Refused for a number that two rows have."""
    _refuse_repeated(rows)
    index = _Index(there)
    choices = choices or {}
    of_row: dict[int, str] = {}
    coming: list[TableStudent] = []
    strangers: list[TableStudent] = []
    for row in rows:
        said = choices.get(row.row, "")
        found = said if said in index.ids else "" if said in {ADD, LEAVE} else index.find(row, set(of_row.values()))
        if found:
            of_row[row.row] = found
        elif said == ADD or (not there and said != LEAVE):
            coming.append(row)
        else:
            strangers.append(row)
    new = new_students(coming, [student.id for student in there])
    of_row |= {row.row: student.id for row, student in zip(coming, new, strict=True)}
    return BroughtPeople(of_row, new, strangers, _ids(rows, of_row, there))


def new_students(rows: Sequence[TableStudent], taken: Iterable[str]) -> list[Student]:
    """Rows as students of their own; one without a number gets one that stands in for it."""
    used = {*taken, *(row.id for row in rows if row.id)}
    numbers = iter(stand_ins(sum(row.id is None for row in rows), used))
    return [Student(row.id or next(numbers), row.family_name, row.given_name, row.email, _aside(row)) for row in rows]


def _aside(row: TableStudent) -> str | None:
    return None if row.status == "enrolled" else row.status


def _refuse_repeated(rows: Sequence[TableStudent]) -> None:
    seen: dict[str, int] = {}
    wrong = [
        f"row {row.row}: the ID {row.id} is in row {first} already"
        for row in rows
        if row.id and (first := seen.setdefault(row.id, row.row)) != row.row
    ]
    if wrong:
        raise Refused("file", "; ".join(wrong[:ROWS_SAID]))


def _ids(rows: Sequence[TableStudent], of_row: Mapping[int, str], there: Sequence[Student]) -> dict[str, str]:
    """Numbers that the file knows for students who had none."""
    here = {student.id for student in there}
    return {
        of_row[row.row]: row.id
        for row in rows
        if row.id and row.row in of_row and is_stand_in(of_row[row.row]) and row.id not in here
    }


class _Index:
    """The students by everything that names one of them alone."""

    def __init__(self, students: Sequence[Student]) -> None:
        self.ids = {student.id for student in students}
        self._emails = _only((student.email or "").casefold() for student in students)
        self._by_email = {(s.email or "").casefold(): s.id for s in students}
        names = [(folded(s.plain_name), s.id) for s in students]
        self._names = _only(name for name, _ in names)
        self._by_name = dict(names)

    def find(self, row: TableStudent, taken: set[str]) -> str:
        """The student whose row this is; '' where nothing says so for sure."""
        if row.id and row.id in self.ids:
            return row.id
        email, name = (row.email or "").casefold(), folded(f"{row.given_name} {row.family_name}")
        if email in self._emails and self._by_email[email] not in taken:
            return self._by_email[email]
        if name not in self._names:
            return ""
        found = self._by_name[name]
        # A name alone is no proof where both sides have numbers and they differ.
        return found if found not in taken and (not row.id or is_stand_in(found)) else ""


def _only(values: Iterable[str]) -> set[str]:
    """Values that stand there once."""
    found = list(values)
    return {value for value in found if value and found.count(value) == 1}
