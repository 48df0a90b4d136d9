"""Seals of history entries: what each is worked out from, as it is kept."""

import json
import secrets
from collections.abc import Sequence
from typing import NamedTuple

from vinemark.core.base.chain import ERASING, REWRITTEN, SealedEntry, entry_digest, next_seal
from vinemark.store.database import Connection, Row

SALT_BYTES = 16


class Seal(NamedTuple):
    """What an entry is sealed with, in hexadecimal, and the name of who made it."""

    salt: str
    seal: str
    person: str | None


def new_salt() -> str:
    """A salt in hexadecimal."""
    return secrets.token_hex(SALT_BYTES)


def seal_for(
    connection: Connection, section_id: int, person_id: int | None, said: Sequence[str | None], undoes: int | None
) -> Seal:
    """The seal of an entry to be written at a section's end; `said` is time, kind, what, before and after."""
    row = connection.execute(
        "SELECT (SELECT name FROM person WHERE id = :person) AS person,"
        " (SELECT lower(hex(seal)) FROM history WHERE id = :undoes) AS undone,"
        " (SELECT lower(hex(seal)) FROM history WHERE section_id = :section ORDER BY id DESC LIMIT 1) AS last",
        {"person": person_id, "undoes": undoes, "section": section_id},
    ).fetchone()
    last = row["last"]
    if last == "":
        last = _seal_older(connection, section_id)
    salt = new_salt()
    digest = entry_digest(salt, [*said, row["person"]], row["undone"] or "")
    return Seal(salt, next_seal(last or "", digest), row["person"])


def last_seal(connection: Connection, section_id: int) -> str:
    """The seal of a section's latest entry; empty where nothing was written since there are seals."""
    row = connection.execute(
        "SELECT lower(hex(seal)) AS seal FROM history WHERE section_id = ? ORDER BY id DESC LIMIT 1", (section_id,)
    ).fetchone()
    return str(row["seal"]) if row else ""


def _seal_older(connection: Connection, section_id: int) -> str:
    """Seal entries that were written before there were seals; the last one's seal."""
    last = ""
    seals: dict[int, str] = {}
    for entry in sealed_entries(connection, section_id):
        if not entry.seal:
            salt = new_salt()
            digest = entry_digest(salt, entry.said, seals.get(entry.undoes or 0, ""))
            last = next_seal(last, digest)
            connection.execute(
                "UPDATE history SET salt = ?, seal = ?, by_name = ? WHERE id = ?",
                (bytes.fromhex(salt), bytes.fromhex(last), entry.said[-1], entry.id),
            )
        else:
            last = entry.seal
        seals[entry.id] = last
    return last


def sealed_entries(connection: Connection, section_id: int) -> list[SealedEntry]:
    """A section's entries with their seals, oldest first."""
    rows = connection.execute(
        "SELECT h.id, h.at, h.kind, h.what, h.before, h.after, h.undoes, coalesce(h.by_name, p.name) AS person,"
        " lower(hex(h.salt)) AS salt, lower(hex(h.seal)) AS seal, lower(hex(h.first_digest)) AS first_digest"
        " FROM history h LEFT JOIN person p ON p.id = h.person_id WHERE h.section_id = ? ORDER BY h.id",
        (section_id,),
    ).fetchall()
    return [_sealed(row) for row in rows]


def _sealed(row: Row) -> SealedEntry:
    said = [row[name] for name in ("at", "kind", "what", "before", "after", "person")]
    rewrote = (json.loads(row["after"] or "null") or {}).get(REWRITTEN) if row["kind"] == ERASING else None
    return SealedEntry(row["id"], said, row["undoes"], row["salt"], row["seal"], row["first_digest"], rewrote)


def keep_first_digest(connection: Connection, entry: SealedEntry, undone_seal: str) -> str:
    """Before an entry is rewritten: keep the digest of what it said, and give it another salt, which is returned."""
    first = entry.first_digest or entry_digest(entry.salt, entry.said, undone_seal)
    salt = new_salt()
    connection.execute(
        "UPDATE history SET first_digest = ?, salt = ? WHERE id = ?",
        (bytes.fromhex(first), bytes.fromhex(salt), entry.id),
    )
    return salt
