"""A table of scores as a person would read it: students, columns, what stands beside them."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from fractions import Fraction
from typing import Literal

from vinemark.core.base.names import singular
from vinemark.core.base.refused import Refused
from vinemark.core.table import words
from vinemark.core.table.columns import SCORE_OF, ReadColumn, TableRole, cells_held, points_said, read_columns
from vinemark.core.table.ends import set_ends_apart
from vinemark.core.table.figures import said_weights, with_figures
from vinemark.core.table.grid import FoundCell, Grid
from vinemark.core.table.heading import SaidDay, find_day, group_of, points_of_group, says_extra
from vinemark.core.table.lines import LineKind, Lines, find_heading, people_columns, read_lines
from vinemark.core.table.people import TableStudent, read_people

PointsFrom = Literal["row", "heading"]
SaidRoles = Mapping[int, TableRole]
"""What columns are, counted from 1, as a person says."""
NO_ROLES: SaidRoles = {}
SAMPLES = 3
PLAIN_ROLES: tuple[TableRole, ...] = ("subtotal", "total", "letter", "section", "status", "remark")


@dataclass(frozen=True)
class TableColumn:
    """A column with all that is said of it; `column` is counted from 1."""

    column: int
    role: TableRole
    name: str = ""
    points: Fraction | None = None
    points_from: PointsFrom | None = None
    group: str | None = None
    weight: Fraction | None = None
    extra: bool = False
    due: date | None = None
    unit: Literal["points", "percent"] | None = None


@dataclass
class TableReading:
    """Everything that was read of a sheet."""

    sheet: str | None
    students: Sequence[TableStudent]
    columns: Sequence[TableColumn]
    groups: Sequence[tuple[str, Fraction | None]]
    cells: Mapping[int, Mapping[int, FoundCell]]
    values: Mapping[int, Mapping[int, str]]
    left_out: Sequence[tuple[int, LineKind]]
    unsure: Sequence[tuple[int, Sequence[TableRole]]] = field(default_factory=list)
    headings: Mapping[int, str] = field(default_factory=dict)
    samples: Mapping[int, Sequence[str]] = field(default_factory=dict)
    titles: Sequence[str] = ()
    sheets: Sequence[str] = ()

    @property
    def scores(self) -> int:
        """How many entries of work there are."""
        return sum(len(row) for row in self.cells.values())


def read_grids(grids: Sequence[Grid], sheet: str = "", roles: SaidRoles = NO_ROLES) -> TableReading:
    """The sheet that holds students with most scores, a hidden one only where no other holds students.

    `sheet` names the one to be read, `roles` says what columns are, whatever they look like. Raises Refused where none
    holds students.
    """
    wanted = [grid for grid in grids if grid.name == sheet] if sheet else grids
    found = [(grid, reading) for grid in wanted if (reading := read_grid(grid, roles)) is not None and reading.students]
    if not found:
        raise Refused("file", "holds no students that could be told apart")
    _, best = max(found, key=lambda one: (not one[0].hidden, one[1].scores, len(one[1].students)))
    return replace(best, sheets=[grid.name for grid in grids if grid.name])


def read_grid(grid: Grid, roles: SaidRoles = NO_ROLES) -> TableReading | None:
    """One sheet; None where it has no headings."""
    heading = find_heading(grid)
    if heading is None:
        return None
    lines = read_lines(grid, heading)
    set_ends_apart(grid, lines, people_columns(grid, heading))
    read = [_as_said(one, roles) for one in with_figures(grid, lines, read_columns(grid, lines))]
    columns = _Details(grid, lines, read).columns()
    students = read_people(grid, lines, read)
    return TableReading(
        grid.name,
        students,
        columns,
        _groups(grid, lines, columns),
        _cells(grid, lines, columns),
        _values(grid, lines, columns),
        sorted(lines.kinds.items()),
        [
            (one.column + 1, ("item", "subtotal"))
            for one in read
            if one.column + 1 not in roles and _could_be_scores(grid, lines, one)
        ],
        headings={one.column + 1: one.text for one in read},
        samples={one.column + 1: _samples(grid, lines, one) for one in read},
        titles=[cell.text for row in lines.of("title") for _, cell in grid.filled(row)],
    )


def _could_be_scores(grid: Grid, lines: Lines, one: ReadColumn) -> bool:
    """Whether numbers that no heading names and that add up with nothing are scores as well as figures."""
    held = cells_held(grid, lines, one.column)
    numbers = [cell.number for cell in held.filled if cell.number is not None]
    running = numbers == list(range(1, len(numbers) + 1))
    return one.role == "other" and not one.text and held.numeric and 2 * len(numbers) > len(held.cells) and not running


def _as_said(one: ReadColumn, roles: SaidRoles) -> ReadColumn:
    role = roles.get(one.column + 1)
    return replace(one, role=role) if role else one


def _samples(grid: Grid, lines: Lines, one: ReadColumn) -> Sequence[str]:
    return [cell.text for cell in cells_held(grid, lines, one.column).filled[:SAMPLES]]


class _Details:
    """What rows and headings say of each column."""

    def __init__(self, grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> None:
        self.grid = grid
        self.lines = lines
        self.read = columns
        self.groups = _spread(grid, lines, columns)
        self.weights = said_weights(grid, lines)
        self.days = self._days()

    def columns(self) -> list[TableColumn]:
        """Every column with its details."""
        return [self._column(one) for one in self.read]

    def _column(self, one: ReadColumn) -> TableColumn:
        points, source = self._points(one)
        if one.role == "total":
            percent = one.heading.percent or _percent_total(
                one, cells_held(self.grid, self.lines, one.column).filled, points
            )
            return TableColumn(one.column + 1, "total", points=points, unit="percent" if percent else "points")
        if one.role != "item":
            return TableColumn(one.column + 1, one.role)
        group = self.groups.get(one.column, "")
        extra = one.heading.extra or says_extra(group)
        named = group_of(group)[0] if group else None
        day = self.days.get(one.column)
        weight = self.weights.get(one.column, one.heading.weight)
        if named and _is_number(one.text) and list(self.groups.values()).count(group) == 1:
            # A heading over one column is its name, and the number under it the points.
            points, source = (Fraction(one.text), "heading") if points is None else (points, source)
            return TableColumn(one.column + 1, "item", named, points, source, None, weight, extra, day)
        return TableColumn(one.column + 1, "item", one.heading.name, points, source, named, weight, extra, day)

    def _points(self, one: ReadColumn) -> tuple[Fraction | None, PointsFrom | None]:
        for row in self.lines.of("points"):
            cell = self.grid.cell(row, one.column)
            points = points_said(cell)
            if points is not None and not (cell.percent and one.role == "total"):
                return points, "row"
        if one.heading.points is not None:
            return one.heading.points, "heading"
        if one.role != "item":
            return None, None
        if one.heading.percent:
            return Fraction(100), "heading"
        each = points_of_group(self.groups.get(one.column, ""))
        return (each, "heading") if each is not None else self._second_numbers(one)

    def _second_numbers(self, one: ReadColumn) -> tuple[Fraction | None, PointsFrom | None]:
        """Points of cells such as '9/10' all down a column."""
        matches = [SCORE_OF.fullmatch(cell.text) for cell in cells_held(self.grid, self.lines, one.column).filled]
        seconds = {match[2] for match in matches if match}
        if len(seconds) == 1 and sum(match is not None for match in matches) > 1:
            return Fraction(seconds.pop()), "heading"
        return None, None

    def _days(self) -> dict[int, date]:
        said: dict[int, SaidDay] = {one.column: one.heading.day for one in self.read if one.heading.day}
        for row in self.lines.of("date"):
            texts = dict(self.grid.filled(row))
            first = any(_over_twelve(cell.text) for cell in texts.values())
            for column, cell in texts.items():
                day = find_day(cell.day.isoformat() if cell.day else cell.text, first)[1]
                if day is not None:
                    said[column] = day
        return _with_years(said, self._title_year())

    def _title_year(self) -> int | None:
        for row in self.lines.of("title"):
            for _, cell in self.grid.filled(row):
                for word in cell.text.replace(",", " ").split():
                    if word.isascii() and word.isdigit() and 1990 <= int(word) <= 2100:
                        return int(word)
        return None


def _is_number(text: str) -> bool:
    return text.isascii() and text.isdigit() and 0 < int(text) <= MOST_POINTS


MOST_POINTS = 2_000


def _over_twelve(text: str) -> bool:
    first = text.partition("/")[0]
    return "/" in text and first.isascii() and first.isdigit() and int(first) > 12


def _with_years(said: Mapping[int, SaidDay], title: int | None) -> dict[int, date]:
    """Days with their years: those without one get the year that brings them nearest to the others."""
    known = [d for day in said.values() if day.year and (d := day.in_year(day.year))]
    year = title if not known else None
    found: dict[int, date] = {}
    for column, day in said.items():
        if day.year or year:
            made = day.in_year(year or 0) if not day.year else day.in_year(day.year)
        elif known:
            tried = [d for y in {k.year + n for k in known for n in (-1, 0, 1)} if (d := day.in_year(y))]
            made = min(tried, key=lambda d: min(abs((d - k).days) for k in known), default=None)
        else:
            made = None
        if made is not None:
            found[column] = made
    return found


def _percent_total(one: ReadColumn, cells: Sequence[FoundCell], points: Fraction | None) -> bool:
    """Whether a figure of the course is in percent: by its words, else because no points are said and none is over."""
    text = one.text.lower()
    if "%" in text or "percent" in text:
        return True
    if points is not None:
        return False
    if any(word in text for word in ("total", "points", "pts", "sum")):
        return False
    return "av" in text or "mean" in text or all((cell.number or 0) <= 110 for cell in cells)


def _spread(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> dict[int, str]:
    """The group over each column: a merged cell covers its own columns, another one reaches to the next, or to work
    that is called otherwise than what stands under it so far."""
    found: dict[int, str] = {}
    for row in lines.of("group"):
        cells = list(grid.filled(row))
        for (column, cell), following in zip(cells, [*(c for c, _ in cells[1:]), grid.width], strict=True):
            wide = grid.spans.get((row, column))
            under = [one for one in columns if column <= one.column < (column + wide if wide else following)]
            if row == lines.heading:
                under = [one for one in under if grid.cell(lines.below or 0, one.column).text]
            for one in under if wide else _alike(under, cell.text):
                if one.role in {"item", "subtotal"}:
                    found[one.column] = cell.text
    return found


def _alike(columns: Sequence[ReadColumn], group: str) -> Sequence[ReadColumn]:
    """Columns up to the course's figure, or to one that shares no word with the group or the two before it."""
    said = _words(group)
    for count, one in enumerate(columns):
        if one.role in {"total", "letter"}:
            return columns[:count]
        mine = _words(one.text)
        if count > 1 and _words(columns[0].text) & _words(columns[1].text) and not mine & said:
            return columns[:count]
        said |= mine if count < 2 else set()
    return columns


