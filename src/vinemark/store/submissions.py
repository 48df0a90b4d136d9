"""What was signed and sent to the registrar, its receipts, and what it held when it was read back."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple

from vinemark.core.base.moments import later, moment_of, stamp
from vinemark.core.base.refused import Refused, iso_moment
from vinemark.core.course.course import RUNS, Run
from vinemark.core.submit.grade_row import GradeRow, digest, read_grade_row, row_values, text_digest
from vinemark.core.submit.receipt import Receipt, read_receipt, receipt_values
from vinemark.core.submit.submission import RegistrarCopy, Submission
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act, ChangedSinceError, writing

_FROM = """
SELECT d.*, g.section_id, g.run, g.signed_at, g.course_digest, g.history_seal,
       coalesce(g.signer_name, p.name) AS signed_by, coalesce(g.signer_email, p.email) AS signer_email
  FROM sending d JOIN signing g ON g.id = d.signing_id JOIN person p ON p.id = g.person_id
 WHERE g.withdrawn_at IS NULL
"""
_SENDING = _FROM + " AND g.section_id = ? AND g.run = ?"


def submissions_of(connection: Connection, section_id: int, run: Run = "final") -> list[Submission]:
    """All sendings of a section and run, oldest first."""
    rows = connection.execute(_SENDING + " ORDER BY d.id", (section_id, run)).fetchall()
    return [_sending(row) for row in rows]


def submission_of(connection: Connection, section_id: int, submission_id: int) -> Submission | None:
    """One sending of a section, of either run."""
    row = connection.execute(_FROM + " AND g.section_id = ? AND d.id = ?", (section_id, submission_id)).fetchone()
    return _sending(row) if row else None


class Delivery(NamedTuple):
    """Something that waits to be delivered: which section's, and for whom."""

    section_id: int
    id: int
    person_id: int


def due_submissions(connection: Connection, now: datetime, pause: timedelta) -> list[Delivery]:
    """Sendings of all sections that wait and can be tried again: not before their time, and not tried just now."""
    rows = connection.execute(
        "SELECT g.section_id, d.id, g.person_id FROM sending d JOIN signing g ON g.id = d.signing_id"
        " JOIN section s ON s.id = g.section_id"
        " WHERE d.state = 'waiting' AND d.by_file = 0 AND g.withdrawn_at IS NULL AND s.archive IS NULL"
        " AND (d.send_after IS NULL OR unixepoch(d.send_after) <= unixepoch(:now))"
        " AND coalesce(unixepoch(d.tried_at) NOT BETWEEN unixepoch(:since) + 1 AND unixepoch(:now), 1) ORDER BY d.id",
        within(now, pause),
    ).fetchall()
    return [Delivery(*row) for row in rows]


def waiting_since(connection: Connection, section_id: int, before: datetime) -> list[datetime]:
    """When those submissions were signed that wait without an answer since before a time."""
    rows = connection.execute(
        "SELECT g.signed_at FROM sending d JOIN signing g ON g.id = d.signing_id WHERE g.section_id = ?"
        " AND g.withdrawn_at IS NULL AND d.state IN ('signed', 'waiting')"
        " AND unixepoch(g.signed_at) < unixepoch(?) ORDER BY d.id",
        (section_id, stamp(before)),
    ).fetchall()
    return [moment_of(row["signed_at"]) for row in rows]


def within(now: datetime, pause: timedelta) -> dict[str, str]:
    """The two ends of a pause before now, for SQL; what was after now was before the clock was set back, and is not
    waited for."""
    return {"now": stamp(now), "since": stamp(later(now, -pause))}


class Awaited(NamedTuple):
    """A run of a section of which the registrar still has something to tell, and for whom it is asked."""

    section_id: int
    run: Run
    person_id: int


