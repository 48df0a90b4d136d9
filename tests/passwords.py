"""The demo people's password with a hash that takes no time: what is tested is seldom how long signing in takes."""

from contextlib import closing
from pathlib import Path

from vinemark.passwords import hasher
from vinemark.store.database import connect

PASSWORD = "larkmoor"


def quick_passwords(database: Path) -> None:
    """Everybody's password hashed cheaply."""
    with closing(connect(database)) as connection:
        connection.execute("UPDATE person SET password_hash = ?", (hasher(cheap=True).hash(PASSWORD),))
