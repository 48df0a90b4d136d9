"""Leaving: an account is deleted by its owner, once every section of theirs is, each with its archive."""

from collections.abc import Iterable, Sequence
from typing import Protocol

from vinemark.section.acts.accounts import is_password
from vinemark.store import people, sections
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.sections import SectionRecord


def sections_left(connections: Iterable[Connection], person_id: int) -> Sequence[SectionRecord]:
    """The sections that have no instructor without this person; copies of archives are none."""
    found = (one for connection in connections for one in sections.sections_of(connection, person_id))
    return [one for one in found if one.role == "instructor" and not one.archive and one.instructors == 1]


class DatabaseElsewhere(Protocol):
    """A database that another machine serves."""

    def left(self, person_id: int) -> int:
        """How many sections somebody has there."""

    def leave(self, person_id: int) -> int:
        """Take an account out of it; how many sections stood in the way."""


def delete_account(
    home: Connection,
    others: Sequence[Connection],
    elsewhere: Sequence[DatabaseElsewhere],
    request: Act,
    password: str,
    cheap_hash: bool,
) -> str:
    """Delete the acting person's account everywhere; why not, nothing where it is done. Raises TooManyAtOnceError.

    The home database comes last: where something fails before, it is done again from the start.
    """
    person = request.person_id or 0
    left = len(sections_left([home, *others], person)) + sum(one.left(person) for one in elsewhere)
    if left:
        return "Delete your sections first, or hand them over."
    row = people.by_id(home, person)
    if row is not None and not row["password_hash"]:
        if password.strip().casefold() != row["email"].casefold():
            return "This is not your email address."
    elif not is_password(home, person, password, cheap_hash):
        return "This is not your password."
    for one in elsewhere:
        one.leave(person)
    for connection in [*others, home]:
        leave_database(connection, request, person)
    return ""


def leave_database(connection: Connection, request: Act, person_id: int) -> None:
    """Take out of a database what it has of a person's account, copies of archives with it."""
    if people.by_id(connection, person_id) is not None:
        people.erase_account(connection, request, person_id)
