"""Leaving: an account is deleted by its owner, once every section of theirs is, each with its archive."""

from collections.abc import Iterable, Sequence

from vinemark.section.acts.accounts import is_password
from vinemark.store import people, sections
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.sections import SectionRecord


def sections_left(connections: Iterable[Connection], person_id: int) -> Sequence[SectionRecord]:
    """The sections that have no instructor without this person; copies of archives are none."""
    found = (one for connection in connections for one in sections.sections_of(connection, person_id))
    return [one for one in found if one.role == "instructor" and not one.archive and one.instructors == 1]


def why_not_delete(home: Connection, person_id: int, left: int, password: str, cheap_hash: bool) -> str:
    """Why an account cannot be deleted, `left` being its sections everywhere; empty where it can.

    Raises TooManyAtOnceError.
    """
    if left:
        return "Delete your sections first, or hand them over."
    return "" if is_password(home, person_id, password, cheap_hash) else "This is not your password."


def leave_database(connection: Connection, request: Act, person_id: int) -> None:
    """Take out of a database what it has of a person's account, copies of archives with it."""
    if people.by_id(connection, person_id) is not None:
        people.erase_account(connection, request, person_id)
