"""What students can see: items, by what was chosen for each, and the settled grades of a run."""

from collections.abc import Mapping
from typing import cast

from vinemark.core.course.course import Run
from vinemark.core.scores.visibility import VisibilityRule
from vinemark.store.database import Connection
from vinemark.store.history import Act, stamp, writing


def visibility_of(connection: Connection, section_id: int) -> dict[str, VisibilityRule]:
    """What was chosen, by item; an item nothing was chosen for is absent."""
    rows = connection.execute("SELECT item_id, access FROM item_access WHERE section_id = ?", (section_id,))
    return {row["item_id"]: cast(VisibilityRule, row["access"]) for row in rows}


def write_visibility(connection: Connection, act: Act, chosen: Mapping[str, VisibilityRule], what: str) -> int:
    """Hide items or make them visible, in one act; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "access") as entry:
        now = visibility_of(connection, act.section_id)
        entry.what = what
        entry.before, entry.after = {item: now.get(item) for item in chosen}, dict(chosen)
        put_visibility(connection, act.section_id, entry.after)
    return entry.id


def put_visibility(connection: Connection, section_id: int, chosen: Mapping[str, str | None]) -> None:
    """Put choices in place; None is as if nothing had been chosen."""
    for item, rule in chosen.items():
        connection.execute("DELETE FROM item_access WHERE section_id = ? AND item_id = ?", (section_id, item))
        if rule is not None:
            connection.execute("INSERT INTO item_access VALUES (?, ?, ?)", (section_id, item, rule))


def grades_visible_since(connection: Connection, section_id: int, run: str) -> str | None:
    """Since when students see a run's settled grades; None where they are hidden."""
    row = connection.execute(
        "SELECT at FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchone()
    return str(row["at"]) if row else None


def write_grades_visible(connection: Connection, act: Act, run: Run, visible: bool) -> int:
    """Make a run's settled grades visible to students, or hide them; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "grades-opened") as entry:
        entry.what = f"{run} grades {'made visible to students' if visible else 'hidden from students'}"
        entry.before = {run: grades_visible_since(connection, act.section_id, run)}
        entry.after = {run: stamp(act.at) if visible else None}
        put_grades_visible(connection, act.section_id, entry.after)
    return entry.id


def put_grades_visible(connection: Connection, section_id: int, since: Mapping[str, str | None]) -> None:
    """Put visibilities in place; None hides."""
    for run, at in since.items():
        connection.execute("DELETE FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run))
        if at is not None:
            connection.execute("INSERT INTO grades_opened VALUES (?, ?, ?)", (section_id, run, at))
