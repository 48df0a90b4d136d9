"""Where people are signed in: kept here, so that ending it ends it, whatever cookie a browser still has."""

import json
import secrets
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

from vinemark.store.database import Connection, Row
from vinemark.store.trouble import DatabaseError

LONGEST_SECONDS = 12 * 3600
IDLE_SECONDS = 3 * 3600
NOTED_SECONDS = 60
"""Being seen is written down no more often than this."""
LONGEST_BROWSER = 200


@dataclass(frozen=True)
class SignIn:
    """One place where a person is signed in."""

    id: int
    began: datetime
    seen: datetime
    address: str
    browser: str
    here: bool


def begin(connection: Connection, person_id: int, at: float, address: str, browser: str) -> str:
    """Sign a person in, forgetting what is over; the key for the browser's cookie. `at` is seconds of the epoch."""
    key = secrets.token_urlsafe(32)
    connection.execute("DELETE FROM signed_in WHERE began < ? OR seen < ?", (at - LONGEST_SECONDS, at - IDLE_SECONDS))
    connection.execute(
        "INSERT INTO signed_in (key_digest, person_id, began, seen, address, browser) VALUES (?, ?, ?, ?, ?, ?)",
        (_digest(key), person_id, at, at, address, browser[:LONGEST_BROWSER]),
    )
    return key


def _digest(key: str) -> str:
    return sha256(key.encode()).hexdigest()


def person_of(connection: Connection, key: str, at: float) -> Row | None:
    """Who is signed in by a key, None where that is over; being here is noted."""
    row: Row | None = connection.execute(
        "SELECT p.id, p.name, p.email, coalesce(p.second_step, '') <> '' AS has_second_step, p.created_at, s.seen,"
        " s.id_token <> '' AS vouched"
        " FROM signed_in s JOIN person p ON p.id = s.person_id WHERE s.key_digest = ? AND s.began > ? AND s.seen > ?",
        (_digest(key), at - LONGEST_SECONDS, at - IDLE_SECONDS),
    ).fetchone()
    if row is not None and at - row["seen"] > NOTED_SECONDS:
        # Pages are read all the same where nothing can be written.
        with suppress(DatabaseError):
            connection.execute("UPDATE signed_in SET seen = ? WHERE key_digest = ?", (at, _digest(key)))
    return row


def note_identity(connection: Connection, key: str, id_token: str, sid: str) -> None:
    """By which sign-in at an identity provider somebody is signed in here."""
    connection.execute("UPDATE signed_in SET id_token = ?, sid = ? WHERE key_digest = ?", (id_token, sid, _digest(key)))


def id_token_of(connection: Connection, key: str) -> str:
    """What shows to the provider which sign-in is ended; empty where it was none of its own."""
    row = connection.execute("SELECT id_token FROM signed_in WHERE key_digest = ?", (_digest(key),)).fetchone()
    return str(row["id_token"]) if row else ""


def end_by_sid(connection: Connection, sid: str) -> int:
    """Sign out what was signed in by one session at the provider; at how many places."""
    return connection.execute("DELETE FROM signed_in WHERE sid = ? AND sid <> ''", (sid,)).rowcount


def end_identities(connection: Connection, person_id: int) -> int:
    """Sign a person out wherever the provider signed them in; at how many places."""
    return connection.execute("DELETE FROM signed_in WHERE person_id = ? AND id_token <> ''", (person_id,)).rowcount


def end(connection: Connection, key: str) -> None:
    """Sign out where a key is."""
    connection.execute("DELETE FROM signed_in WHERE key_digest = ?", (_digest(key),))


def end_one(connection: Connection, person_id: int, sign_in_id: int) -> bool:
    """Sign a person out at one of their places; whether there was one."""
    done = connection.execute("DELETE FROM signed_in WHERE id = ? AND person_id = ?", (sign_in_id, person_id))
    return done.rowcount > 0


def end_others(connection: Connection, person_id: int, key: str = "") -> int:
    """Sign a person out everywhere but where the key is; at how many places."""
    done = connection.execute(
        "DELETE FROM signed_in WHERE person_id = ? AND key_digest <> ?", (person_id, _digest(key))
    )
    return done.rowcount


def sign_ins_of(connection: Connection, person_id: int, key: str, at: float) -> Sequence[SignIn]:
    """Where a person is signed in, the latest first."""
    rows = connection.execute(
        "SELECT * FROM signed_in WHERE person_id = ? AND began > ? AND seen > ? ORDER BY seen DESC, id DESC",
        (person_id, at - LONGEST_SECONDS, at - IDLE_SECONDS),
    ).fetchall()
    return [
        SignIn(row["id"], _moment(row["began"]), _moment(row["seen"]), row["address"], row["browser"],
               row["key_digest"] == _digest(key))
        for row in rows
    ]  # fmt: skip


def _moment(at: float) -> datetime:
    return datetime.fromtimestamp(at, UTC).astimezone()


def leave_notice(connection: Connection, key: str, notice: Sequence[Any], at: float) -> None:
    """Keep a sentence for the next page of a sign-in; those of sign-ins that are over go."""
    connection.execute("DELETE FROM notice WHERE at < ?", (at - LONGEST_SECONDS,))
    connection.execute("INSERT OR REPLACE INTO notice VALUES (?, ?, ?)", (_digest(key), json.dumps(notice), at))


def noticed(connection: Connection, key: str) -> list[Any] | None:
    """The sentence that was left, once."""
    row = connection.execute("SELECT notice FROM notice WHERE key_digest = ?", (_digest(key),)).fetchone()
    if row is None:
        return None
    with suppress(DatabaseError):
        connection.execute("DELETE FROM notice WHERE key_digest = ?", (_digest(key),))
    found: list[Any] = json.loads(row["notice"])
    return found
