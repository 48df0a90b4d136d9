"""The registrar's own database: what was received, what is held and posted, and changes of grade."""

import hashlib
import json
from base64 import b64decode
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Any

from vinemark.core.base.dates import time_words
from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.submit.grade_row import GradeRow, read_grade_row, row_values
from vinemark.office.ledger import roster, school, section, weather
from vinemark.office.rules import Desk, Shut, refusal, shut
from vinemark.store.database import Connection, Row, transaction


class NotTakenError(Exception):
    """The registrar does not take this as a whole; the message says why."""


class BusyError(Exception):
    """The registrar takes nothing just now; the message says why, `until` when it does again."""

    def __init__(self, shut_now: Shut) -> None:
        super().__init__(shut_now.reason)
        self.until = shut_now.until


def receive(connection: Connection, ref: str, run: str, body: Mapping[str, Any], now: datetime) -> dict[str, Any]:
    """Take one sending: the receipt, the same one for the same key.

    Raises NotTakenError or BusyError for a sending that cannot be taken as a whole. Rows are refused one by one.
    """
    with transaction(connection):
        earlier = connection.execute("SELECT * FROM sending WHERE key = ?", (body["key"],)).fetchone()
        if earlier is not None:
            return _same_again(earlier, ref, run, body)
        found = section(connection, ref)
        if found is None:
            raise NotTakenError("there is no such section")
        _refuse_stranger(found, str(body["signed_by"]))
        _refuse_time(connection, found, run, now)
        return _take(connection, found, run, body, now)


def _same_again(earlier: Row, ref: str, run: str, body: Mapping[str, Any]) -> dict[str, Any]:
    if (earlier["section"], earlier["run"], earlier["digest"]) != (ref, run, body["digest"]):
        raise NotTakenError("this key was used for another sending")
    receipt: dict[str, Any] = json.loads(earlier["receipt"])
    return receipt


def _refuse_stranger(found: Mapping[str, Any], signed_by: str) -> None:
    if found["instructor"].casefold() != signed_by.casefold():
        raise NotTakenError("only the instructor of record can sign this section")


def _refuse_time(connection: Connection, found: Mapping[str, Any], run: str, now: datetime) -> None:
    window = found["runs"].get(run)
    if window is None:
        raise NotTakenError(f"there is no {run} run")
    if window["posted_at"]:
        raise NotTakenError("these grades are posted; ask for a change of grade")
    if now < moment_of(window["opens"]):
        raise BusyError(Shut(f"the {run} run opens {_said(window['opens'])}", moment_of(window["opens"])))
    if now > moment_of(window["due"]):
        raise NotTakenError(f"the {run} run closed {_said(window['due'])}")
    _refuse_transfer(connection, now)


def _said(moment: str) -> str:
    return time_words(moment_of(moment))


def _refuse_transfer(connection: Connection, now: datetime) -> None:
    closed = shut(school(connection)["arrangements"]["transfers"], now)
    if closed is not None:
        raise BusyError(closed)


def _desk(connection: Connection, found: Mapping[str, Any]) -> Desk:
    people = {person["id"]: person for person in roster(connection, found["ref"])}
    starts, ends = date.fromisoformat(found["starts"]), date.fromisoformat(found["ends"])
    return Desk(school(connection)["rules"], starts, ends, people)


def _take(
    connection: Connection, found: Mapping[str, Any], run: str, body: Mapping[str, Any], now: datetime
) -> dict[str, Any]:
    desk = _desk(connection, found)
    number = _next(connection, "SELECT coalesce(max(number), 0) + 1 AS n FROM sending")
    slips = weather(connection).refuse_at_random
    answers, taken = [], []
    for row in body["rows"]:
        reason = refusal(desk, row, run) or (_slip(number, str(row["id"])) if slips else None)
        answers.append({"id": row["id"], "code": row["code"], "accepted": reason is None, "reason": reason})
        if reason is None:
            taken.append(row)
    receipt = {
        "number": f"R-{now:%Y}-{number:05d}",
        "received_at": stamp(now),
        "accepted": len(taken),
        "refused": len(answers) - len(taken),
        "digest": body["digest"],
        "rows": answers,
        "history_seal": body.get("history_seal", ""),
    }
    connection.execute(
        "INSERT INTO sending VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        (number, body["key"], found["ref"], run, body["digest"], body["signed_by"], receipt["received_at"],
         json.dumps(receipt)),
    )  # fmt: skip
    for row in taken:
        _hold(connection, found["ref"], run, read_grade_row(row), number)
    return receipt


