"""Sections that were archived and removed, and what is left of each: its receipts, and the digest of its archive."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.course.course import SectionName
from vinemark.core.submit.receipt import Receipt, read_receipt
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, last_entry, writing
from vinemark.store.sections import SectionRecord


class ChangedMeanwhileError(Exception):
    """The section was changed after its archive was made."""


@dataclass(frozen=True)
class KeptReceipt:
    """A receipt with its run, and when and by whom the grades were signed."""

    run: str
    signed_at: datetime
    signed_by: str
    receipt: Receipt


@dataclass(frozen=True)
class RemovedSection:
    """What a section leaves."""

    id: int
    term: str
    name: SectionName
    archive_name: str
    archive_digest: str
    receipts: Sequence[KeptReceipt]
    removed_at: datetime


@dataclass(frozen=True)
class Removal:
    """A section whose archive was written: its last history entry then, the archive, and the receipts as values."""

    record: SectionRecord
    seen: int
    archive_name: str
    archive_digest: str
    receipts: Sequence[Mapping[str, Any]]


def remove_section(connection: Connection, act: Act, removal: Removal) -> None:
    """Take a section out with all that hangs on it, and leave its receipts to those who taught it.

    Raises ChangedMeanwhileError where the archive is no longer of all of it; then nothing is changed.
    """
    record = removal.record
    with writing(connection, Act(act.person_id, act.at), "deleted") as entry:
        if last_entry(connection, record.id) != removal.seen:
            raise ChangedMeanwhileError(record.name.short)
        row = connection.execute(
            "INSERT INTO removed_section (former_id, term, course, title, number, archive_name, archive_digest,"
            " receipts, removed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
            (record.id, record.term.name, record.name.course, record.name.title, record.name.number,
             removal.archive_name, removal.archive_digest, json.dumps(removal.receipts), stamp(act.at)),
        ).fetchone()  # fmt: skip
        connection.execute(
            "INSERT INTO removed_of SELECT ?, person_id FROM section_person WHERE section_id = ?"
            " AND role = 'instructor'",
            (row["id"], record.id),
        )
        connection.execute("DELETE FROM section WHERE id = ?", (record.id,))
        entry.what = f"{record.name.short}, {record.term.name} archived and removed; SHA-256 {removal.archive_digest}"


def removed_sections(connection: Connection, person_id: int) -> Sequence[RemovedSection]:
    """Those that somebody taught, the latest first."""
    rows = connection.execute(
        "SELECT r.* FROM removed_of o JOIN removed_section r ON r.id = o.removed_id WHERE o.person_id = ?"
        " ORDER BY r.removed_at DESC, r.course, r.number",
        (person_id,),
    ).fetchall()
    return [_removed(row) for row in rows]


def removed_section(connection: Connection, person_id: int, removed_id: int) -> RemovedSection | None:
    """One of them."""
    return next((one for one in removed_sections(connection, person_id) if one.id == removed_id), None)


def _removed(row: Row) -> RemovedSection:
    receipts = [
        KeptReceipt(one["run"], moment_of(one["signed_at"]), one["signed_by"], read_receipt(one["receipt"]))
        for one in json.loads(row["receipts"])
    ]
    name = SectionName(row["course"], row["title"], row["number"])
    kept = (row["archive_name"], row["archive_digest"], receipts, moment_of(row["removed_at"]))
    return RemovedSection(row["id"], row["term"], name, *kept)
