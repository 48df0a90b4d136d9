"""People who sign in, and their failures to do so."""

from collections.abc import Sequence

from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, stamp, writing

FAILURES_ALLOWED = 5
ADDRESS_FAILURES_ALLOWED = 50
WINDOW_SECONDS = 15 * 60


class EmailTakenError(ValueError):
    """Somebody has this e-mail address already."""


def anybody(connection: Connection) -> bool:
    """Whether there is any account yet."""
    return connection.execute("SELECT 1 FROM person LIMIT 1").fetchone() is not None


def everybody(connection: Connection) -> Sequence[Row]:
    """All people, by name."""
    return connection.execute("SELECT id, email, name FROM person ORDER BY name").fetchall()


def by_email(connection: Connection, email: str) -> Row | None:
    """The person with an e-mail address, in any case of letters."""
    row: Row | None = connection.execute("SELECT * FROM person WHERE email = ?", (email.strip(),)).fetchone()
    return row


def by_id(connection: Connection, person_id: int) -> Row | None:
    """The person with an id."""
    row: Row | None = connection.execute("SELECT * FROM person WHERE id = ?", (person_id,)).fetchone()
    return row


def add_person(
    connection: Connection, act: Act, email: str, name: str, password_hash: str, only_first: bool = False
) -> int:
    """A new person; `only_first` refuses where there is one already. Raises EmailTakenError."""
    with writing(connection, act, "person") as entry:
        if by_email(connection, email) is not None or (only_first and anybody(connection)):
            raise EmailTakenError(email)
        row = connection.execute(
            "INSERT INTO person (email, name, password_hash, created_at) VALUES (?, ?, ?, ?) RETURNING id",
            (email.strip(), name.strip(), password_hash, stamp(act.at)),
        ).fetchone()
        entry.what = f"account made for {name.strip()}"
        entry.after = {"email": email.strip(), "name": name.strip()}
    return int(row["id"])


def note_failure(connection: Connection, email: str, address: str, at: float) -> None:
    """Remember a failed sign-in; old ones are forgotten."""
    connection.execute("DELETE FROM sign_in_failure WHERE at < ?", (at - WINDOW_SECONDS,))
    connection.execute(
        "INSERT INTO sign_in_failure (email, address, at) VALUES (?, ?, ?)", (email.strip(), address, at)
    )


def clear_failures(connection: Connection, email: str) -> None:
    """Forget the failures of an address book entry, after a success."""
    connection.execute("DELETE FROM sign_in_failure WHERE email = ?", (email.strip(),))


def seconds_to_wait(connection: Connection, email: str, address: str, at: float) -> int:
    """How long the next attempt has to wait: 0 at first, doubling after five failures, at most 15 minutes."""
    since = at - WINDOW_SECONDS
    mine = _failures(connection, "email", email.strip(), since)
    there = _failures(connection, "address", address, since)
    over = max(mine[0] - FAILURES_ALLOWED, there[0] - ADDRESS_FAILURES_ALLOWED)
    if over < 0:
        return 0
    pause = min(WINDOW_SECONDS, 5 * 2 ** min(over, 10))
    return max(0, int(max(mine[1], there[1]) + pause - at))


_COUNT = "SELECT count(*) AS n, coalesce(max(at), 0) AS latest FROM sign_in_failure"
_FAILURES = {
    "email": _COUNT + " WHERE email = ? AND at >= ?",
    "address": _COUNT + " WHERE address = ? AND at >= ?",
}


def _failures(connection: Connection, column: str, value: str, since: float) -> tuple[int, float]:
    row = connection.execute(_FAILURES[column], (value, since)).fetchone()
    return int(row["n"]), float(row["latest"])