def _next(connection: Connection, query: str) -> int:
    return int(connection.execute(query).fetchone()["n"])


def _slip(number: int, student: str) -> str | None:
    """Refuses about one row in four, the same ones for the same sending."""
    drawn = hashlib.sha256(f"{number} {student}".encode()).digest()[0]
    return "a slip of the registrar; send it again" if drawn < 64 else None


def _hold(connection: Connection, ref: str, run: str, row: GradeRow, submission: int | None) -> None:
    connection.execute(
        "INSERT INTO grade VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET code = excluded.code,"
        " last_attended = excluded.last_attended, never_attended = excluded.never_attended,"
        " fallback_grade = excluded.fallback_grade, finish_by = excluded.finish_by, owed = excluded.owed,"
        " sending = coalesce(excluded.sending, sending)",
        (ref, run, row.id, row.code, row.last_attended, int(row.never_attended), row.fallback_grade, row.finish_by,
         row.owed, submission),
    )  # fmt: skip


def held(connection: Connection, ref: str, run: str) -> list[dict[str, Any]]:
    """The grades the registrar has, in the roster's order."""
    rows = connection.execute(
        "SELECT g.student AS id, g.code, g.last_attended, g.never_attended, g.fallback_grade, g.finish_by, g.owed"
        " FROM grade g JOIN roster r ON r.section = g.section AND r.id = g.student"
        " WHERE g.section = ? AND g.run = ? ORDER BY r.place",
        (ref, run),
    ).fetchall()
    return [row_values(read_grade_row({**dict(row), "never_attended": bool(row["never_attended"])})) for row in rows]


def _held_one(connection: Connection, ref: str, student: str) -> dict[str, Any] | None:
    return next((row for row in held(connection, ref, "final") if row["id"] == student), None)


def received(connection: Connection, ref: str) -> Sequence[Row]:
    """All sendings of a section, latest first."""
    return connection.execute("SELECT * FROM sending WHERE section = ? ORDER BY number DESC", (ref,)).fetchall()


def receipt_of(connection: Connection, ref: str, number: int) -> Row | None:
    """One sending of a section with its receipt."""
    row: Row | None = connection.execute(
        "SELECT * FROM sending WHERE section = ? AND number = ?", (ref, number)
    ).fetchone()
    return row


def post(connection: Connection, ref: str, run: str, now: datetime) -> None:
    """Put the held grades on the students' records: from then on only a change of grade alters them."""
    with transaction(connection):
        connection.execute(
            "INSERT INTO posting VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
            (ref, run, stamp(now)),
        )


def apply_fallbacks(connection: Connection, today: date) -> None:
    """Incompletes that are posted and past their date become their fallback grade."""
    if not _past_their_date(connection, today):
        return
    with transaction(connection):
        for row in _past_their_date(connection, today):
            was = _held_one(connection, row["section"], row["student"])
            assert was is not None  # noqa: S101
            connection.execute(
                "INSERT INTO fallen_back VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET was = excluded.was,"
                " at = excluded.at",
                (row["section"], row["student"], json.dumps(was), today.isoformat()),
            )
            _hold(connection, row["section"], "final", GradeRow(row["student"], was["fallback_grade"]), None)


def _past_their_date(connection: Connection, today: date) -> Sequence[Row]:
    return connection.execute(
        "SELECT g.section, g.student FROM grade g JOIN posting p ON p.section = g.section AND p.run = g.run"
        " WHERE g.run = 'final' AND g.fallback_grade IS NOT NULL AND g.finish_by < ?",
        (today.isoformat(),),
    ).fetchall()


def fallen_back(connection: Connection, ref: str) -> list[dict[str, Any]]:
    """Which grades fell back, what each was, and when."""
    rows = connection.execute("SELECT * FROM fallen_back WHERE section = ? ORDER BY student", (ref,)).fetchall()
    return [{"id": row["student"], "was": json.loads(row["was"]), "at": row["at"]} for row in rows]


# --- changes of grade -------------------------------------------------------------------------


