"""A file as it would be brought into a section: everything it changes, and its own totals held against ours."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from vinemark.core.audit.other_rules import other_rules
from vinemark.core.audit.outside_totals import (
    Comparison,
    OutsideFigure,
    by_unit,
    compare_totals,
    read_figure,
)
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused
from vinemark.core.bring.columns import NO_CHOICES, BroughtColumn, Choices, chosen_columns, first_columns
from vinemark.core.bring.draft import Drafted, Weights, drafted_plan
from vinemark.core.bring.people import BroughtPeople, RowChoices, brought_people
from vinemark.core.bring.scale_fit import fitted_scale
from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.course.tally import Place
from vinemark.core.plan.plan import HUNDRED, ScaleRow
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.core.scores.typed_score import read_plan_score
from vinemark.core.table.grid import FoundCell
from vinemark.core.table.read import TableReading


@dataclass(frozen=True)
class Bringing:
    """What a person says of a file: columns, rows, weights of new categories, other rules that explain its totals."""

    columns: Choices = field(default_factory=lambda: NO_CHOICES)
    rows: RowChoices = field(default_factory=dict)
    weights: Weights = field(default_factory=dict)
    rules: Sequence[str] = ()


@dataclass(frozen=True)
class UntakenCell:
    """A cell that is not taken, and why."""

    row: int
    who: str
    heading: str
    text: str
    reason: str
    place: Place = ("", "")


@dataclass(frozen=True)
class HeldAgainst:
    """A column of totals or letters of the file against what is worked out here."""

    column: BroughtColumn
    comparison: Comparison


@dataclass(frozen=True)
class Brought:
    """What bringing the file in would change, and the course as it would be then."""

    columns: Sequence[BroughtColumn]
    people: BroughtPeople
    drafted: Drafted
    course: Course
    cells: Sequence[CellWrite]
    same: int
    refused: Sequence[UntakenCell]
    remarks: Mapping[str, str]
    held: Sequence[HeldAgainst]
    scale_fitted: bool

    @property
    def overwritten(self) -> int:
        """How many scores that are there become others."""
        return sum(bool(one.was) for one in self.cells)

    @property
    def new_items(self) -> Sequence[BroughtColumn]:
        """The columns that become items."""
        return [one for one in self.columns if one.use == "new" and one.column in self.drafted.item_of]


def brought(reading: TableReading, course: Course, said: Bringing, as_of: date, used: Collection[str] = ()) -> Brought:
    """Everything that bringing a file in would change. `used` are ids that the plan once had.

    Raises Refused at the field of a column ('points-4'), a weight ('weight-Quizzes') or at 'file'.
    """
    plan = course.plan
    columns = chosen_columns(first_columns(reading, plan), said.columns, plan)
    people = brought_people(reading.students, course.students, said.rows)
    drafted = drafted_plan(plan, columns, dict(reading.groups), said.weights, used)
    scale = None if plan.categories else _letters_fit(reading, columns)
    if scale:
        drafted = replace(drafted, plan=replace(drafted.plan, scale=scale))
    for words in said.rules:
        plans = {rule.words: rule.plan for rule in other_rules(drafted.plan)}
        drafted = replace(drafted, plan=plans.get(words, drafted.plan))
    after = replace(course, plan=drafted.plan, students=(*course.students, *people.new))
    cells, same, refused = _cells(reading, after, columns, drafted, people)
    after = replace(after, scores=_with_scores(after, cells))
    held = [
        HeldAgainst(c, compare_totals(after, f, as_of, likeliest=1))
        for c, f in _figures(reading, columns, people, after, as_of)
    ]
    return Brought(
        columns, people, drafted, after, cells, same, refused, _remarks(reading, columns, people), held, bool(scale)
    )


def _with_scores(after: Course, cells: Sequence[CellWrite]) -> dict[str, dict[str, Cell]]:
    """All scores with those of the file among them."""
    found = {student: dict(row) for student, row in after.scores.items()}
    for one in cells:
        found.setdefault(one.student_id, {})[one.item_id] = one.cell
    return found


def _letters_fit(reading: TableReading, columns: Sequence[BroughtColumn]) -> tuple[ScaleRow, ...] | None:
    """The scale by the file's own totals and letters, where it has both."""
    totals = [one for one in columns if one.use == "total"]
    letters = next((one.column for one in columns if one.use == "letter"), None)
    if letters is None:
        return None
    for total in totals:
        whole = total.points if total.unit == "points" else HUNDRED
        pairs = [
            (figure.percent * HUNDRED / whole, values[letters].replace("−", "-").strip())
            for values in reading.values.values()
            if whole and values.get(letters)
            and (figure := read_figure(values.get(total.column, ""), ())) is not None and figure.percent is not None
        ]  # fmt: skip
        scale = fitted_scale(pairs)
        if scale:
            return scale
    return None


def _cells(
    reading: TableReading,
    after: Course,
    columns: Sequence[BroughtColumn],
    drafted: Drafted,
    people: BroughtPeople,
) -> tuple[list[CellWrite], int, list[UntakenCell]]:
    """The cells that change, how many are there already, and those that are not taken."""
    cells: list[CellWrite] = []
    refused: list[UntakenCell] = []
    same = 0
    headings = {one.column: one.heading for one in columns}
    for row, entries in reading.cells.items():
        student = people.of_row.get(row)
        if student is None:
            continue
        for column, entry in entries.items():
            item = after.plan.columns.get(drafted.item_of.get(column, ""))
            if item is None:
                continue
            now = after.cell(student, item.id)
            try:
                cell = read_plan_score(after.plan, item, _typed(entry)).cell
            except Refused as error:
                found = after.student(student)
                who = found.plain_name if found else student
                place = student, item.id
                refused.append(UntakenCell(row, who, headings.get(column, ""), entry.text, error.reason, place))
                continue
            if cell == now:
                same += 1
            else:
                cells.append(CellWrite(student, item.id, cell, cell_text(now)))
    return cells, same, refused


def _typed(entry: FoundCell) -> str:
    return exact_text(entry.number) if entry.number is not None else entry.text


def _remarks(reading: TableReading, columns: Sequence[BroughtColumn], people: BroughtPeople) -> dict[str, str]:
    places = [one.column for one in columns if one.use == "remark"]
    found: dict[str, str] = {}
    for row, values in reading.values.items():
        student = people.of_row.get(row)
        said = "; ".join(values[column] for column in places if values.get(column))
        if student and said:
            found[student] = said
    return found


def _figures(
    reading: TableReading, columns: Sequence[BroughtColumn], people: BroughtPeople, after: Course, as_of: date
) -> list[tuple[BroughtColumn, Mapping[str, OutsideFigure]]]:
    """What the file itself says of each student, by column of totals or letters."""
    letters = [row.letter for row in after.plan.scale]
    counting = after.enrolled_ids
    found = []
    for one in columns:
        if one.use not in {"total", "letter"}:
            continue
        read = {
            student: figure
            for row, values in reading.values.items()
            if (student := people.of_row.get(row)) in counting
            and student is not None
            and (figure := read_figure(values.get(one.column, ""), letters)) is not None
        }
        if read:
            found.append((one, read if one.use == "letter" else by_unit(read, after, as_of, one.unit == "points")))
    return found
