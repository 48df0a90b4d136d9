"""Checks of whole rows of the sheet: one that is no person, one filled across, one that begins with zeros."""

import re
from collections.abc import Collection, Iterator, Sequence
from fractions import Fraction
from typing import Final

import numpy as np

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.names import plain
from vinemark.core.base.number import trimmed
from vinemark.core.course.course import Student
from vinemark.core.grade.class_columns import Ints
from vinemark.core.plan.plan import HUNDRED

FILLED, FILLED_ONCE, KINDS_OF_POINTS = 8, 4, 2
FIRST_ZEROS, LATER_SCORES = 3, 5
NO_PERSON: Final = re.compile(
    r"(?:class |course )?(?:average|mean|median|max(?:imum)?|min(?:imum)?|highest|lowest|total|sum|count|std(?:ev)?"
    r"|standard deviation)s?|(?:points|marks)(?: possible)?|possible(?: points)?|max(?:imum)? points|out of"
    r"|(?:test|demo|sample|dummy) student|student,? (?:test|demo)|answer key|test test"
)


def row_no_person(facts: Facts) -> Iterator[Found]:
    """A student of no roster whose name is that of a row of figures, or of somebody made to try things."""
    records = facts.course.records
    for student in facts.taking_part:
        on_roster = records is not None and records.entry(student.id) is not None
        family, given = plain(student.family_name), plain(student.given_name)
        names = (f"{family} {given}".strip(), f"{given} {family}".strip())
        if not on_roster and any(NO_PERSON.fullmatch(name) for name in names):
            yield Found(
                f"“{student.plain_name}” does not look like a student.",
                student=student.id,
                evidence=["A row of a spreadsheet that is no person counts in every average of the class."],
            )


def row_even(facts: Facts) -> Iterator[Found]:
    """The same part of the points on every item, eight or more of different points; or one odd number on every item of
    a category. Only where hardly anybody else has such a row."""
    table = facts.table
    points = [column.item.points for column in table.columns]
    found = [
        row
        for row in _rows_of_one(table.cells, FILLED)
        if table.cells[row].max() != table.unit
        and len({points[place] for place in np.flatnonzero(table.cells[row] >= 0)}) >= KINDS_OF_POINTS
    ]
    if len(found) * 10 <= len(table.students):
        for row in found:
            part = Fraction(HUNDRED * int(table.cells[row].max()), table.unit)
            yield _filled(table.students[row], f"{trimmed(part, 2)}% on every item")
    yield from _means(facts, found)


def _rows_of_one(cells: Ints, fewest: int) -> list[int]:
    """The rows that have one number above 0 in all cells with a number, so many or more."""
    if not cells.size:
        return []
    there = cells >= 0
    highest, lowest = cells.max(axis=1), np.where(there, cells, cells.max(initial=0)).min(axis=1)
    return [int(row) for row in np.flatnonzero((there.sum(axis=1) >= fewest) & (highest == lowest) & (highest > 0))]


def _means(facts: Facts, known: Collection[int]) -> Iterator[Found]:
    """A number such as 7.83 on four items of a category or more, where nobody else has one that is no half."""
    table = facts.table
    for category in facts.plan.categories:
        mine = [n for n, column in enumerate(table.columns) if column.category.id == category.id]
        if len(mine) < FILLED_ONCE:
            continue
        rows = [row for row in _rows_of_one(table.cells[:, mine], FILLED_ONCE) if row not in known]
        odd = [(row, number) for row in rows if (number := _odd_number(facts, row, mine)) is not None]
        if len(odd) == 1:
            ((row, number),) = odd
            yield _filled(table.students[row], f"{trimmed(number, 4)} on every item of {category.name}", category.id)


def _odd_number(facts: Facts, row: int, places: Sequence[int]) -> Fraction | None:
    """The one number that a student has on all of some items, where it is neither whole nor a half."""
    student = facts.table.students[row]
    there = {facts.number(student, facts.table.columns[place].item) for place in places} - {None}
    number = there.pop() if len(there) == 1 else None
    return number if number is not None and number.denominator > 2 else None


def _filled(student: Student, what: str, category: str | None = None) -> Found:
    return Found(
        f"{student.plain_name} has {what}.",
        student=student.id,
        category=category,
        evidence=["A row filled across, or an average typed in the place of scores?"],
    )


def zeros_first(facts: Facts) -> Iterator[Found]:
    """0 on each of the first items, three or more, and on none of five later ones or more: somebody who came late."""
    table = facts.table
    dated = [n for n, column in enumerate(table.columns) if column.regular and column.item.due is not None]
    dated.sort(key=lambda n: (table.columns[n].item.due, n))
    for row in np.flatnonzero((table.cells == 0).sum(axis=1) >= FIRST_ZEROS):
        cells = [int(cell) for cell in table.cells[row, dated] if cell >= 0]
        zeros = next((n for n, cell in enumerate(cells) if cell), len(cells))
        if zeros >= FIRST_ZEROS and len(cells) - zeros >= LATER_SCORES and all(cells[zeros:]):
            student = table.students[int(row)]
            yield Found(
                f"{student.plain_name} has 0 on the first {zeros} items and on none after them.",
                student=student.id,
                evidence=["Joined late? Then the items from before may be exempt."],
            )
