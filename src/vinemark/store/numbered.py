"""Which of a college's databases one is: kept in it, so that no file is taken for another, and ids of sections that no
two databases share."""

from datetime import datetime

from vinemark.core.base.moments import stamp
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import SPAN
from vinemark.store.database import Connection, transaction
from vinemark.store.people import by_email, by_id


def number_database(connection: Connection, number: int) -> None:
    """Give a new database its number. Raises Refused where it has another one, or sections without it."""
    with transaction(connection):
        row = connection.execute("SELECT number, next_section FROM numbered").fetchone()
        if row["number"] == number:
            return
        if row["number"] != 0 or row["next_section"] > 1 or _people(connection):
            raise Refused("database", f"is number {row['number']} and in use, not number {number}; look at its file")
        connection.execute("UPDATE numbered SET number = ?, next_section = ?", (number, number * SPAN + 1))


def number_in(connection: Connection) -> int:
    """The number that a database has."""
    return int(connection.execute("SELECT number FROM numbered").fetchone()[0])


def _people(connection: Connection) -> bool:
    return connection.execute("SELECT 1 FROM person LIMIT 1").fetchone() is not None


def next_section_id(connection: Connection) -> int:
    """The id for a section that is made now; it is given to no other, also when the section is deleted."""
    given = "UPDATE numbered SET next_section = next_section + 1 RETURNING next_section - 1"
    return int(connection.execute(given).fetchone()[0])


def know_person(connection: Connection, person_id: int, email: str, name: str, at: datetime) -> None:
    """Have a person, whom the home database signs in, in this one as that one has them now."""
    known = by_id(connection, person_id)
    if known is not None and (known["email"], known["name"]) == (email, name):
        return
    with transaction(connection):
        other = by_email(connection, email)
        if other is not None and other["id"] != person_id:
            # The address was somebody else's who has left.
            forget_person(connection, other["id"])
        connection.execute(
            "INSERT INTO person (id, email, name, password_hash, created_at) VALUES (?, ?, ?, '', ?)"
            " ON CONFLICT (id) DO UPDATE SET email = excluded.email, name = excluded.name",
            (person_id, email, name, stamp(at)),
        )


def forget_person(connection: Connection, person_id: int) -> None:
    """The email address of somebody who has left goes; the name stays, which lines of the history bear."""
    connection.execute("UPDATE person SET email = 'deleted account ' || id WHERE id = ?", (person_id,))
