"""Who works at the registrar's pages: signed in with the registrar's code, under a name that stands beside each act."""

import hmac
import time
from collections.abc import Sequence
from datetime import datetime

from vinemark.core.base.moments import stamp
from vinemark.store.database import Connection, Row, transaction

WINDOW_SECONDS = 15 * 60
WRONG_CODES = 10
"""So many wrong codes in a quarter of an hour, from everywhere, and the next has to wait."""
SHOWN = 20


def right_code(connection: Connection, typed: str, code: str) -> bool | None:
    """Whether the registrar's code was typed; None where too many were wrong of late. A try counts at once."""
    at = time.time()
    with transaction(connection):
        connection.execute("DELETE FROM wrong_code WHERE at < ?", (at - WINDOW_SECONDS,))
        if connection.execute("SELECT count(*) FROM wrong_code").fetchone()[0] >= WRONG_CODES:
            return None
        connection.execute("INSERT INTO wrong_code VALUES (?)", (at,))
    right = hmac.compare_digest(typed.strip().encode(), code.encode())
    if right:
        connection.execute("DELETE FROM wrong_code")
    return right


def note_act(connection: Connection, at: datetime, person: str, what: str) -> None:
    """Write down who did what."""
    values = (stamp(at), person, what)
    connection.execute("INSERT INTO act (at, person, what) VALUES (?, ?, ?)", values)


def acts(connection: Connection) -> Sequence[Row]:
    """The latest acts, newest first."""
    return connection.execute("SELECT at, person, what FROM act ORDER BY number DESC LIMIT ?", (SHOWN,)).fetchall()
