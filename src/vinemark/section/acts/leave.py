"""Leaving: an account is deleted by its owner, once every section of theirs is, each with its archive."""

from collections.abc import Sequence

from vinemark.section.acts.accounts import is_password
from vinemark.store import people, sections
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.sections import SectionRecord


def sections_left(connection: Connection, person_id: int) -> Sequence[SectionRecord]:
    """The sections that have no instructor without this person; copies of archives are none."""
    return [one for one in sections.sections_of(connection, person_id) if one.role == "instructor" and not one.archive]


def delete_account(connection: Connection, request: Act, person_id: int, password: str, cheap_hash: bool) -> str:
    """Delete an account with its copies of archives; why not, nothing where it is done.

    Raises TooManyAtOnceError.
    """
    if sections_left(connection, person_id):
        return "Delete your sections first."
    if not is_password(connection, person_id, password, cheap_hash):
        return "This is not your password."
    people.erase_account(connection, request, person_id)
    return ""
