"""Scores in CSV by student id: what taking the file would change."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from vinemark.core.course import Cell, Course
from vinemark.core.course_format import Refused, write_cell
from vinemark.core.entry import read_entry
from vinemark.core.names import folded
from vinemark.core.plan import Item
from vinemark.exchange.class_list import COLUMNS
from vinemark.exchange.tables import Table, TableRow, cell_at, find_columns, read_table


@dataclass(frozen=True)
class CellChange:
    """One cell of the file that differs from what is kept."""

    student_id: str
    item_id: str
    before: Cell
    cell: Cell


@dataclass
class ScoreFile:
    """What a file would do: new and changed cells, same ones, and what cannot be taken, with its line."""

    items: list[Item] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)
    new: list[CellChange] = field(default_factory=list)
    changed: list[CellChange] = field(default_factory=list)
    same: int = 0
    refused: list[str] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)

    @property
    def changes(self) -> list[CellChange]:
        """Everything that would be written."""
        return [*self.new, *self.changed]


def read_scores(text: str, course: Course) -> ScoreFile:
    """Compare a table of scores with a course. Empty cells of the file change nothing.

    Raises Refused where the file is no table, has no id column, or no column fits an item.
    """
    table = read_table(text)
    columns = find_columns(table.heading, {"id": COLUMNS["id"]})
    if "id" not in columns:
        raise Refused("file", f"no column is headed “id” or “student id” (found: {', '.join(table.heading)})")
    found = ScoreFile()
    items = _item_columns(table, course, found)
    if not items:
        raise Refused("file", f"no heading is the name of an item (found: {', '.join(table.heading)})")
    _read_rows(table, course, columns["id"], items, found)
    return found


def _item_columns(table: Table, course: Course, found: ScoreFile) -> dict[int, Item]:
    by_name: dict[str, list[Item]] = {}
    for _, item in course.plan.items():
        by_name.setdefault(folded(item.name), []).append(item)
    known = {name for names in COLUMNS.values() for name in names}
    columns: dict[int, Item] = {}
    for place, heading in enumerate(table.heading):
        fits = by_name.get(folded(heading), [])
        if len(fits) == 1 and fits[0] not in columns.values():
            columns[place] = fits[0]
        elif folded(heading) not in known and heading:
            found.left_out.append(heading)
    found.items = list(columns.values())
    return columns


def _read_rows(table: Table, course: Course, id_column: int, items: dict[int, Item], found: ScoreFile) -> None:
    known = {student.id for student in course.students}
    seen: set[str] = set()
    for row in table.rows:
        student = cell_at(row, id_column)
        if student not in known:
            found.unknown.append(f"line {row.line}: {student or 'no id'}")
        elif student in seen:
            found.refused.append(f"line {row.line}: {student} stands in the file twice")
        else:
            seen.add(student)
            for place, item in items.items():
                _compare(row, student, item, cell_at(row, place), course, found)


def _compare(row: TableRow, student: str, item: Item, typed: str, course: Course, found: ScoreFile) -> None:
    if not typed:
        return
    try:
        cell = read_entry(typed, item).cell
    except Refused as error:
        found.refused.append(f"line {row.line}, {item.name}: {error.reason}")
        return
    before = course.cell(student, item.id)
    if cell == before:
        found.same += 1
    else:
        change = CellChange(student, item.id, before, cell)
        (found.new if before is None else found.changed).append(change)


def shown(change: CellChange) -> str:
    """A change for reading: '8 → 9', 'blank → 7'."""
    return f"{write_cell(change.before) or 'blank'} → {write_cell(change.cell) or 'blank'}"


def heading_names(items: Sequence[Item]) -> str:
    """The items of a file, for a sentence."""
    return ", ".join(item.name for item in items)