def ask_change(connection: Connection, ref: str, body: Mapping[str, Any], now: datetime) -> dict[str, Any]:
    """Take the request for a change of grade; the same key gives the same answer.

    Raises NotTakenError where it cannot be taken, BusyError during a transfer.
    """
    with transaction(connection):
        evidence = dict(body.get("evidence") or {})
        content = evidence.pop("content", None)
        asked = json.dumps(
            {**{key: body.get(key) for key in ("student", "old", "new", "reason")}, "evidence": evidence or None}
        )
        earlier = connection.execute("SELECT * FROM grade_change WHERE key = ?", (body["key"],)).fetchone()
        if earlier is not None:
            if (earlier["section"], earlier["asked"]) != (ref, asked):
                raise NotTakenError("this key was used for another change of grade")
            return change_values(earlier)
        _refuse_change(connection, ref, body, now)
        number = _next(connection, "SELECT coalesce(max(number), 0) + 1 AS n FROM grade_change")
        at = stamp(now)
        connection.execute(
            "INSERT INTO grade_change VALUES (?, ?, ?, ?, ?, ?, ?, 'pending', NULL, NULL)",
            (number, body["key"], ref, body["student"], asked, body["signed_by"], at),
        )
        if content is not None:
            connection.execute(
                "INSERT INTO evidence VALUES (?, ?, ?)",
                (number, evidence.get("file") or "evidence", b64decode(content)),
            )
        row = connection.execute("SELECT * FROM grade_change WHERE number = ?", (number,)).fetchone()
        return change_values(row)


def _refuse_change(connection: Connection, ref: str, body: Mapping[str, Any], now: datetime) -> None:
    found = section(connection, ref)
    if found is None:
        raise NotTakenError("there is no such section")
    _refuse_stranger(found, str(body["signed_by"]))
    if not found["runs"].get("final", {}).get("posted_at"):
        raise NotTakenError("these grades are not posted yet; send the row again")
    _refuse_transfer(connection, now)
    if not str(body.get("reason") or "").strip():
        raise NotTakenError("a change of grade needs a reason")
    there = _held_one(connection, ref, str(body["student"]))
    if there != body.get("old"):
        raise NotTakenError(f"the registrar has {there['code'] if there else 'no grade'} and not what is to be changed")
    pending = connection.execute(
        "SELECT 1 FROM grade_change WHERE section = ? AND student = ? AND state = 'pending'", (ref, body["student"])
    ).fetchone()
    if pending:
        raise NotTakenError("a change of grade for this student waits for an answer")
    reason = refusal(_desk(connection, found), body["new"], "final")
    if reason is not None or body["new"].get("id") != body["student"]:
        raise NotTakenError(reason or "the new grade is for another student")


def change_values(row: Row) -> dict[str, Any]:
    """A change of grade as the interface tells it."""
    return {
        "key": row["key"],
        "number": f"C-{row['received_at'][:4]}-{row['number']:05d}",
        "state": row["state"],
        "word": row["word"],
        "received_at": row["received_at"],
        "answered_at": row["answered_at"],
    }


def evidence_of(connection: Connection, ref: str, number: int) -> tuple[str, bytes] | None:
    """Name and bytes of the file that came with a change of grade of a section."""
    row = connection.execute(
        "SELECT e.name, e.content FROM evidence e JOIN grade_change c ON c.number = e.number"
        " WHERE c.section = ? AND c.number = ?",
        (ref, number),
    ).fetchone()
    return (row["name"], row["content"]) if row else None


def changes(connection: Connection, ref: str) -> Sequence[Row]:
    """All changes of grade asked for a section, latest first."""
    return connection.execute("SELECT * FROM grade_change WHERE section = ? ORDER BY number DESC", (ref,)).fetchall()


def answer_change(connection: Connection, ref: str, number: int, granted: bool, word: str, now: datetime) -> None:
    """Grant or refuse a change with a word; a granted one takes the old grade's place."""
    with transaction(connection):
        row = connection.execute(
            "SELECT * FROM grade_change WHERE section = ? AND number = ? AND state = 'pending'", (ref, number)
        ).fetchone()
        if row is None:
            return
        connection.execute(
            "UPDATE grade_change SET state = ?, word = ?, answered_at = ? WHERE number = ?",
            ("granted" if granted else "refused", word or None, stamp(now), number),
        )
        if granted:
            _hold(connection, ref, "final", read_grade_row(json.loads(row["asked"])["new"]), None)
