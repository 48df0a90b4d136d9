"""Adjustments: percentage points given to one student, or taken."""

from collections.abc import Mapping
from typing import Any

from vinemark.core.base.number import exact_text
from vinemark.core.course.course import Adjustment
from vinemark.core.course.read_cells import read_adjustment
from vinemark.store.database import Connection
from vinemark.store.history import Act, ChangedSinceError, writing

Kept = list[str]
"""An adjustment as it is kept: its percentage points and its reason."""


def adjustments_of(connection: Connection, section_id: int) -> dict[str, Adjustment]:
    """All adjustments of a section, by student."""
    return {student: _adjustment(kept) for student, kept in kept_adjustments(connection, section_id).items()}


def kept_adjustments(connection: Connection, section_id: int) -> dict[str, Kept]:
    """The same as they are kept."""
    rows = connection.execute("SELECT student_id, percent, reason FROM adjustment WHERE section_id = ?", (section_id,))
    return {row["student_id"]: [row["percent"], row["reason"]] for row in rows}


def _adjustment(kept: Kept) -> Adjustment:
    return read_adjustment({"percent": kept[0], "reason": kept[1]}, "adjustment")


def kept_adjustment(adjustment: Adjustment | None) -> Kept | None:
    """An adjustment as it is kept; None for none."""
    if adjustment is None:
        return None
    return [exact_text(adjustment.percent), adjustment.reason]


def give_adjustment(
    connection: Connection, act: Act, student_id: str, adjustment: Adjustment | None, what: str, was: Any = None
) -> int | None:
    """Give a student an adjustment, or take it away with None; the entry's id, None where nothing changed.

    `was` is what its writer saw there, as it is kept; raises ChangedSinceError where something else stands there.
    """
    assert act.section_id is not None  # noqa: S101
    before = kept_adjustments(connection, act.section_id).get(student_id)
    after = kept_adjustment(adjustment)
    if before == after:
        return None
    if was is not None and before != (was or None):
        raise ChangedSinceError("This adjustment was changed meanwhile. Look at it again; nothing was saved.")
    with writing(connection, act, "adjustment") as entry:
        entry.what = what
        entry.before, entry.after = {student_id: before}, {student_id: after}
        put_adjustments(connection, act.section_id, entry.after)
    return entry.id


def put_adjustments(connection: Connection, section_id: int, adjustments: Mapping[str, Kept | None]) -> None:
    """Put adjustments in place; None takes one away."""
    for student, kept in adjustments.items():
        if kept is None:
            connection.execute("DELETE FROM adjustment WHERE section_id = ? AND student_id = ?", (section_id, student))
        else:
            connection.execute(
                "INSERT INTO adjustment VALUES (?, ?, ?, ?)"
                " ON CONFLICT DO UPDATE SET percent = excluded.percent, reason = excluded.reason",
                (section_id, student, *kept),
            )