def awaited(connection: Connection, now: datetime, pause: timedelta) -> list[Awaited]:
    """Runs that were received and not read back just now, where the registrar may have news: it has not posted yet, it
    owes an answer to a change of grade, or an incomplete's date is past."""
    rows = connection.execute(
        "SELECT g.section_id, g.run, max(g.person_id) FROM sending d JOIN signing g ON g.id = d.signing_id"
        " JOIN section s ON s.id = g.section_id"
        " LEFT JOIN read_back r ON r.section_id = g.section_id AND r.run = g.run"
        " WHERE d.state = 'received' AND s.archive IS NULL"
        " AND coalesce(unixepoch(r.read_at) NOT BETWEEN unixepoch(:since) + 1 AND unixepoch(:now), 1)"
        " AND (r.posted_at IS NULL"
        "   OR (g.run = 'final' AND EXISTS (SELECT 1 FROM grade_change c"
        "     WHERE c.section_id = g.section_id AND c.state = 'sent'))"
        "   OR EXISTS (SELECT 1 FROM json_each(r.rows)"
        "     WHERE json_extract(value, '$.finish_by') < substr(:since, 1, 10)))"
        " GROUP BY g.section_id, g.run ORDER BY g.section_id, g.run",
        within(now, pause),
    ).fetchall()
    return [Awaited(*row) for row in rows]


UNREADABLE = (Refused, ValueError, TypeError, KeyError, AttributeError, RecursionError)


def _receipt(text: str | None) -> Receipt | None:
    return read_receipt(json.loads(text)) if text else None


def _is_unreadable(text: str | None) -> bool:
    try:
        _receipt(text)
    except UNREADABLE:
        return True
    return False


def _sending(row: Row) -> Submission:
    unreadable = _is_unreadable(row["receipt"])
    return Submission(
        row["id"],
        row["section_id"],
        row["key"],
        row["run"],
        [read_grade_row(value) for value in json.loads(row["rows"])],
        row["digest"],
        "waiting" if unreadable else row["state"],
        "the receipt that was saved cannot be read" if unreadable else row["trouble"],
        None if unreadable else _receipt(row["receipt"]),
        moment_of(row["signed_at"]),
        row["signed_by"],
        row["signer_email"],
        row["course_digest"],
        moment_of(row["send_after"]) if row["send_after"] else None,
        bool(row["by_file"]),
        bool(row["unconfirmed"]) or unreadable,
        unreadable,
        row["history_seal"],
    )


@dataclass(frozen=True)
class SignedCopy:
    """What is signed: the whole course and the findings that stand, as text, and the rows to be sent."""

    run: Run
    rows: Sequence[GradeRow]
    course: str
    findings: str

    @property
    def digest(self) -> str:
        """SHA-256 of the frozen copy: the course file followed by the findings."""
        return text_digest(self.course + self.findings)


SIGNED_MEANWHILE = "These grades were signed in another window meanwhile; nothing was signed twice."


def write_signature(connection: Connection, act: Act, key: str, signed: SignedCopy, seen: int) -> int:
    """Freeze what is signed, with the rows to be sent and the one key they will ever be sent under.

    `seen` is the run's latest sending when the signer looked, 0 for none. Raises ChangedSinceError where there is
    a later one: what was seen as ready may be on its way already.
    """
    with transaction(connection):
        with writing(connection, act, "signed") as entry:
            assert act.section_id is not None  # noqa: S101
            if _latest(connection, act.section_id, signed.run) != seen:
                raise ChangedSinceError(
                    "These grades were signed in another window meanwhile; nothing was signed twice."
                )
            signing = connection.execute(
                "INSERT INTO signing (section_id, run, person_id, signed_at, course, course_digest, findings)"
                " VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
                (act.section_id, signed.run, act.person_id, stamp(act.at), signed.course, signed.digest,
                 signed.findings),
            ).fetchone()["id"]  # fmt: skip
            values = [row_values(row) for row in signed.rows]
            made = connection.execute(
                "INSERT INTO sending (signing_id, key, rows, digest, state) VALUES (?, ?, ?, ?, 'signed') RETURNING id",
                (signing, key, json.dumps(values, ensure_ascii=False), digest(signed.rows)),
            ).fetchone()["id"]
            entry.what = f"signed {len(signed.rows)} {signed.run} grades"
            entry.after = {"rows": values, "digest": digest(signed.rows), "signed": signed.digest}
        connection.execute("UPDATE signing SET history_seal = ? WHERE id = ?", (entry.seal, signing))
    return int(made)


def _latest(connection: Connection, section_id: int, run: Run) -> int:
    row = connection.execute(
        "SELECT coalesce(max(d.id), 0) AS latest FROM sending d JOIN signing g ON g.id = d.signing_id"
        " WHERE g.section_id = ? AND g.run = ? AND g.withdrawn_at IS NULL",
        (section_id, run),
    ).fetchone()
    return int(row["latest"])


