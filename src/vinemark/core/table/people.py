"""The students of a table: their names taken apart, and who has left."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vinemark.core.table import words
from vinemark.core.table.columns import ReadColumn, TableRole
from vinemark.core.table.grid import Grid
from vinemark.core.table.lines import Lines

TableStatus = Literal["enrolled", "withdrawn", "auditing"]


@dataclass(frozen=True)
class TableStudent:
    """A student of a table, with the row."""

    row: int
    id: str | None
    family_name: str
    given_name: str
    email: str | None
    status: TableStatus


def read_people(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[TableStudent]:
    """Every student, in the order of the rows."""
    place: dict[TableRole, int] = {one.role: one.column for one in reversed(columns)}
    return [_student(grid, lines, row, place) for row in lines.students]


def _student(grid: Grid, lines: Lines, row: int, place: dict[TableRole, int]) -> TableStudent:
    def text(role: TableRole) -> str:
        return grid.cell(row, place[role]).text if role in place else ""

    family, given = _names(text("name"), text("family_name"), text("given_name"))
    return TableStudent(row, text("id") or None, family, given, text("email") or None, _status(grid, lines, row, place))


def _names(whole: str, family: str, given: str) -> tuple[str, str]:
    if whole and family and not given:
        rest = f" {' '.join(whole.replace(',', ' ').split())} ".replace(f" {family} ", " ")
        return family, rest.strip()
    if family or given:
        return family or given, given if family else ""
    return split_name(whole)


def split_name(whole: str) -> tuple[str, str]:
    """Family and given name of 'Ode, Marit' or 'Marit Ode'; one word is a family name."""
    if "," in whole:
        before, _, after = whole.partition(",")
        return before.strip(), after.strip()
    parts = whole.split()
    return (parts[-1], " ".join(parts[:-1])) if parts else ("", "")


def _status(grid: Grid, lines: Lines, row: int, place: dict[TableRole, int]) -> TableStatus:
    said = [grid.cell(row, place[role]).text for role in ("status", "remark") if role in place]
    letter = grid.cell(row, place["letter"]).text if "letter" in place else ""
    struck = any(grid.cell(row, place[role]).struck for role in ("name", "family_name") if role in place)
    texts = [*said, lines.under.get(row, "")]
    if struck or letter.upper() in {"W", "WD"} or any(words.HAS_LEFT.search(text) for text in texts):
        return "withdrawn"
    if letter.upper() == "AU" or any(words.AUDITS.search(text) for text in texts):
        return "auditing"
    return "enrolled"
