"""Scores: one cell, or many in one act."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import cell_text, kept_cell, kept_text, shown_text
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, AlreadyDoneError, writing


@dataclass(frozen=True)
class CellConflict:
    """A cell that was not written: somebody changed it since the writer saw it."""

    student_id: str
    item_id: str
    now: str
    by: str


@dataclass(frozen=True)
class Written:
    """The history entry of what was written (None: nothing was), and what was not."""

    entry: int | None
    conflicts: Sequence[CellConflict] = ()


class _NothingLeftError(Exception):
    """Every cell was changed meanwhile: no entry is to be made."""


def cells_of(connection: Connection, section_id: int, items: set[str]) -> dict[str, dict[str, Cell]]:
    """All cells of a section's items, by student and item; blanks are absent."""
    cells: dict[str, dict[str, Cell]] = {}
    rows = connection.execute("SELECT student_id, item_id, cell FROM score WHERE section_id = ?", (section_id,))
    for student, item, text in rows:
        if item in items:
            cells.setdefault(student, {})[item] = _kept_cell(text)
    return cells


def symbols_used(connection: Connection, section_id: int) -> set[tuple[str, str]]:
    """Items and the symbols that stand in their cells."""
    rows = connection.execute(
        "SELECT DISTINCT item_id, json_extract(cell, '$.symbol') AS symbol FROM score"
        " WHERE section_id = ? AND substr(cell, 1, 1) = '{' AND json_extract(cell, '$.symbol') IS NOT NULL"
        " ORDER BY item_id, symbol",
        (section_id,),
    )
    return {(row["item_id"], row["symbol"]) for row in rows}


@lru_cache(maxsize=8192)
def _kept_cell(text: str) -> Cell:
    """A cell as it is kept; a class has few different texts in many cells."""
    return kept_cell(text)


def write_cells(connection: Connection, act: Act, changes: Sequence[CellWrite], what: str, kind: str = "scores") -> int:
    """Write cells in one act, whatever stands there; the history keeps each cell before and after. The entry's id."""
    with writing(connection, act, kind) as entry:
        assert act.section_id is not None  # noqa: S101
        entry.what = what
        entry.before, entry.after = replace_cells(connection, act.section_id, changes)
    return entry.id


def write_seen_cells(connection: Connection, act: Act, changes: Sequence[CellWrite], what: str) -> Written:
    """Write cells as write_cells does, but none that somebody changed since the writer saw it.

    The look and the write are one transaction. A repeated act writes nothing again, and says what
    differs now.
    """
    assert act.section_id is not None  # noqa: S101
    conflicts: list[CellConflict] = []
    try:
        with writing(connection, act, "scores") as entry:
            conflicts = conflicts_of(connection, act.section_id, changes)
            places = {(c.student_id, c.item_id) for c in conflicts}
            free = [c for c in changes if (c.student_id, c.item_id) not in places]
            if not free:
                raise _NothingLeftError
            entry.what = what
            entry.before, entry.after = replace_cells(connection, act.section_id, free)
    except _NothingLeftError:
        return Written(None, conflicts)
    except AlreadyDoneError as done:
        return Written(done.entry, conflicts_of(connection, act.section_id, changes))
    return Written(entry.id, conflicts)


def conflicts_of(connection: Connection, section_id: int, changes: Iterable[CellWrite]) -> list[CellConflict]:
    """Cells that hold neither what their writer saw nor what is to be written."""
    seen = [change for change in changes if change.was is not None]
    now = current_cells(connection, section_id, [(c.student_id, c.item_id) for c in seen])
    found = []
    for change in seen:
        text = shown_text(now[f"{change.student_id} {change.item_id}"])
        if text not in {change.was, cell_text(change.cell)}:
            by = last_writer(connection, section_id, change.student_id, change.item_id)
            found.append(CellConflict(change.student_id, change.item_id, text, by))
    return found


KeptCells = list[list[str | None]]


def replace_cells(connection: Connection, section_id: int, changes: Iterable[CellWrite]) -> tuple[KeptCells, KeptCells]:
    """Put cells in place; [student, item, text] of each before and after."""
    before: KeptCells = []
    after: KeptCells = []
    for change in changes:
        place = (section_id, change.student_id, change.item_id)
        old = connection.execute(
            "SELECT cell FROM score WHERE section_id = ? AND student_id = ? AND item_id = ?", place
        ).fetchone()
        text = kept_text(change.cell)
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


