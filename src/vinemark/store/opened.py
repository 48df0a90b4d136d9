"""Whether students can see their settled grades, by run."""

from collections.abc import Mapping

from vinemark.core.course.course import Run
from vinemark.store.database import Connection
from vinemark.store.history import Act, stamp, writing


def opened_at(connection: Connection, section_id: int, run: str) -> str | None:
    """Since when students see a run's settled grades; None where they are held back."""
    row = connection.execute(
        "SELECT at FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchone()
    return str(row["at"]) if row else None


def open_grades(connection: Connection, act: Act, run: Run, is_open: bool) -> int:
    """Open a run's settled grades to students, or hold them back; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "grades-opened") as entry:
        entry.what = f"{run} grades {'opened to students' if is_open else 'held back from students'}"
        entry.before = {run: opened_at(connection, act.section_id, run)}
        entry.after = {run: stamp(act.at) if is_open else None}
        put_opened(connection, act.section_id, entry.after)
    return entry.id


def put_opened(connection: Connection, section_id: int, opened: Mapping[str, str | None]) -> None:
    """Put openings in place; None holds back."""
    for run, at in opened.items():
        connection.execute("DELETE FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run))
        if at is not None:
            connection.execute("INSERT INTO grades_opened VALUES (?, ?, ?)", (section_id, run, at))
