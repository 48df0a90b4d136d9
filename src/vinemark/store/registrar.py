"""What the office said, what was signed and sent to it, and its receipts."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from vinemark.core.course import Records
from vinemark.core.course_format import write_records
from vinemark.core.submission import HeldRow, digest, held_row, text_digest
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, stamp, writing


@dataclass(frozen=True)
class Pulled:
    """The office's answer about one section."""

    office_ref: str
    records: Records
    opens: datetime
    due: datetime


def keep_records(connection: Connection, act: Act, pulled: Pulled, what: str) -> None:
    """Keep what the office said, in place of what it said before."""
    with writing(connection, act, "office") as entry:
        old = connection.execute(
            "SELECT records FROM office_records WHERE section_id = ?", (act.section_id,)
        ).fetchone()
        text = json.dumps(write_records(pulled.records), ensure_ascii=False)
        connection.execute(
            "INSERT INTO office_records VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET"
            " office_ref = excluded.office_ref, records = excluded.records, opens = excluded.opens,"
            " due = excluded.due, pulled_at = excluded.pulled_at",
            (act.section_id, pulled.office_ref, text, stamp(pulled.opens), stamp(pulled.due), stamp(act.at)),
        )
        entry.what = what
        if old is None or old["records"] != text:
            entry.before, entry.after = json.loads(old["records"]) if old else None, json.loads(text)


@dataclass(frozen=True)
class Sending:
    """One signed set of rows on its way to the office, and the office's receipt once there is one."""

    id: int
    key: str
    run: str
    rows: Sequence[HeldRow]
    digest: str
    state: str
    trouble: str | None
    receipt: Mapping[str, Any] | None
    signed_at: datetime
    signed_by: str
    signer_email: str
    course_digest: str


_SENDING = """
SELECT d.*, g.run, g.signed_at, g.course_digest, p.name AS signed_by, p.email AS signer_email
  FROM sending d JOIN signing g ON g.id = d.signing_id JOIN person p ON p.id = g.person_id
 WHERE g.section_id = ? AND g.run = ? AND g.withdrawn_at IS NULL
"""


def sendings(connection: Connection, section_id: int, run: str = "final") -> list[Sending]:
    """All sendings of a section and run, oldest first."""
    rows = connection.execute(_SENDING + " ORDER BY d.id", (section_id, run)).fetchall()
    return [_sending(row) for row in rows]


def sending(connection: Connection, section_id: int, sending_id: int, run: str = "final") -> Sending | None:
    """One sending of a section."""
    row = connection.execute(_SENDING + " AND d.id = ?", (section_id, run, sending_id)).fetchone()
    return _sending(row) if row else None


def _sending(row: Row) -> Sending:
    return Sending(
        row["id"],
        row["key"],
        row["run"],
        [held_row(value) for value in json.loads(row["rows"])],
        row["digest"],
        row["state"],
        row["trouble"],
        json.loads(row["receipt"]) if row["receipt"] else None,
        datetime.fromisoformat(row["signed_at"]),
        row["signed_by"],
        row["signer_email"],
        row["course_digest"],
    )


def sign(connection: Connection, act: Act, key: str, rows: Sequence[HeldRow], course_text: str) -> int:
    """Freeze what is signed, with the rows to be sent and the one key they will ever be sent under.

    `course_text` is the whole course as it was signed; its SHA-256 is kept beside it.
    """
    with writing(connection, act, "signed") as entry:
        signing = connection.execute(
            "INSERT INTO signing (section_id, run, person_id, signed_at, course, course_digest)"
            " VALUES (?, 'final', ?, ?, ?, ?) RETURNING id",
            (act.section_id, act.person_id, stamp(act.at), course_text, text_digest(course_text)),
        ).fetchone()["id"]
        values = [vars(row) for row in rows]
        made = connection.execute(
            "INSERT INTO sending (signing_id, key, rows, digest, state) VALUES (?, ?, ?, ?, 'signed') RETURNING id",
            (signing, key, json.dumps(values, ensure_ascii=False), digest(rows)),
        ).fetchone()["id"]
        entry.what = f"signed {len(rows)} grades"
        entry.after = {"rows": values, "digest": digest(rows)}
    return int(made)


