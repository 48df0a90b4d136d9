"""Accounts: what a new one needs, and the first one of an empty database."""

import re

from vinemark.passwords import hasher
from vinemark.store import people
from vinemark.store.database import Connection
from vinemark.store.history import Act

PASSWORD_LENGTH = 8


def account_errors(name: str, email: str, password: str) -> dict[str, str]:
    """What is wrong with a new account, by field."""
    errors = {}
    if not name.strip():
        errors["name"] = "Type your name."
    if not re.fullmatch(r"[^@\s]+@[^@\s]+", email.strip()):
        errors["email"] = "Type an e-mail address."
    if len(password) < PASSWORD_LENGTH:
        errors["password"] = f"Use {PASSWORD_LENGTH} characters or more."
    return errors


def create_first_account(
    connection: Connection, request: Act, email: str, name: str, password: str, cheap_hash: bool
) -> int | None:
    """The first account of an empty database; its person's id, None where somebody has one already."""
    try:
        return people.add_person(connection, request, email, name, hasher(cheap_hash).hash(password), only_first=True)
    except people.EmailTakenError:
        return None
