"""A file of scores: what taking it would change, cell by cell, before anything is taken."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from hashlib import sha256

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Cell, Course
from vinemark.core.course.write import write_cell
from vinemark.core.plan.plan import Item
from vinemark.core.scores.typed_score import read_typed_score
from vinemark.exchange import oneroster
from vinemark.exchange.score_matching import (
    NOBODY,
    PERSON,
    ColumnMatch,
    Matching,
    RowMatch,
    match_columns,
    match_rows,
)
from vinemark.exchange.spreadsheet_file import is_spreadsheet, packed_names, read_sheets
from vinemark.exchange.tables import MAX_BYTES, Table, TableRow, cell_at, decode, read_table, table_of


@dataclass(frozen=True)
class FileTable:
    """The table of a file, its sheets by name (none for a text file), the one read, how many formulas it has."""

    table: Table
    sheets: Sequence[str] = ()
    sheet: str = ""
    formulas: int = 0


def read_file(data: bytes, sheet: str = "") -> FileTable:
    """The table in a CSV, XLSX or ODS file, of the named sheet or the first that holds something.

    Raises Refused for a file that is too large, damaged, empty, or no table.
    """
    if len(data) > MAX_BYTES:
        raise Refused("file", f"is larger than {MAX_BYTES // 1024 // 1024} MB")
    if not is_spreadsheet(data):
        return FileTable(_several_columns(read_table(decode(data))))
    if data.startswith(b"PK") and oneroster.is_oneroster(packed_names(data)):
        heading, scores = oneroster.zip_table(oneroster.read_zip(data))
        return FileTable(table_of([TableRow(line, row) for line, row in enumerate([heading, *scores], 1)]))
    found = read_sheets(data)
    chosen = next((one for one in found if one.name == sheet), found[0])
    rows = [TableRow(line, row) for line, row in enumerate(chosen.rows, 1) if any(row)]
    return FileTable(_several_columns(table_of(rows)), [one.name for one in found], chosen.name, chosen.formulas)


def _several_columns(table: Table) -> Table:
    if len(table.heading) < 2:
        raise Refused("file", "has only one column; columns are told apart by , ; | or a tab")
    return table


@dataclass(frozen=True)
class CellChange:
    """One cell of the file that differs from what is kept."""

    student_id: str
    item_id: str
    before: Cell
    cell: Cell
    line: int = 0

    @property
    def key(self) -> str:
        """The cell, for a form."""
        return f"{self.student_id} {self.item_id}"


@dataclass
class ScoreFile:
    """What a file would do: new and changed cells, same ones, and what cannot be taken, with its line."""

    columns: Sequence[ColumnMatch] = ()
    rows: Sequence[RowMatch] = ()
    new: list[CellChange] = field(default_factory=list)
    changed: list[CellChange] = field(default_factory=list)
    same: int = 0
    refused: list[str] = field(default_factory=list)

    @property
    def changes(self) -> list[CellChange]:
        """Everything that would be written."""
        return [*self.changed, *self.new]

    @property
    def unknown(self) -> list[RowMatch]:
        """Rows that are no student of the section, as far as is known."""
        return [row for row in self.rows if row.student is None and row.why == ""]

    @property
    def matched_items(self) -> list[ColumnMatch]:
        """Columns that are items."""
        return [c for c in self.columns if c.target and c.target not in PERSON]

    @property
    def has_people(self) -> bool:
        """Whether some column says who a row is."""
        return any(c.target in {"id", "email", "name", "family"} for c in self.columns)

    @cached_property
    def digest(self) -> str:
        """Of everything that would be written: what is taken must be what was looked at."""
        lines = [f"{c.key} {write_cell(c.before)} {write_cell(c.cell)}" for c in self.changes]
        return sha256("\n".join(lines).encode()).hexdigest()


def file_changes(table: Table, course: Course, known: Matching) -> ScoreFile:
    """Hold a table against a course. Empty cells of the file change nothing."""
    found = ScoreFile(match_columns(table, course, known))
    found.rows = match_rows(table, found.columns, course, known)
    items = [(column.index, course.plan.item(column.target)) for column in found.matched_items]
    seen: dict[str, int] = {}
    for match in found.rows:
        if match.student is None:
            continue
        if match.student in seen:
            found.refused.append(f"line {match.row.line}: {match.says} is on line {seen[match.student]} already")
            continue
        seen[match.student] = match.row.line
        for index, item in items:
            assert item is not None  # noqa: S101
            _compare(match.row, match.student, item, cell_at(match.row, index), course, found)
    return found


def _compare(row: TableRow, student: str, item: Item, typed: str, course: Course, found: ScoreFile) -> None:
    if not typed:
        return
    try:
        if typed.startswith("="):
            raise Refused(item.id, f"is a formula without a value ({typed[:40]})")
        cell = read_typed_score(typed, item, course.plan.scale).cell
    except Refused as error:
        found.refused.append(f"line {row.line}, {item.name}: {error.reason}")
        return
    before = course.cell(student, item.id)
    if cell == before:
        found.same += 1
    else:
        change = CellChange(student, item.id, before, cell, row.line)
        (found.new if before is None else found.changed).append(change)


def decided(columns: dict[int, str], people: dict[str, str], course: Course) -> Matching:
    """A matching as chosen in a form; what is no field, item or student of the course is left out."""
    items = {item.id for _, item in course.plan.items()}
    students = {student.id for student in course.students}
    return Matching(
        {index: target for index, target in columns.items() if target == "" or target in PERSON or target in items},
        {says: student for says, student in people.items() if student == NOBODY or student in students},
    )


def shown(change: CellChange) -> str:
    """A change for reading: '8 → 9', 'blank → 7'."""
    return f"{write_cell(change.before) or 'blank'} → {write_cell(change.cell) or 'blank'}"
