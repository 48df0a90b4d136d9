"""Who people are at an identity provider, and the parts in the college that it says they have."""

from collections.abc import Sequence

from vinemark.core.college.college import CollegeRole
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act, writing


def person_of_identity(connection: Connection, issuer: str, subject: str) -> Row | None:
    """The person whom a provider knows under a subject."""
    row: Row | None = connection.execute(
        "SELECT p.* FROM identity i JOIN person p ON p.id = i.person_id WHERE i.issuer = ? AND i.subject = ?",
        (issuer, subject),
    ).fetchone()
    return row


def write_identity(connection: Connection, act: Act, issuer: str, subject: str, person_id: int) -> None:
    """Note who somebody is at a provider."""
    with writing(connection, act, "person") as entry:
        connection.execute("INSERT INTO identity VALUES (?, ?, ?)", (issuer, subject, person_id))
        entry.what = "known by single sign-on from now on"


def has_identity(connection: Connection, person_id: int) -> bool:
    """Whether somebody signs in by a provider."""
    return connection.execute("SELECT 1 FROM identity WHERE person_id = ?", (person_id,)).fetchone() is not None


def put_claimed_roles(connection: Connection, person_id: int, roles: Sequence[tuple[CollegeRole, str]]) -> None:
    """The parts that the provider says somebody has, with the department of each; what it said before is over."""
    with transaction(connection):
        connection.execute("DELETE FROM claimed_role WHERE person_id = ?", (person_id,))
        connection.executemany(
            "INSERT OR IGNORE INTO claimed_role VALUES (?, ?, ?)", [(person_id, *one) for one in roles]
        )
