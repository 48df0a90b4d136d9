"""Everything of a section gathered for an archive, and an archive taken in to be looked at."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import kept_cell
from vinemark.core.course.course import RUNS, Course
from vinemark.store import grade_changes, registrar, submissions
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, writing
from vinemark.store.sections import create_from_course
from vinemark.store.texts import plan_from_text

_HISTORY = ("id", "at", "person", "kind", "what", "before", "after", "undoes", "salt", "seal", "first_digest")
_SENDING = ("key", "run", "signed_at", "signed_by", "signer_email", "course_digest", "course", "findings",
            "withdrawn_at", "rows", "digest", "state", "trouble", "receipt", "answered_at", "history_seal")  # fmt: skip
_CHANGE = ("key", "student_id", "old", "new", "settled", "owed", "reason", "evidence_note", "evidence_name",
           "evidence", "asked_by", "asker_email", "asked_at", "state", "number", "word", "answered_at",
           "trouble")  # fmt: skip
_BESIDE = {
    "office": "SELECT office_ref, opens, due, pulled_at, hours, layout FROM office_records WHERE section_id = ?",
    "read_back": "SELECT run, rows, posted_at, read_at, fell_back FROM read_back WHERE section_id = ?",
    "remarks": "SELECT student_id, item_id, remark FROM cell_remark WHERE section_id = ?",
    "access": "SELECT item_id, access FROM item_access WHERE section_id = ?",
    "opened": "SELECT run, at, shows, only_some FROM grades_opened WHERE section_id = ?",
    "seen_by": "SELECT run, student_id FROM grade_seen_by WHERE section_id = ?",
    "stands": "SELECT place, facts, reason, person, at FROM finding_stand WHERE section_id = ?",
    "plans": "SELECT version, plan, undoes FROM plan_version WHERE section_id = ? ORDER BY version",
    "scores": "SELECT student_id, item_id, cell FROM score WHERE section_id = ?",
    "details": "SELECT student_id, preferred, pronunciation, remark, joined FROM student_detail WHERE section_id = ?",
    "groups": "SELECT item_id, student_id, name FROM item_group WHERE section_id = ?",
    "former_ids": "SELECT former_id, student_id FROM former_id WHERE section_id = ?",
    "comparisons": "SELECT number, name, headings, likely, against, unknown, at FROM comparison WHERE section_id = ?",
    "figures": "SELECT number, student_id, place, figure FROM comparison_figure WHERE section_id = ?",
    "students_see": "SELECT chosen FROM students_see WHERE section_id = ?",
    "looked": "SELECT student_id, day, email, name, role, what, first_at, last_at, times FROM looked"
    " WHERE section_id = ? ORDER BY first_at, email, student_id, what",
    "questions": "SELECT student_id, item_id, question, asked_at, answer, answered_by, answered_at FROM question"
    " WHERE section_id = ? ORDER BY id",
}
_INTO = {
    "read_back": "INSERT INTO read_back (section_id, run, rows, posted_at, read_at, fell_back, covers)"
                 " VALUES (:section_id, :run, :rows, :posted_at, :read_at, :fell_back, coalesce("
                 " (SELECT max(d.id) FROM sending d JOIN signing g ON g.id = d.signing_id WHERE"
                 " g.section_id = :section_id AND g.run = :run AND d.receipt IS NOT NULL"
                 " AND unixepoch(d.answered_at) <= unixepoch(:read_at)), 0))",
    "remarks": "INSERT INTO cell_remark VALUES (:section_id, :student_id, :item_id, :remark)",
    "access": "INSERT INTO item_access VALUES (:section_id, :item_id, :access)",
    "opened": "INSERT INTO grades_opened (section_id, run, at, shows, only_some)"
              " VALUES (:section_id, :run, :at, :shows, :only_some)",
    "seen_by": "INSERT INTO grade_seen_by VALUES (:section_id, :run, :student_id)",
    "plans": "INSERT INTO plan_version VALUES (:section_id, :version, :plan, :undoes)",
    "scores": "INSERT INTO score VALUES (:section_id, :student_id, :item_id, :cell) ON CONFLICT DO NOTHING",
    "details": "INSERT INTO student_detail VALUES"
               " (:section_id, :student_id, :preferred, :pronunciation, :remark, :joined)",
    "groups": "INSERT INTO item_group VALUES (:section_id, :item_id, :student_id, :name)",
    "former_ids": "INSERT INTO former_id VALUES (:section_id, :former_id, :student_id)",
    "comparisons": "INSERT INTO comparison VALUES"
                   " (:section_id, :number, :name, :headings, :likely, :against, :unknown, :at)",
    "figures": "INSERT INTO comparison_figure VALUES (:section_id, :number, :student_id, :place, :figure)",
    "questions": "INSERT INTO question (section_id, student_id, item_id, question, asked_at, answer, answered_by,"
                 " answered_at) VALUES (:section_id, :student_id, :item_id, :question, :asked_at, :answer,"
                 " :answered_by, :answered_at)",
    "looked": "INSERT INTO looked VALUES (:section_id, :student_id, :day, :email, :name, :role, :what, :first_at,"
              " :last_at, :times)",
    "students_see": "INSERT INTO students_see VALUES (:section_id, :chosen)",
    "stands": "INSERT INTO finding_stand VALUES (:section_id, :place, :facts, :reason, :person, :at)",
}  # fmt: skip


_OF_OLDER = {"shows": "settled", "only_some": 0}
"""What rows of older archives do not have."""
LATER_TABLES = frozenset(
    {"details", "former_ids", "groups", "comparisons", "figures", "students_see", "questions", "seen_by", "looked"}
)
"""What older archives do not have."""


def history_values(connection: Connection, section_id: int) -> list[dict[str, Any]]:
    """The whole history, oldest first."""
    rows = connection.execute(
        "SELECT h.id, h.at, coalesce(h.by_name, p.name) AS person, h.kind, h.what, h.before, h.after, h.undoes,"
        " lower(hex(h.salt)) AS salt, lower(hex(h.seal)) AS seal, lower(hex(h.first_digest)) AS first_digest"
        " FROM history h LEFT JOIN person p ON p.id = h.person_id WHERE h.section_id = ? ORDER BY h.id",
        (section_id,),
    ).fetchall()
    return [{key: _value(key, row[key]) for key in _HISTORY} for row in rows]


def _value(key: str, kept: Any) -> Any:
    if kept is not None and key in {"before", "after", "rows", "receipt", "old", "new", "settled"}:
        return json.loads(kept)
    return kept


def sending_values(connection: Connection, section_id: int) -> list[dict[str, Any]]:
    """Every signing with what was frozen, its sending and its receipt, oldest first, taken back ones too."""
    rows = connection.execute(
        "SELECT d.*, g.run, g.signed_at, g.course_digest, g.course, g.findings, g.withdrawn_at,"
        " g.history_seal,"
        " coalesce(g.signer_name, p.name) AS signed_by, coalesce(g.signer_email, p.email) AS signer_email"
        " FROM sending d JOIN signing g ON g.id = d.signing_id JOIN person p ON p.id = g.person_id"
        " WHERE g.section_id = ? ORDER BY d.id",
        (section_id,),
    ).fetchall()
    return [{key: _value(key, row[key]) for key in _SENDING} for row in rows]


def change_values(connection: Connection, section_id: int) -> list[dict[str, Any]]:
    """Every change of grade with its evidence, oldest first."""
    rows = connection.execute("SELECT * FROM grade_change WHERE section_id = ? ORDER BY id", (section_id,)).fetchall()
    return [{key: _value(key, row[key]) for key in _CHANGE} for row in rows]


def beside_values(connection: Connection, section_id: int) -> dict[str, Any]:
    """What the course file has no place for."""
    found = {}
    for name, query in _BESIDE.items():
        found[name] = [dict(row) for row in connection.execute(query, (section_id,)).fetchall()]
    return found


def note_made(connection: Connection, act: Act, digest: str) -> None:
    """An archive was taken out."""
    with writing(connection, act, "archive") as entry:
        entry.what = f"archive downloaded, SHA-256 {digest}"


def create_from_archive(
    connection: Connection,
    act: Act,
    course: Course,
    source: str,
    history: Sequence[Mapping[str, Any]],
    sendings: Sequence[Mapping[str, Any]],
    changes: Sequence[Mapping[str, Any]],
    beside: Mapping[str, Sequence[Mapping[str, Any]]],
) -> int:
    """A section made from an archive, to be read and never changed: its person is a reviewer of it; its id.

    Raises Refused for an archive whose parts do not fit together.
    """
    try:
        with transaction(connection):
            section_id = create_from_course(connection, act, course, role="reviewer", archive=source)
            _take_history(connection, section_id, history)
            for submission in sendings:
                _take_sending(connection, act, section_id, submission)
            for change in changes:
                _take_change(connection, section_id, change)
            _take_beside(connection, section_id, beside)
            _read_all(connection, section_id)
    except Refused:
        raise
    except (KeyError, TypeError, ValueError, AttributeError, sqlite3.Error) as error:
        raise Refused("the archive", f"does not hold together: {error}") from error
    return section_id


def _read_all(connection: Connection, section_id: int) -> None:
    """Everything that pages will read is read once by its own strict reader, before it is kept."""
    for run in RUNS:
        submissions.submissions_of(connection, section_id, run)
    submissions.refuse_unreadable(connection, section_id)
    grade_changes.changes_of(connection, section_id)
    registrar.hours_of(connection, section_id)
    registrar.layout_of(connection, section_id)


def _take_history(connection: Connection, section_id: int, entries: Sequence[Mapping[str, Any]]) -> None:
    """Old entries under new numbers. What undid what is kept; an undoing of an entry that is not there is dropped."""
    # That the archive was taken in stands before its own chain, and is no part of it.
    connection.execute("UPDATE history SET salt = NULL, seal = NULL WHERE section_id = ?", (section_id,))
    numbers: dict[int, int] = {}
    for entry in entries:
        sealed = [bytes.fromhex(entry.get(name) or "") or None for name in ("salt", "seal", "first_digest")]
        row = connection.execute(
            "INSERT INTO history (at, section_id, kind, what, before, after, by_name, undoes, salt, seal, first_digest)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
            (entry["at"], section_id, entry["kind"], entry["what"], _text(entry["before"]), _text(entry["after"]),
             entry["person"], numbers.get(entry["undoes"] or 0), *sealed),
        ).fetchone()  # fmt: skip
        numbers[entry["id"]] = row["id"]


def _text(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)


def _take_sending(connection: Connection, act: Act, section_id: int, submission: Mapping[str, Any]) -> None:
    signing = connection.execute(
        "INSERT INTO signing (section_id, run, person_id, signed_at, course, course_digest, withdrawn_at, findings,"
        " signer_name, signer_email, history_seal) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (section_id, submission["run"], act.person_id, submission["signed_at"], submission["course"],
         submission["course_digest"], submission["withdrawn_at"], submission["findings"], submission["signed_by"],
         submission["signer_email"], submission.get("history_seal", "")),
    ).fetchone()["id"]  # fmt: skip
    connection.execute(
        "INSERT INTO sending (signing_id, key, rows, digest, state, trouble, receipt, answered_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        (signing, submission["key"], _text(submission["rows"]), submission["digest"], submission["state"],
         submission["trouble"], _text(submission["receipt"]), submission["answered_at"]),
    )  # fmt: skip


def _take_change(connection: Connection, section_id: int, change: Mapping[str, Any]) -> None:
    values = {key: _text(change[key]) if key in {"old", "new", "settled"} else change[key] for key in _CHANGE}
    connection.execute(
        "INSERT INTO grade_change (section_id, key, student_id, old, new, settled, owed, reason, evidence_note,"
        " evidence_name, evidence, asked_by, asker_email, asked_at, state, number, word, answered_at, trouble)"
        " VALUES (:section_id, :key, :student_id, :old, :new, :settled, :owed, :reason, :evidence_note,"
        " :evidence_name, :evidence, :asked_by, :asker_email, :asked_at, :state, :number, :word, :answered_at,"
        " :trouble)",
        {**values, "section_id": section_id},
    )


def _take_beside(connection: Connection, section_id: int, beside: Mapping[str, Sequence[Mapping[str, Any]]]) -> None:
    for row in beside["office"]:
        connection.execute(
            "UPDATE office_records SET office_ref = :office_ref, opens = :opens, due = :due, hours = :hours,"
            " layout = :layout, pulled_at = coalesce(:pulled_at, pulled_at) WHERE section_id = :section_id",
            {**row, "section_id": section_id},
        )
    _refuse_unreadable(beside)
    if beside["plans"]:
        connection.execute("DELETE FROM plan_version WHERE section_id = ?", (section_id,))
    for name, query in _INTO.items():
        rows = beside.get(name, ()) if name in LATER_TABLES else beside[name]
        connection.executemany(query, [{**_OF_OLDER, **row, "section_id": section_id} for row in rows])


def _refuse_unreadable(beside: Mapping[str, Sequence[Mapping[str, Any]]]) -> None:
    """Texts that pages will read must be readable. Raises Refused."""
    for row in beside["plans"]:
        plan_from_text(row["plan"])
    for row in beside["scores"]:
        kept_cell(row["cell"], "scores")
