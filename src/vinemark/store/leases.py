"""Leases: what only one process may do at a time, and until when it may."""

from datetime import datetime

from vinemark.store.database import Connection, transaction
from vinemark.store.history import stamp


def hold(connection: Connection, name: str, holder: str, now: datetime, until: datetime) -> bool:
    """Take or renew a lease; False where somebody else holds it."""
    with transaction(connection):
        taken = connection.execute(
            "INSERT INTO lease VALUES (:name, :holder, :until) ON CONFLICT DO UPDATE"
            " SET holder = excluded.holder, until = excluded.until"
            " WHERE holder = excluded.holder OR until <= :now",
            {"name": name, "holder": holder, "until": stamp(until), "now": stamp(now)},
        )
    return taken.rowcount > 0


def release(connection: Connection, name: str, holder: str) -> None:
    """Give a lease back, where this holder has it."""
    with transaction(connection):
        connection.execute("DELETE FROM lease WHERE name = ? AND holder = ?", (name, holder))
