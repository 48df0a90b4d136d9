"""Tries to sign in, counted before they are answered so that parallel ones see one another, and how long to wait."""

from vinemark.store.database import Connection, Row, transaction

WINDOW_SECONDS = 15 * 60
OWN_TRIES = 5
"""Wrong ones for an email address from one place, before the pauses begin."""
ALL_TRIES = 50
"""Wrong ones for an email address from everywhere, a device that signed in before left out."""
TRIES_FROM_ONE_ADDRESS = 300
"""A whole college may come from one address."""
SHORT_PAUSE = 30


def note_try(connection: Connection, email: str, address: str, device: str, at: float) -> int:
    """Count a try and give 0; or the seconds to wait, where it comes too early and is not counted.

    `device` is empty, or names a device that the person signed in from before: it waits for its own tries only.
    """
    email, since = email.strip(), at - WINDOW_SECONDS
    with transaction(connection):
        connection.execute("DELETE FROM sign_in_failure WHERE at < ?", (since,))
        wait = _wait(connection, email, address, device, at)
        if wait <= 0:
            connection.execute(
                "INSERT INTO sign_in_failure (email, address, device, at) VALUES (?, ?, ?, ?)",
                (email, address, device, at),
            )
    return max(0, wait)


def clear_tries(connection: Connection, email: str, address: str, device: str) -> None:
    """Forget the tries from one place, after one that was right."""
    connection.execute(
        "DELETE FROM sign_in_failure WHERE email = ? AND (device = ? AND device <> '' OR device = '' AND address = ?)",
        (email.strip(), device, address),
    )


_COUNT = "SELECT count(*) AS n, coalesce(max(at), 0) AS latest FROM sign_in_failure WHERE "


def _wait(connection: Connection, email: str, address: str, device: str, at: float) -> int:
    def counted(where: str, *values: str) -> Row:
        found: Row = connection.execute(_COUNT + where, values).fetchone()
        return found

    if device:
        return _own_pause(counted("email = ? AND device = ?", email, device), at)
    return max(
        _own_pause(counted("email = ? AND address = ? AND device = ''", email, address), at),
        _short_pause(counted("email = ? AND device = ''", email), ALL_TRIES, at),
        _short_pause(counted("address = ? AND device = ''", address), TRIES_FROM_ONE_ADDRESS, at),
    )


def _own_pause(tries: Row, at: float) -> int:
    """5 seconds after the fifth wrong try, doubling with each one more, a quarter of an hour at most."""
    over = int(tries["n"]) - OWN_TRIES
    return 0 if over < 0 else int(tries["latest"] + min(WINDOW_SECONDS, 5 * 2 ** min(over, 10)) - at)


def _short_pause(tries: Row, most: int, at: float) -> int:
    return 0 if tries["n"] < most else int(tries["latest"] + SHORT_PAUSE - at)
