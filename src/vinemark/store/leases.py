"""Leases: what only one process may do at a time, and until when it may."""

from datetime import datetime

from vinemark.core.base.moments import stamp
from vinemark.store.database import Connection, transaction


def hold(connection: Connection, name: str, holder: str, now: datetime, until: datetime) -> bool:
    """Take or renew a lease; False where somebody else holds it.

    One that would run longer than the one asked for was made before the clock was set back, and is over.
    """
    with transaction(connection):
        taken = connection.execute(
            "INSERT INTO lease VALUES (:name, :holder, :until) ON CONFLICT DO UPDATE"
            " SET holder = excluded.holder, until = excluded.until"
            " WHERE holder = excluded.holder OR unixepoch(until) NOT BETWEEN unixepoch(:now) + 1 AND unixepoch(:until)",
            {"name": name, "holder": holder, "until": stamp(until), "now": stamp(now)},
        )
    return taken.rowcount > 0


def release(connection: Connection, name: str, holder: str) -> None:
    """Give a lease back, where this holder has it."""
    with transaction(connection):
        connection.execute("DELETE FROM lease WHERE name = ? AND holder = ?", (name, holder))