def signed_course(connection: Connection, section_id: int, submission_id: int) -> str | None:
    """The course file as it was signed with a sending."""
    row = connection.execute(
        "SELECT g.course FROM signing g JOIN sending d ON d.signing_id = g.id WHERE g.section_id = ? AND d.id = ?",
        (section_id, submission_id),
    ).fetchone()
    return str(row["course"]) if row else None


def signed_text(connection: Connection, section_id: int, submission_id: int) -> str | None:
    """The whole frozen copy: the course file followed by the findings, over which the digest was taken."""
    row = connection.execute(
        "SELECT g.course || g.findings AS text FROM signing g JOIN sending d ON d.signing_id = g.id"
        " WHERE g.section_id = ? AND d.id = ?",
        (section_id, submission_id),
    ).fetchone()
    return str(row["text"]) if row else None


def write_withdrawal(connection: Connection, act: Act, submission_id: int) -> None:
    """Take a signature back while nothing has gone out. Raises ChangedSinceError where it may have."""
    with writing(connection, act, "signed") as entry:
        changed = connection.execute(
            "UPDATE signing SET withdrawn_at = ? WHERE withdrawn_at IS NULL AND section_id = ? AND id ="
            " (SELECT signing_id FROM sending WHERE id = ?"
            # Never tried, or no attempt ever reached the registrar: it has nothing of it.
            " AND state IN ('signed', 'waiting') AND unconfirmed = 0)",
            (stamp(act.at), act.section_id, submission_id),
        )
        if changed.rowcount == 0:
            raise ChangedSinceError("It was sent already and cannot be withdrawn. Send it again for its receipt.")
        entry.what = "signature withdrawn; nothing had been sent"


def mark_under_way(connection: Connection, act: Act, submission_id: int) -> bool | None:
    """Note that a submission goes out: whether an earlier attempt may have arrived; None where it was answered or its
    signature taken back meanwhile."""
    with transaction(connection):
        row = connection.execute(
            "SELECT d.unconfirmed, d.state, d.receipt FROM sending d JOIN signing g ON g.id = d.signing_id"
            " WHERE d.id = ? AND g.withdrawn_at IS NULL",
            (submission_id,),
        ).fetchone()
        if row is not None and _is_unreadable(row["receipt"]):
            _put_away_receipt(connection, act, submission_id, row["receipt"])
            return True
        if row is None or row["state"] not in {"signed", "waiting"}:
            return None
        note_submission_waiting(connection, act, submission_id, None, None, True)
    return bool(row["unconfirmed"])


def _put_away_receipt(connection: Connection, act: Act, submission_id: int, text: str) -> None:
    """A receipt that cannot be read goes into the history, and the registrar is asked for it again."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'waiting', receipt = NULL, trouble = NULL, unconfirmed = 1 WHERE id = ?",
            (submission_id,),
        )
        entry.what, entry.before = "a receipt that could not be read was removed", text


def note_submission_waiting(
    connection: Connection,
    act: Act,
    submission_id: int,
    trouble: str | None,
    send_after: datetime | None,
    unconfirmed: bool,
) -> None:
    """A sending is under way or could not be delivered: it waits under its key, and goes out after a time.

    `unconfirmed` says that an attempt may have arrived.
    """
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'waiting', by_file = 0, trouble = ?, send_after = ?, tried_at = ?,"
            " unconfirmed = ? WHERE id = ? AND state IN ('signed', 'waiting')",
            (trouble, stamp(send_after) if send_after else None, stamp(act.at), unconfirmed, submission_id),
        )
        entry.what = f"submission not delivered: {trouble}" if trouble else "submission sent"


def note_file_taken_out(connection: Connection, act: Act, submission_id: int) -> None:
    """A sending was taken out as a file, to be handed in by hand."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'waiting', by_file = 1, trouble = NULL, tried_at = ?, unconfirmed = 1"
            " WHERE id = ? AND state IN ('signed', 'waiting')",
            (stamp(act.at), submission_id),
        )
        entry.what = "submission downloaded as a file"


