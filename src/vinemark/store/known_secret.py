"""Which secret the server used last, by a digest that does not give it away: to notice that it is another one."""

import hmac

from vinemark.store.database import Connection, transaction


def is_other_secret(connection: Connection, secret: str) -> bool:
    """Whether the database was served with another secret before."""
    row = connection.execute("SELECT digest FROM known_secret").fetchone()
    return row is not None and row["digest"] != _digest(secret)


def note_secret(connection: Connection, secret: str) -> None:
    """Keep which secret is used from now on."""
    if connection.execute("SELECT 1 FROM known_secret WHERE digest = ?", (_digest(secret),)).fetchone():
        return
    with transaction(connection):
        connection.execute("DELETE FROM known_secret")
        connection.execute("INSERT INTO known_secret VALUES (?)", (_digest(secret),))


def _digest(secret: str) -> str:
    return hmac.digest(secret.encode(), b"the secret that was used last", "sha256").hex()
