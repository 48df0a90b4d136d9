"""Counts over a class's cells, brought forward by the cells that changed instead of counted again."""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.course.recorded import PlainCells

Rows = Mapping[str, PlainCells]
"""Cells as recorded, by student, then item."""
Place = tuple[str, str]
"""A cell, by student and item."""


@dataclass(frozen=True)
class Tally:
    """For each item how many enrolled students have a number, and anything but a blank; the students of any standing
    with a number above 0; and how many numbers there are in all. Items of `aside` are no work."""

    numbers: Mapping[str, int]
    recorded: Mapping[str, int]
    at_work: frozenset[str]
    scored: int
    aside: Collection[str] = ()

    def brought_forward(self, before: Rows, now: Rows, changed: Iterable[Place], enrolled: Collection[str]) -> "Tally":
        """The counts after some cells changed."""
        numbers, recorded, scored, at_work = dict(self.numbers), dict(self.recorded), self.scored, set(self.at_work)
        places = set(changed)
        for student, item in places:
            cells = [rows.get(student, {}).get(item) for rows in (before, now)]
            number = isinstance(cells[1], Fraction) - isinstance(cells[0], Fraction)
            scored += number
            if student in enrolled:
                numbers[item] = numbers.get(item, 0) + number
                recorded[item] = recorded.get(item, 0) + (cells[1] is not None) - (cells[0] is not None)
        for student in {student for student, _ in places}:
            at_work.discard(student)
            if _works(now.get(student, {}), self.aside):
                at_work.add(student)
        return Tally(numbers, recorded, frozenset(at_work), scored, self.aside)


def tally_of(rows: Rows, enrolled: Collection[str], aside: Collection[str] = ()) -> Tally:
    """The counts of a class; `enrolled` are the ids of those who get a grade."""
    numbers: Counter[str] = Counter()
    recorded: Counter[str] = Counter()
    scored = 0
    for student, row in rows.items():
        found = [item for item, cell in row.items() if isinstance(cell, Fraction)]
        scored += len(found)
        if student in enrolled:
            numbers.update(found)
            recorded.update([item for item, cell in row.items() if cell is not None])
    at_work = frozenset(student for student, row in rows.items() if _works(row, aside))
    return Tally(numbers, recorded, at_work, scored, aside)


def _works(row: PlainCells, aside: Collection[str]) -> bool:
    return any(isinstance(cell, Fraction) and cell > 0 and item not in aside for item, cell in row.items())
