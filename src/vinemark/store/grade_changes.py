"""Changes of grade: what was asked, what the registrar answered, and the evidence kept with it."""

import json
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from vinemark.core.after.grade_change import ChangeState, GradeChange
from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.course.read_records import read_settled
from vinemark.core.course.write import write_settled
from vinemark.core.submit.grade_row import read_grade_row, row_values
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act, ChangedSinceError, writing
from vinemark.store.settled import put_settled, settled_text
from vinemark.store.submissions import Delivery, within
from vinemark.store.texts import parsed

_COLUMNS = (
    "id, key, student_id, old, new, settled, reason, evidence_note, evidence_name, asked_by, asked_at, state, owed,"
    " number, word, answered_at, trouble"
)


@dataclass(frozen=True)
class RegistrarWord:
    """What the registrar said of a request; `trouble` is why it was not taken."""

    state: ChangeState
    number: str | None = None
    word: str | None = None
    answered_at: str | None = None
    trouble: str | None = None


class Evidence(NamedTuple):
    """A file kept with a change of grade."""

    name: str
    content: bytes


def changes_of(connection: Connection, section_id: int) -> list[GradeChange]:
    """All changes of a section, oldest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM grade_change WHERE section_id = ? ORDER BY id",  # noqa: S608  a constant
        (section_id,),
    ).fetchall()
    return [_change(row) for row in rows]


def change_of(connection: Connection, section_id: int, change_id: int) -> GradeChange | None:
    """One change of a section."""
    return next((change for change in changes_of(connection, section_id) if change.id == change_id), None)


def _change(row: Row) -> GradeChange:
    return GradeChange(
        row["id"],
        row["key"],
        row["student_id"],
        read_grade_row(json.loads(row["old"])) if row["old"] else None,
        read_grade_row(json.loads(row["new"])),
        read_settled(parsed(row["settled"]), "settled"),
        row["reason"],
        row["evidence_note"],
        row["evidence_name"],
        row["asked_by"],
        moment_of(row["asked_at"]),
        row["state"],
        row["owed"],
        row["number"],
        row["word"],
        row["answered_at"],
        row["trouble"],
    )


def evidence_of(connection: Connection, section_id: int, change_id: int) -> Evidence | None:
    """The file kept with a change, if there is one."""
    row = connection.execute(
        "SELECT evidence_name, evidence FROM grade_change WHERE section_id = ? AND id = ? AND evidence IS NOT NULL",
        (section_id, change_id),
    ).fetchone()
    return Evidence(row["evidence_name"], bytes(row["evidence"])) if row else None


def asker_email(connection: Connection, section_id: int, change_id: int) -> str:
    """The address under which a change was asked."""
    row = connection.execute(
        "SELECT asker_email FROM grade_change WHERE section_id = ? AND id = ?", (section_id, change_id)
    ).fetchone()
    return str(row["asker_email"])


def write_request(
    connection: Connection, act: Act, change: GradeChange, email: str, evidence: bytes | None, what: str
) -> int:
    """Keep a request before it goes out, under its one key; its id.

    Raises ChangedSinceError where an earlier request for the student has no answer yet.
    """
    with writing(connection, act, "grade-change") as entry:
        pending = connection.execute(
            "SELECT 1 FROM grade_change WHERE section_id = ? AND student_id = ? AND state IN ('waiting', 'sent')",
            (act.section_id, change.student_id),
        ).fetchone()
        if pending:
            raise ChangedSinceError("A change of grade for this student is on its way already.")
        made = connection.execute(
            "INSERT INTO grade_change (section_id, key, student_id, old, new, settled, owed, reason, evidence_note,"
            " evidence_name, evidence, asked_by, asker_email, asked_at, state)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'waiting') RETURNING id",
            (act.section_id, change.key, change.student_id, _text(row_values(change.old)) if change.old else None,
             _text(row_values(change.new)), _text(write_settled(change.settled)), change.owed, change.reason,
             change.evidence_note, change.evidence_name, evidence, change.asked_by, email, stamp(act.at)),
        ).fetchone()["id"]  # fmt: skip
        entry.what = what
        entry.after = {"old": row_values(change.old) if change.old else None, "new": row_values(change.new)}
    return int(made)


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


def note_change_waiting(connection: Connection, act: Act, change_id: int, trouble: str | None) -> None:
    """A request goes out, or was not confirmed: it waits under its key."""
    with writing(connection, act, "grade-change") as entry:
        connection.execute(
            "UPDATE grade_change SET trouble = ?, tried_at = ? WHERE id = ? AND section_id = ? AND state = 'waiting'",
            (trouble, stamp(act.at), change_id, act.section_id),
        )
        entry.what = f"change of grade not delivered: {trouble}" if trouble else "change of grade sent"


def write_answer(connection: Connection, act: Act, change: GradeChange, word: RegistrarWord, what: str) -> bool:
    """Keep the registrar's answer: sent, granted, refused or not taken; False where it brings nothing new.

    A granted change settles the student's grade as asked, in the same transaction.
    """
    assert act.section_id is not None  # noqa: S101
    with transaction(connection):
        row = connection.execute("SELECT state FROM grade_change WHERE id = ?", (change.id,)).fetchone()
        if row["state"] == word.state or row["state"] in {"granted", "refused", "not taken"}:
            return False
        with writing(connection, act, "grade-change") as entry:
            connection.execute(
                "UPDATE grade_change SET state = ?, number = ?, word = ?, answered_at = ?, trouble = ?"
                " WHERE id = ? AND section_id = ?",
                (*vars(word).values(), change.id, act.section_id),
            )
            if word.state == "granted":
                text = _text(write_settled(change.settled))
                entry.before = {change.student_id: settled_text(connection, act.section_id, "final", change.student_id)}
                put_settled(connection, act.section_id, "final", {change.student_id: text})
            entry.what, entry.after = what, vars(word).copy()
    return True


def due_changes(connection: Connection, now: datetime, pause: timedelta) -> list[Delivery]:
    """Requests of all sections that wait to be delivered and were not tried just now."""
    rows = connection.execute(
        "SELECT c.section_id, c.id, p.id FROM grade_change c JOIN section s ON s.id = c.section_id"
        " JOIN person p ON p.email = c.asker_email"
        " WHERE c.state = 'waiting' AND s.archive IS NULL"
        " AND coalesce(unixepoch(c.tried_at) NOT BETWEEN unixepoch(:since) + 1 AND unixepoch(:now), 1) ORDER BY c.id",
        within(now, pause),
    ).fetchall()
    return [Delivery(*row) for row in rows]