CELL_KINDS = frozenset({"scores", "import", "remark"})
CLASS_KIND = "class-list"
"""An entry that changes several things of a class at once, cells among them."""


def places_of(entry: Row | None) -> set[tuple[str, str]]:
    """The cells that an entry of the history touched, by student and item."""
    if entry is None or entry["after"] is None or entry["kind"] not in CELL_KINDS | {CLASS_KIND}:
        return set()
    after = json.loads(entry["after"])
    cells = after["cells"] if entry["kind"] == CLASS_KIND else after
    return {(str(student), str(item)) for student, item, _ in cells}


PLAN_KINDS = frozenset({"plan", "access", CLASS_KIND})


@dataclass(frozen=True)
class Since:
    """What happened to the cells after an entry: the last entry, the cells touched, whether the plan changed too."""

    last: int
    places: frozenset[tuple[str, str]]
    plan_changed: bool


NOTHING_SINCE = Since(0, frozenset(), False)


def since(connection: Connection, section_id: int, after: int, page: str | None = None) -> Since:
    """Cells written after an entry of the history, by any page but one: that knows its own."""
    rows = connection.execute(
        "SELECT id, kind, page, after FROM history WHERE section_id = ? AND id > ? ORDER BY id LIMIT 500",
        (section_id, after),
    ).fetchall()
    others = [row for row in rows if page is None or row["page"] != page]
    places = {place for row in others for place in places_of(row)}
    return Since(rows[-1]["id"] if rows else after, frozenset(places), any(row["kind"] in PLAN_KINDS for row in rows))


def last_writer(connection: Connection, section_id: int, student: str, item: str) -> str:
    """Who wrote a cell last, as far as the history of cells tells."""
    return _last_of(connection, ("scores", "import", CLASS_KIND), section_id, student, item)


def last_remarker(connection: Connection, section_id: int, student: str, item: str) -> str:
    """Who wrote a cell's remark last."""
    return _last_of(connection, ("remark",), section_id, student, item)


def _last_of(connection: Connection, kinds: Sequence[str], section_id: int, student: str, item: str) -> str:
    row = connection.execute(
        "SELECT p.name FROM history h,"
        " json_each(iif(h.kind = 'class-list', json_extract(h.after, '$.cells'), h.after)) c"
        " LEFT JOIN person p ON p.id = h.person_id"
        " WHERE h.section_id = ? AND h.kind IN (SELECT value FROM json_each(?))"
        " AND json_extract(c.value, '$[0]') = ? AND json_extract(c.value, '$[1]') = ? ORDER BY h.id DESC LIMIT 1",
        (section_id, json.dumps(kinds), student, item),
    ).fetchone()
    return str(row["name"]) if row and row["name"] else "somebody"


def history_of_cell(connection: Connection, section_id: int, student: str, item: str) -> list[Row]:
    """Every change of one cell, newest first, with who made it and the file it came from, under former numbers too."""
    return connection.execute(
        "SELECT h.id, h.at, h.what, h.kind, p.name AS person, t.name AS file,"
        " json_extract(h.before, iif(h.kind = 'class-list', '$.cells[', '$[') || c.key || '][2]') AS before,"
        " json_extract(c.value, '$[2]') AS after FROM history h,"
        " json_each(iif(h.kind = 'class-list', json_extract(h.after, '$.cells'), h.after)) c"
        " LEFT JOIN person p ON p.id = h.person_id LEFT JOIN file_taken t ON t.entry_id = h.id"
        " WHERE h.section_id = :section AND h.kind IN ('scores', 'import', 'remark', 'class-list')"
        " AND (json_extract(c.value, '$[0]') = :student OR json_extract(c.value, '$[0]') IN"
        " (SELECT former_id FROM former_id f WHERE f.section_id = h.section_id AND f.student_id = :student))"
        " AND json_extract(c.value, '$[1]') = :item ORDER BY h.id DESC LIMIT 50",
        {"section": section_id, "student": student, "item": item},
    ).fetchall()