def _words(text: str) -> set[str]:
    return {singular(word) for word in re.findall(r"[a-z]+", text.lower())}


def _groups(grid: Grid, lines: Lines, columns: Sequence[TableColumn]) -> list[tuple[str, Fraction | None]]:
    texts = [cell.text for row in lines.of("group") for _, cell in grid.filled(row)]
    used = {one.group for one in columns}
    return [group for group in dict.fromkeys(group_of(text) for text in texts) if group[0] in used]


def _cells(grid: Grid, lines: Lines, columns: Sequence[TableColumn]) -> dict[int, dict[int, FoundCell]]:
    found: dict[int, dict[int, FoundCell]] = {}
    items = [one for one in columns if one.role == "item"]
    for row in lines.students:
        entries = {one.column: _entry(grid.cell(row, one.column - 1), one) for one in items}
        kept = {column: cell for column, cell in entries.items() if not cell.blank}
        if kept:
            found[row] = kept
    return found


def _entry(cell: FoundCell, column: TableColumn) -> FoundCell:
    match = SCORE_OF.fullmatch(cell.text)
    if match and column.points is not None and Fraction(match[2]) == column.points:
        return replace(cell, number=Fraction(match[1]))
    word = cell.text.lower()
    if word in words.MISSING_WORDS:
        return FoundCell("missing")
    return FoundCell("exempt") if word in words.EXEMPT_WORDS else cell


def _values(grid: Grid, lines: Lines, columns: Sequence[TableColumn]) -> dict[int, dict[int, str]]:
    found: dict[int, dict[int, str]] = {}
    for row in lines.students:
        texts = {o.column: grid.cell(row, o.column - 1).text for o in columns if o.role in PLAIN_ROLES}
        kept = {column: text for column, text in texts.items() if text}
        if kept:
            found[row] = kept
    return found
