"""Scores: one cell, or many in one act."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from vinemark.core.course import Cell
from vinemark.core.course_format import read_cell, write_cell
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


@dataclass(frozen=True)
class Change:
    """One cell to be written."""

    student_id: str
    item_id: str
    cell: Cell


def cells_of(connection: Connection, section_id: int, items: set[str]) -> dict[str, dict[str, Cell]]:
    """All cells of a section's items, by student and item; blanks are absent."""
    cells: dict[str, dict[str, Cell]] = {}
    rows = connection.execute("SELECT student_id, item_id, cell FROM score WHERE section_id = ?", (section_id,))
    for student, item, text in rows:
        if item in items:
            cells.setdefault(student, {})[item] = read_cell(text, "score")
    return cells


def write_cells(connection: Connection, act: Act, changes: Iterable[Change], what: str, kind: str = "scores") -> int:
    """Write cells in one act; the history keeps each cell before and after. Returns the entry's id."""
    with writing(connection, act, kind) as entry:
        assert act.section_id is not None  # noqa: S101
        entry.what = what
        entry.before, entry.after = replace_cells(connection, act.section_id, changes)
    return entry.id


Kept = list[list[str | None]]


def replace_cells(connection: Connection, section_id: int, changes: Iterable[Change]) -> tuple[Kept, Kept]:
    """Put cells in place; [student, item, text] of each before and after."""
    before: Kept = []
    after: Kept = []
    for change in changes:
        place = (section_id, change.student_id, change.item_id)
        old = connection.execute(
            "SELECT cell FROM score WHERE section_id = ? AND student_id = ? AND item_id = ?", place
        ).fetchone()
        text = write_cell(change.cell)
        before.append([change.student_id, change.item_id, old["cell"] if old else None])
        after.append([change.student_id, change.item_id, text])
        _put(connection, place, text)
    return before, after


def _put(connection: Connection, place: tuple[int, str, str], text: str | None) -> None:
    if text is None:
        connection.execute("DELETE FROM score WHERE section_id = ? AND student_id = ? AND item_id = ?", place)
        return
    connection.execute(
        "INSERT INTO score (section_id, student_id, item_id, cell) VALUES (?, ?, ?, ?)"
        " ON CONFLICT DO UPDATE SET cell = excluded.cell",
        (*place, text),
    )


def current_cells(
    connection: Connection, section_id: int, places: Iterable[tuple[str, str]]
) -> Mapping[str, str | None]:
    """The text of some cells now, keyed 'student item'."""
    found = {}
    for student, item in places:
        row = connection.execute(
            "SELECT cell FROM score WHERE section_id = ? AND student_id = ? AND item_id = ?",
            (section_id, student, item),
        ).fetchone()
        found[f"{student} {item}"] = row["cell"] if row else None
    return found


@dataclass(frozen=True)
class Since:
    """What happened to the cells after an entry: the last entry, the cells touched, whether the plan changed too."""

    last: int
    places: frozenset[tuple[str, str]]
    plan_changed: bool


def since(connection: Connection, section_id: int, after: int) -> Since:
    """Cells written after an entry of the history, by anybody."""
    rows = connection.execute(
        "SELECT id, kind, after FROM history WHERE section_id = ? AND id > ? ORDER BY id LIMIT 500", (section_id, after)
    ).fetchall()
    written = [row for row in rows if row["kind"] in {"scores", "import"} and row["after"]]
    places = {(str(s), str(i)) for row in written for s, i, _ in json.loads(row["after"])}
    return Since(rows[-1]["id"] if rows else after, frozenset(places), any(row["kind"] == "plan" for row in rows))


def last_entry(connection: Connection, section_id: int) -> int:
    """The number of the section's latest history entry."""
    row = connection.execute("SELECT max(id) AS id FROM history WHERE section_id = ?", (section_id,)).fetchone()
    return int(row["id"] or 0)


def last_writer(connection: Connection, section_id: int, student: str, item: str) -> str:
    """Who wrote a cell last, as far as the history of cells tells."""
    row = connection.execute(
        "SELECT p.name FROM history h, json_each(h.after) c LEFT JOIN person p ON p.id = h.person_id"
        " WHERE h.section_id = ? AND h.kind IN ('scores', 'import') AND json_extract(c.value, '$[0]') = ?"
        " AND json_extract(c.value, '$[1]') = ? ORDER BY h.id DESC LIMIT 1",
        (section_id, student, item),
    ).fetchone()
    return str(row["name"]) if row and row["name"] else "somebody"
