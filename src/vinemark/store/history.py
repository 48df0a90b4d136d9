"""The one door for writes: a transaction with a history entry, the same when retried."""

import json
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from vinemark.core.base.moments import moment_of, stamp
from vinemark.store.chain import seal_for
from vinemark.store.database import Connection, Row, transaction


class AlreadyDoneError(Exception):
    """This request key has been written before, as `entry`: nothing is to be done again."""

    def __init__(self, key: str, entry: int) -> None:
        super().__init__(key)
        self.entry = entry


class ChangedSinceError(Exception):
    """What was to be changed is no longer as it was seen; the message says so."""


@dataclass(frozen=True)
class Act:
    """Who acts, when, on which section, and the key that names this one request.

    `page` is the page instance it comes from, `seen` the last history entry that this page showed.
    """

    person_id: int | None
    at: datetime
    section_id: int | None = None
    key: str | None = None
    page: str | None = None
    seen: int | None = None

    def without_key(self) -> "Act":
        """The same act for a further write of one request."""
        return replace(self, key=None)

    def on(self, section_id: int) -> "Act":
        """A further write of one request, on a section."""
        return replace(self, key=None, section_id=section_id)


@dataclass
class HistoryEntry:
    """A history entry being written; `id` and `seal` are known once it is."""

    kind: str
    what: str = ""
    before: Any = None
    after: Any = None
    undoes: int | None = None
    section_id: int | None = None
    id: int = 0
    seal: str = ""


@contextmanager
def writing(connection: Connection, act: Act, kind: str) -> Iterator[HistoryEntry]:
    """One write: everything inside happens together with its history entry, or not at all.

    Raises AlreadyDoneError where the act's key has been written before.
    """
    with transaction(connection):
        refuse_repeated(connection, act)
        entry = HistoryEntry(kind, section_id=act.section_id)
        yield entry
        entry.id = _insert(connection, act, entry)


def refuse_repeated(connection: Connection, act: Act) -> None:
    """Raise AlreadyDoneError where the act's key has been written before."""
    if act.key is None:
        return
    row = connection.execute("SELECT id FROM history WHERE request_key = ?", (act.key,)).fetchone()
    if row is not None:
        raise AlreadyDoneError(act.key, int(row["id"]))


def _insert(connection: Connection, act: Act, entry: HistoryEntry) -> int:
    said = [stamp(act.at), entry.kind, entry.what, _json(entry.before), _json(entry.after)]
    salt = seal = person = None
    if entry.section_id is not None:
        made = seal_for(connection, entry.section_id, act.person_id, said, entry.undoes)
        salt, seal, person = bytes.fromhex(made.salt), bytes.fromhex(made.seal), made.person
        entry.seal = made.seal
    row = connection.execute(
        "INSERT INTO history (at, kind, what, before, after, person_id, section_id, request_key, undoes, page, by_name,"
        " salt, seal) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (*said, act.person_id, entry.section_id, act.key, entry.undoes, act.page, person, salt, seal),
    ).fetchone()
    return int(row["id"])


def _json(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)


ENTRIES_SHOWN = 200


@dataclass(frozen=True)
class WantedEntries:
    """Which entries are wanted: of some kinds (all where none is named), that name a student."""

    kinds: Sequence[str] = ()
    student: str = ""


def entries_of(
    connection: Connection,
    section_id: int,
    limit: int = ENTRIES_SHOWN,
    before: int | None = None,
    wanted: WantedEntries | None = None,
) -> Sequence[Row]:
    """The section's history, newest first, with names and whether each entry was undone; `before` an entry, where
    only earlier ones are wanted."""
    wanted = wanted or WantedEntries()
    return connection.execute(
        "SELECT h.id, h.at, h.kind, h.what, coalesce(h.before, h.after) IS NOT NULL AS more,"
        " coalesce(h.by_name, p.name) AS person_name, u.id AS undone_by FROM history h"
        " LEFT JOIN person p ON p.id = h.person_id LEFT JOIN history u ON u.undoes = h.id"
        " WHERE h.section_id = :section AND h.id < coalesce(:before, 9223372036854775807)"
        " AND (:kinds = '[]' OR h.kind IN (SELECT value FROM json_each(:kinds)))"
        " AND (:student = '' OR instr(h.after, :student) OR instr(h.before, :student))"
        " ORDER BY h.id DESC LIMIT :limit",
        {
            "section": section_id,
            "before": before,
            "limit": limit,
            "kinds": json.dumps(list(wanted.kinds)),
            "student": json.dumps(wanted.student, ensure_ascii=False) if wanted.student else "",
        },
    ).fetchall()


