"""Acts on whole columns: what was done, beside the entry of the history that did it."""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import NamedTuple

from vinemark.core.audit.recorded import TwiceAdjusted
from vinemark.core.scores.column import done_words
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act
from vinemark.store.scores import write_cells


class ColumnAct(NamedTuple):
    """What was done to an item's column; `value` as it is written exactly."""

    item_id: str
    action: str
    value: str


def write_column(connection: Connection, act: Act, done: ColumnAct, changes: Sequence[CellWrite], what: str) -> int:
    """Write the cells of a column in one act, and what it was. The entry's id."""
    with transaction(connection):
        entry = write_cells(connection, act, changes, what)
        connection.execute("INSERT INTO column_act VALUES (?, ?, ?, ?)", (entry, *done))
    return entry


def columns_adjusted_twice(connection: Connection, section_id: int) -> dict[str, TwiceAdjusted]:
    """By item the act that was done to it twice: both in force, and none of its scores typed anew between the two."""
    rows = connection.execute(
        "SELECT c.entry_id, c.item_id, c.action, c.value, h.at FROM column_act c JOIN history h ON h.id = c.entry_id"
        " WHERE h.section_id = ? AND c.action IN ('add', 'maximum') ORDER BY c.entry_id",
        (section_id,),
    ).fetchall()
    undone = _undone(connection, section_id) if len(rows) > 1 else {}
    found: dict[str, TwiceAdjusted] = {}
    earlier: dict[ColumnAct, Row] = {}
    for row in rows:
        done = ColumnAct(row["item_id"], row["action"], row["value"])
        if not _in_force(row["entry_id"], undone):
            continue
        before = earlier.get(done)
        if before is not None and not _typed_between(connection, section_id, before, row):
            days = [date.fromisoformat(one["at"][:10]) for one in (before, row)]
            found[done.item_id] = TwiceAdjusted(done_words(done.action, done.value), *days)
        earlier[done] = row
    return found


def _undone(connection: Connection, section_id: int) -> Mapping[int, int]:
    """Which entry undid which."""
    rows = connection.execute(
        "SELECT undoes, id FROM history WHERE section_id = ? AND kind = 'scores' AND undoes IS NOT NULL", (section_id,)
    )
    return {row["undoes"]: row["id"] for row in rows}


def _in_force(entry: int, undone: Mapping[int, int]) -> bool:
    """Not undone, or its undoing was."""
    by = undone.get(entry)
    return by is None or not _in_force(by, undone)


def _typed_between(connection: Connection, section_id: int, first: Row, second: Row) -> bool:
    """Whether a score of the item was written between two acts, but by acts on columns and what undid anything."""
    row = connection.execute(
        "SELECT 1 FROM history h, json_each(h.after) c WHERE h.section_id = ? AND h.id > ? AND h.id < ?"
        " AND h.kind IN ('scores', 'import') AND h.undoes IS NULL AND json_extract(c.value, '$[1]') = ?"
        " AND h.id NOT IN (SELECT entry_id FROM column_act) LIMIT 1",
        (section_id, first["entry_id"], second["entry_id"], second["item_id"]),
    ).fetchone()
    return row is not None