def withdraw_signature(connection: Connection, act: Act, sending_id: int) -> None:
    """Take a signature back while nothing has gone out."""
    with writing(connection, act, "signed") as entry:
        connection.execute(
            "UPDATE signing SET withdrawn_at = ? WHERE id ="
            " (SELECT signing_id FROM sending WHERE id = ? AND state = 'signed') AND section_id = ?",
            (stamp(act.at), sending_id, act.section_id),
        )
        entry.what = "signature taken back, nothing had been sent"


def note_waiting(connection: Connection, act: Act, sending_id: int, trouble: str | None) -> None:
    """A sending is under way or could not be delivered: it waits under its key."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'waiting', trouble = ? WHERE id = ? AND state IN ('signed', 'waiting')",
            (trouble, sending_id),
        )
        entry.what = f"sending not delivered: {trouble}" if trouble else "sending goes out"


def keep_receipt(connection: Connection, act: Act, sending_id: int, receipt: Mapping[str, Any], what: str) -> None:
    """Keep the office's receipt for good; a second answer to the same sending changes nothing."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'received', trouble = NULL, receipt = ?, answered_at = ?"
            " WHERE id = ? AND receipt IS NULL",
            (json.dumps(receipt, ensure_ascii=False), stamp(act.at), sending_id),
        )
        entry.what = what
        entry.after = dict(receipt)


def keep_refusal(connection: Connection, act: Act, sending_id: int, trouble: str) -> None:
    """The office refused the sending as a whole; it is not sent again."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'refused', trouble = ?, answered_at = ? WHERE id = ? AND receipt IS NULL",
            (trouble, stamp(act.at), sending_id),
        )
        entry.what = f"the office refused the sending: {trouble}"


def keep_read_back(connection: Connection, act: Act, rows: Sequence[HeldRow], posted_at: str | None, what: str) -> None:
    """Keep what the office holds now."""
    with writing(connection, act, "read-back") as entry:
        values = [vars(row) for row in rows]
        connection.execute(
            "INSERT INTO read_back VALUES (?, 'final', ?, ?, ?) ON CONFLICT DO UPDATE SET"
            " rows = excluded.rows, posted_at = excluded.posted_at, read_at = excluded.read_at",
            (act.section_id, json.dumps(values, ensure_ascii=False), posted_at, stamp(act.at)),
        )
        entry.what = what


@dataclass(frozen=True)
class ReadBack:
    """What the office held when it was last read."""

    rows: Mapping[str, HeldRow]
    posted_at: str | None
    read_at: datetime


def read_back(connection: Connection, section_id: int) -> ReadBack | None:
    """The last reading of the office's copy."""
    row = connection.execute("SELECT * FROM read_back WHERE section_id = ? AND run = 'final'", (section_id,)).fetchone()
    if row is None:
        return None
    held = {value["id"]: held_row(value) for value in json.loads(row["rows"])}
    return ReadBack(held, row["posted_at"], datetime.fromisoformat(row["read_at"]))


def accepted(found: Sequence[Sending]) -> dict[str, HeldRow]:
    """What the office's receipts say it accepted, the latest row for each student."""
    held: dict[str, HeldRow] = {}
    for one in found:
        if one.receipt is not None:
            taken = {row["id"] for row in one.receipt["rows"] if row["accepted"]}
            held.update({row.id: row for row in one.rows if row.id in taken})
    return held


def refusals(found: Sequence[Sending]) -> dict[str, str]:
    """The office's reason for each row whose latest sending it refused."""
    reasons: dict[str, str] = {}
    for one in found:
        for row in one.receipt["rows"] if one.receipt else ():
            if row["accepted"]:
                reasons.pop(row["id"], None)
            else:
                reasons[row["id"]] = row["reason"]
    return reasons