def entry_of(connection: Connection, section_id: int, entry_id: int) -> Row | None:
    """One entry of a section's history."""
    row: Row | None = connection.execute(
        "SELECT h.*, u.id AS undone_by FROM history h LEFT JOIN history u ON u.undoes = h.id"
        " WHERE h.section_id = ? AND h.id = ?",
        (section_id, entry_id),
    ).fetchone()
    return row


def entries_after(connection: Connection, section_id: int, seen: int, most: int) -> Sequence[Row]:
    """Kind and after of the entries after one, oldest first, `most` of them; `on_column` where a whole column was acted
    on, or such an act may have been undone."""
    return connection.execute(
        "SELECT id, kind, after, id IN (SELECT entry_id FROM column_act) OR undoes IS NOT NULL AND EXISTS (SELECT 1"
        " FROM column_act c JOIN history h ON h.id = c.entry_id WHERE h.section_id = history.section_id) AS on_column"
        " FROM history WHERE section_id = ? AND id > ? ORDER BY id LIMIT ?",
        (section_id, seen, most),
    ).fetchall()


def last_saved(connection: Connection, section_id: int) -> datetime | None:
    """When something of the section was last written."""
    row = connection.execute(
        "SELECT at FROM history WHERE section_id = ? ORDER BY id DESC LIMIT 1", (section_id,)
    ).fetchone()
    return moment_of(row["at"]) if row else None


def latest_time(connection: Connection) -> datetime | None:
    """The latest time that stands in the history of anything."""
    row = connection.execute("SELECT max(at) AS at FROM history").fetchone()
    return moment_of(row["at"]) if row["at"] else None


def last_entry(connection: Connection, section_id: int) -> int:
    """The number of the section's latest history entry."""
    row = connection.execute("SELECT max(id) AS id FROM history WHERE section_id = ?", (section_id,)).fetchone()
    return int(row["id"] or 0)


@dataclass(frozen=True)
class LaterEntry:
    """An entry that somebody made after a page was looked at; `before` and `after` as the history keeps them."""

    id: int
    at: str
    person_id: int | None
    person: str | None
    kind: str
    what: str
    before: Any
    after: Any


def later_entries(
    connection: Connection, section_id: int, seen: int, kinds: Sequence[str], page: str | None
) -> list[LaterEntry]:
    """The entries of some kinds after one that was seen, oldest first, but for those of the same page."""
    rows = connection.execute(
        "SELECT h.id, h.at, h.person_id, coalesce(h.by_name, p.name) AS person, h.kind, h.what, h.before, h.after"
        " FROM history h LEFT JOIN person p ON p.id = h.person_id WHERE h.section_id = ? AND h.id > ?"
        " AND h.kind IN (SELECT value FROM json_each(?)) AND (h.page IS NULL OR h.page IS NOT ?) ORDER BY h.id",
        (section_id, seen, json.dumps(list(kinds)), page),
    ).fetchall()
    return [LaterEntry(**{**dict(row), "before": _value(row["before"]), "after": _value(row["after"])}) for row in rows]


def as_later_entry(row: Row) -> LaterEntry:
    """An entry with what it was before and after as values."""
    before, after = _value(row["before"]), _value(row["after"])
    return LaterEntry(row["id"], row["at"], row["person_id"], row["by_name"], row["kind"], row["what"], before, after)


def _value(text: str | None) -> Any:
    return None if text is None else json.loads(text)
