"""People who sign in."""

from collections.abc import Sequence

from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, stamp, writing


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


def write_password(connection: Connection, act: Act, person_id: int, password_hash: str) -> None:
    """Another password for a person."""
    with writing(connection, act, "person") as entry:
        connection.execute("UPDATE person SET password_hash = ? WHERE id = ?", (password_hash, person_id))
        entry.what = "password changed"