def write_receipt(connection: Connection, act: Act, submission_id: int, receipt: Receipt) -> bool:
    """Keep the registrar's receipt for good; a second answer to the same sending changes nothing and gives False."""
    with transaction(connection):
        row = connection.execute("SELECT receipt FROM sending WHERE id = ?", (submission_id,)).fetchone()
        if row["receipt"] is not None:
            return False
        values = dict(receipt_values(receipt))
        with writing(connection, act, "sending") as entry:
            connection.execute(
                "UPDATE sending SET state = 'received', trouble = NULL, receipt = ?, answered_at = ? WHERE id = ?",
                (json.dumps(values, ensure_ascii=False), stamp(act.at), submission_id),
            )
            entry.what, entry.after = receipt.words, values
    return True


def write_refusal(connection: Connection, act: Act, submission_id: int, trouble: str) -> None:
    """The registrar refused the sending as a whole; it is not sent again."""
    with writing(connection, act, "sending") as entry:
        connection.execute(
            "UPDATE sending SET state = 'refused', trouble = ?, answered_at = ? WHERE id = ? AND receipt IS NULL",
            (trouble, stamp(act.at), submission_id),
        )
        entry.what = f"the registrar refused the submission: {trouble}"


def write_registrar_copy(connection: Connection, act: Act, run: Run, found: RegistrarCopy, what: str) -> None:
    """Keep what the registrar has now; one that brings nothing new only moves the time."""
    assert act.section_id is not None  # noqa: S101
    with transaction(connection):
        if found.same_as(registrar_copy_of(connection, act.section_id, run)):
            connection.execute(
                "UPDATE read_back SET read_at = ? WHERE section_id = ? AND run = ?",
                (stamp(found.read_at), act.section_id, run),
            )
            return
        with writing(connection, act, "read-back") as entry:
            _put_read_back(connection, act.section_id, run, found)
            entry.what = what


def _put_read_back(connection: Connection, section_id: int, run: Run, found: RegistrarCopy) -> None:
    rows, fell_back = (
        json.dumps([row_values(row) for row in some.values()], ensure_ascii=False)
        for some in (found.rows, found.fell_back)
    )
    connection.execute(
        "INSERT INTO read_back (section_id, run, rows, posted_at, read_at, fell_back, covers)"
        " VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET rows = excluded.rows,"
        " posted_at = excluded.posted_at, read_at = excluded.read_at, fell_back = excluded.fell_back,"
        " covers = excluded.covers",
        (section_id, run, rows, found.posted_at, stamp(found.read_at), fell_back, found.covers),
    )


def registrar_copy_of(connection: Connection, section_id: int, run: Run = "final") -> RegistrarCopy | None:
    """What the registrar had when last asked; none where that was never done, or what was saved cannot be read."""
    row = connection.execute("SELECT * FROM read_back WHERE section_id = ? AND run = ?", (section_id, run)).fetchone()
    try:
        return _copy(row) if row else None
    except UNREADABLE:
        return None


def _copy(row: Row) -> RegistrarCopy:
    held, fell_back = (
        {found.id: found for found in map(read_grade_row, json.loads(row[key]))} for key in ("rows", "fell_back")
    )
    if row["posted_at"] is not None:
        iso_moment(row["posted_at"], "posted_at")
    return RegistrarCopy(held, row["posted_at"], moment_of(row["read_at"]), fell_back, row["covers"])


def latest_answered(connection: Connection, section_id: int, run: Run) -> int:
    """The id of a run's latest submission that has its receipt; 0 for none."""
    row = connection.execute(
        "SELECT coalesce(max(d.id), 0) AS latest FROM sending d JOIN signing g ON g.id = d.signing_id"
        " WHERE g.section_id = ? AND g.run = ? AND d.receipt IS NOT NULL",
        (section_id, run),
    ).fetchone()
    return int(row["latest"])


def refuse_unreadable(connection: Connection, section_id: int) -> None:
    """Raise Refused where a receipt or a copy of the registrar's that a section keeps cannot be read."""
    for row in connection.execute("SELECT * FROM read_back WHERE section_id = ?", (section_id,)).fetchall():
        _copy(row)
    for run in RUNS:
        if any(one.unreadable for one in submissions_of(connection, section_id, run)):
            raise Refused("receipt", "cannot be read")


def registrar_asked_at(connection: Connection, section_id: int, run: Run) -> datetime | None:
    """When the registrar was last asked what it has; it moves also where the answer brings nothing new."""
    row = connection.execute(
        "SELECT read_at FROM read_back WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchone()
    return moment_of(row["read_at"]) if row else None
