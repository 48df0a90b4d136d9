"""People who sign in."""

from vinemark.core.base.moments import stamp
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, writing


class EmailTakenError(ValueError):
    """Somebody has this email address already."""


def anybody(connection: Connection) -> bool:
    """Whether there is any account that somebody can sign in with."""
    return connection.execute("SELECT 1 FROM person WHERE password_hash <> '' LIMIT 1").fetchone() is not None


def by_email(connection: Connection, email: str) -> Row | None:
    """The person with an email address, in any case of letters."""
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
        entry.what = f"account created for {name.strip()}"
        entry.after = {"email": email.strip(), "name": name.strip()}
    return int(row["id"])


def write_password(connection: Connection, act: Act, person_id: int, password_hash: str) -> None:
    """Another password for a person."""
    with writing(connection, act, "person") as entry:
        connection.execute("UPDATE person SET password_hash = ?, closed = 0 WHERE id = ?", (password_hash, person_id))
        entry.what = "password changed"


def write_name(connection: Connection, act: Act, person_id: int, name: str) -> None:
    """Another name for a person; what they did before keeps the name of its time."""
    with writing(connection, act, "person") as entry:
        connection.execute("UPDATE person SET name = ? WHERE id = ?", (name, person_id))
        entry.what = "name changed"


def write_email(connection: Connection, act: Act, person_id: int, email: str) -> None:
    """Another email address for a person. Raises EmailTakenError."""
    with writing(connection, act, "person") as entry:
        other = by_email(connection, email)
        if other is not None and other["id"] != person_id:
            raise EmailTakenError(email)
        for table in ("college_role", "invited"):
            connection.execute(
                f"UPDATE OR REPLACE {table} SET email = :new WHERE email = (SELECT email FROM person WHERE id = :id)",  # noqa: S608
                {"new": email.strip(), "id": person_id},
            )
        connection.execute("UPDATE person SET email = ? WHERE id = ?", (email.strip(), person_id))
        entry.what = "email address changed"


def end_account(connection: Connection, act: Act, person_id: int) -> int:
    """Nobody signs in with an account any more, and who is signed in is so no longer; at how many places.

    Its second step goes, so that who is half way in stays out. Its sections stay; another password opens it again.
    """
    with writing(connection, act, "person") as entry:
        connection.execute(
            "UPDATE person SET password_hash = '', closed = 1, second_step = NULL, recovery = '[]' WHERE id = ?",
            (person_id,),
        )
        ended = connection.execute("DELETE FROM signed_in WHERE person_id = ?", (person_id,)).rowcount
        entry.what = "account closed"
    return ended


def reopen_account(connection: Connection, act: Act, person_id: int) -> None:
    """A closed account is open again, without a password."""
    with writing(connection, act, "person") as entry:
        connection.execute("UPDATE person SET closed = 0 WHERE id = ?", (person_id,))
        entry.what = "account opened again"


def erase_account(connection: Connection, act: Act, person_id: int) -> None:
    """Everything of an account but the name, which lines of the history bear; copies of archives go with it."""
    with writing(connection, act, "person") as entry:
        connection.execute(
            "DELETE FROM section WHERE archive IS NOT NULL"
            " AND id IN (SELECT section_id FROM section_person WHERE person_id = ?)",
            (person_id,),
        )
        connection.execute("DELETE FROM section_person WHERE person_id = ?", (person_id,))
        connection.execute("DELETE FROM saved_scale WHERE person_id = ?", (person_id,))
        connection.execute("DELETE FROM signed_in WHERE person_id = ?", (person_id,))
        for table in ("identity", "claimed_role"):
            connection.execute(f"DELETE FROM {table} WHERE person_id = ?", (person_id,))  # noqa: S608
        for table in ("college_role", "invited"):
            connection.execute(
                f"DELETE FROM {table} WHERE email = (SELECT email FROM person WHERE id = ?)",  # noqa: S608
                (person_id,),
            )
        connection.execute("DELETE FROM letter WHERE recipient = (SELECT email FROM person WHERE id = ?)", (person_id,))
        connection.execute(
            "UPDATE history SET before = NULL, after = NULL WHERE kind = 'person'"
            " AND instr(after, (SELECT email FROM person WHERE id = ?)) > 0",
            (person_id,),
        )
        connection.execute(
            "UPDATE person SET email = 'deleted account ' || id, password_hash = '', closed = 1,"
            " second_step = NULL, recovery = '[]' WHERE id = ?",
            (person_id,),
        )
        entry.what = "account deleted"
