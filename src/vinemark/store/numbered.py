"""Which of a college's databases one is: kept in it, so that no file is taken for another, and ids of sections that no
two databases share."""

from dataclasses import dataclass

from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import HOME, SPAN
from vinemark.store.database import Connection, migrate, transaction
from vinemark.store.people import by_email, by_id


def prepare_database(connection: Connection, number: int) -> None:
    """Bring a database to this version, and see that it is the one of a number. Raises Refused."""
    migrate(connection)
    number_database(connection, number)


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
    """The number that a database has; those of before there were several have none of their own."""
    if connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'numbered'").fetchone() is None:
        return HOME
    return int(connection.execute("SELECT number FROM numbered").fetchone()[0])


def _people(connection: Connection) -> bool:
    return connection.execute("SELECT 1 FROM person LIMIT 1").fetchone() is not None


def ids_would_repeat(connection: Connection) -> bool:
    """Whether the id that the next section gets, or one after it, is a section's already."""
    found = connection.execute("SELECT 1 FROM numbered WHERE next_section <= (SELECT max(id) FROM section)")
    return found.fetchone() is not None


def next_section_id(connection: Connection) -> int:
    """The id for a section that is made now; it is given to no other, also when the section is deleted."""
    given = "UPDATE numbered SET next_section = next_section + 1 RETURNING next_section - 1"
    return int(connection.execute(given).fetchone()[0])


@dataclass(frozen=True)
class KnownPerson:
    """A person as the home database has them; `since` is when their account was made."""

    id: int
    name: str
    email: str
    since: str


def know_person(connection: Connection, person: KnownPerson) -> None:
    """Have a person, whom the home database signs in, in this one as that one has them now.

    Raises Refused where somebody else has their number here: what is another's must not be opened by it.
    """
    known = by_id(connection, person.id)
    if known is not None and known["created_at"] != person.since:
        raise Refused("person", f"has number {person.id}, which is another's in database {number_in(connection)}")
    if known is not None and (known["email"], known["name"]) == (person.email, person.name):
        return
    with transaction(connection):
        other = by_email(connection, person.email)
        if other is not None and other["id"] != person.id:
            # The address was somebody else's who has left.
            forget_person(connection, other["id"])
        connection.execute(
            "INSERT INTO person (id, email, name, password_hash, created_at) VALUES (?, ?, ?, '', ?)"
            " ON CONFLICT (id) DO UPDATE SET email = excluded.email, name = excluded.name",
            (person.id, person.email, person.name, person.since),
        )


def forget_person(connection: Connection, person_id: int) -> None:
    """The email address of somebody who has left goes; the name stays, which lines of the history bear."""
    connection.execute("UPDATE person SET email = 'deleted account ' || id WHERE id = ?", (person_id,))
