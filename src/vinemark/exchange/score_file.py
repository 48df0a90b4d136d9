"""A file of scores: what taking it would change, cell by cell, before anything is taken."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property
from hashlib import sha256

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell, DetailedScore, scored
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.plan.rules import MOST_LATE_DAYS
from vinemark.core.scores.typed_score import read_plan_score
from vinemark.exchange import oneroster
from vinemark.exchange.score_matching import (
    LATE,
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


@dataclass(frozen=True)
class ItemTotal:
    """What a file changes of one item: so many scores are new, so many replace another."""

    item: Item
    new: int
    changed: int


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

    def totals(self, plan: Plan) -> list[ItemTotal]:
        """The changes counted by item, in the order of the plan."""
        new, changed = (Counter(one.item_id for one in changes) for changes in (self.new, self.changed))
        return [
            ItemTotal(item, new[item.id], changed[item.id])
            for item in plan.columns.values() if new[item.id] or changed[item.id]
        ]  # fmt: skip

    @property
    def unknown(self) -> list[RowMatch]:
        """Rows that are no student of the section, as far as is known."""
        return [row for row in self.rows if row.student is None and row.why == ""]

    @property
    def matched_items(self) -> list[ColumnMatch]:
        """Columns that are items."""
        return [c for c in self.columns if c.target and c.target not in PERSON and not c.late_item]

    @property
    def late_columns(self) -> dict[str, int]:
        """Where the late days of an item stand, by its id."""
        return {c.late_item: c.index for c in self.columns if c.late_item}

    @property
    def has_people(self) -> bool:
        """Whether some column says who a row is."""
        return any(c.target in {"id", "email", "name", "family"} for c in self.columns)

    @cached_property
    def digest(self) -> str:
        """Of everything that would be written: what is taken must be what was looked at."""
        lines = [f"{c.key} {cell_text(c.before)} {cell_text(c.cell)}" for c in self.changes]
        return sha256("\n".join(lines).encode()).hexdigest()


def file_changes(table: Table, course: Course, known: Matching) -> ScoreFile:
    """Hold a table against a course. Empty cells of the file change nothing."""
    found = ScoreFile(match_columns(table, course, known))
    found.rows = match_rows(table, found.columns, course, known)
    items = [(column.index, course.plan.columns[column.target]) for column in found.matched_items]
    late, scored_items = found.late_columns, {item.id for _, item in items}
    # Late days of which the file has no score go to the score that is there.
    items += [(-1, course.plan.columns[item]) for item in late if item not in scored_items]
    seen: dict[str, int] = {}
    for match in found.rows:
        if match.student is None:
            continue
        if match.student in seen:
            found.refused.append(f"line {match.row.line}: {match.says} is on line {seen[match.student]} already")
            continue
        seen[match.student] = match.row.line
        for index, item in items:
            days = cell_at(match.row, late[item.id]) if item.id in late else None
            typed = cell_at(match.row, index) if index >= 0 else ""
            _compare(FileCell(match.row, match.student, item, typed, days), course, found)
    return found


@dataclass(frozen=True)
class FileCell:
    """What a file says of one cell; `days` are its late days as they stand there, None where it has no such column."""

    row: TableRow
    student: str
    item: Item
    typed: str
    days: str | None = None


def _compare(one: FileCell, course: Course, found: ScoreFile) -> None:
    before = course.cell(one.student, one.item.id)
    try:
        cell = _cell(one, course.plan, before)
    except Refused as error:
        found.refused.append(f"line {one.row.line}, {one.item.name}: {error.reason}")
        return
    if cell is None:
        return
    if cell == before:
        found.same += 1
    else:
        change = CellChange(one.student, one.item.id, before, cell, one.row.line)
        (found.new if before is None else found.changed).append(change)


def _cell(one: FileCell, plan: Plan, before: Cell) -> Cell:
    """The cell that a file makes; None where it says nothing. A score without late days keeps those it has."""
    if one.typed.startswith("="):
        raise Refused(one.item.id, f"is a formula without a value ({one.typed[:40]})")
    cell = read_plan_score(plan, one.item, one.typed).cell if one.typed else None
    days = _late_days(one)
    if days is None:
        kept = before.late if isinstance(before, DetailedScore) and before.score is not None else 0
        return scored(cell, kept) if isinstance(cell, Fraction) else cell
    if cell is None:
        if not days:
            return None
        cell = before
    if isinstance(cell, DetailedScore):
        return replace(cell, late=days) if cell.symbol else scored(cell.score or Fraction(0), days)
    if isinstance(cell, Fraction):
        return scored(cell, days)
    if days:
        raise Refused(one.item.id, "has late days without a score")
    return cell


def _late_days(one: FileCell) -> int | None:
    """Late days as a file writes them; None where it says nothing of them."""
    if one.days is None or not one.days.strip():
        return None
    text = one.days.strip().removesuffix(".0")
    if not (text.isascii() and text.isdigit() and len(text) < 5) or int(text) > MOST_LATE_DAYS:
        raise Refused(one.item.id, f"late days must be a whole number up to {MOST_LATE_DAYS}, not “{one.days[:40]}”")
    return int(text)


def decided(columns: dict[int, str], people: dict[str, str], course: Course) -> Matching:
    """A matching as chosen in a form; what is no field, item or student of the course is left out."""
    items = course.plan.columns
    students = {student.id for student in course.students}
    return Matching(
        {i: t for i, t in columns.items() if t == "" or t in PERSON or t.removeprefix(LATE) in items},
        {says: student for says, student in people.items() if student == NOBODY or student in students},
    )


def shown(change: CellChange) -> str:
    """A change for reading: '8 → 9', 'blank → 7'."""
    return f"{cell_text(change.before) or 'blank'} → {cell_text(change.cell) or 'blank'}"
