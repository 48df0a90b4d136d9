"""Settled grades, and students set aside."""

import json
from collections.abc import Mapping, Sequence

from vinemark.core.course.course import Settled, Student
from vinemark.core.course.write import write_settled
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing
from vinemark.store.sections import insert_students


def write_grades(
    connection: Connection, act: Act, changes: Mapping[str, Settled | None], what: str, run: str = "final"
) -> int:
    """Settle (or open again, with None) some students in one act; the history entry's id."""
    with writing(connection, act, f"settled-{run}") as entry:
        assert act.section_id is not None  # noqa: S101
        entry.what = what
        entry.before = {s: settled_text(connection, act.section_id, run, s) for s in changes}
        texts = {s: as_text(new) for s, new in changes.items()}
        put_settled(connection, act.section_id, run, texts)
        entry.after = texts
    return entry.id


def as_text(new: Settled | None) -> str | None:
    """A settled grade as it is kept; None where it is open."""
    return json.dumps(write_settled(new), ensure_ascii=False) if new else None


def settled_text(connection: Connection, section_id: int, run: str, student_id: str) -> str | None:
    """One settled grade as it is kept."""
    row = connection.execute(
        "SELECT settled FROM settled WHERE section_id = ? AND run = ? AND student_id = ?",
        (section_id, run, student_id),
    ).fetchone()
    return row["settled"] if row else None


def put_settled(connection: Connection, section_id: int, run: str, texts: Mapping[str, str | None]) -> None:
    """Put settled grades in place; None opens one again."""
    for student, text in texts.items():
        if text is None:
            connection.execute(
                "DELETE FROM settled WHERE section_id = ? AND run = ? AND student_id = ?", (section_id, run, student)
            )
        else:
            connection.execute(
                "INSERT INTO settled VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET settled = excluded.settled",
                (section_id, run, student, text),
            )


def write_set_aside(connection: Connection, act: Act, student_id: str, reason: str | None, what: str) -> int:
    """Set a student aside with a reason, or take them back with None."""
    with writing(connection, act, "set-aside") as entry:
        assert act.section_id is not None  # noqa: S101
        entry.what = what
        entry.before = {student_id: aside_text(connection, act.section_id, student_id)}
        put_aside(connection, act.section_id, {student_id: reason})
        entry.after = {student_id: reason}
    return entry.id


def aside_text(connection: Connection, section_id: int, student_id: str) -> str | None:
    """Why a student is set aside; None where they are not."""
    row = connection.execute(
        "SELECT set_aside FROM student WHERE section_id = ? AND id = ?", (section_id, student_id)
    ).fetchone()
    return row["set_aside"] if row else None


def put_aside(connection: Connection, section_id: int, reasons: Mapping[str, str | None]) -> None:
    """Put reasons for setting aside in place."""
    for student, reason in reasons.items():
        connection.execute(
            "UPDATE student SET set_aside = ? WHERE section_id = ? AND id = ?", (reason, section_id, student)
        )


def write_students(connection: Connection, act: Act, students: Sequence[Student], what: str) -> int:
    """Students who were missing in the section; the entry's id."""
    with writing(connection, act, "students") as entry:
        assert act.section_id is not None  # noqa: S101
        insert_students(connection, act.section_id, students)
        entry.what = what
        entry.after = {"students": [s.id for s in students]}
    return entry.id
