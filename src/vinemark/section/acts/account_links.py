"""What links in letters do for an account: another password, another email address, an account of one's own."""

from collections.abc import Callable
from datetime import datetime, timedelta

from vinemark.core.base.limits import NAME_LIMIT
from vinemark.core.base.moments import later
from vinemark.core.base.names import is_email_address
from vinemark.passwords import hashed
from vinemark.section.acts.accounts import TooEarly, account_errors, is_password, new_password_faults
from vinemark.section.letters import (
    LINK_SUBJECT,
    address_changed_letter,
    address_letter,
    password_changed_letter,
    password_letter,
)
from vinemark.store import outbox, people, sign_ins, tries
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act

LETTERS_AN_HOUR = 3
"""With a link for another password, to one address."""


def ask_for_password(
    connection: Connection, at: datetime, email: str, address: str, link: Callable[[Row], str], seconds: float
) -> TooEarly | None:
    """Send whoever has an account with an email address a link for another password.

    Nothing says whether there is one. `address` is where it is asked from, `seconds` the time now of the epoch.
    """
    wait = tries.note_try(connection, f"a link for {email.strip()}"[: NAME_LIMIT.most], address, "", seconds)
    if wait > 0:
        return TooEarly(wait)
    row = people.by_email(connection, email[: NAME_LIMIT.most])
    if row is None or row["closed"] or not row["password_hash"]:
        return None
    since = later(at, -timedelta(hours=1))
    if outbox.letters_since(connection, row["email"], LINK_SUBJECT, since) < LETTERS_AN_HOUR:
        outbox.put_letters(connection, at, [password_letter(row["email"], row["name"], link(row))])
    return None


def reset_password(
    connection: Connection, request: Act, person_id: int, typed: dict[str, str], cheap_hash: bool
) -> dict[str, str]:
    """Another password, by a link that showed whose account it is; everywhere the person is signed out.

    What is wrong, by field; nothing where it is done. Raises TooManyAtOnceError.
    """
    row = people.by_id(connection, person_id)
    if row is None or row["closed"]:
        return {"new": "This account is closed."}
    if faults := new_password_faults(row, typed):
        return faults
    new = hashed(typed["new"], cheap_hash)
    with transaction(connection):
        people.write_password(connection, request, person_id, new)
        sign_ins.end_others(connection, person_id)
        outbox.put_letters(connection, request.at, [password_changed_letter(row["email"], row["name"])])
    return {}


def accept_invitation(
    connection: Connection, request: Act, email: str, typed: dict[str, str], cheap_hash: bool
) -> int | dict[str, str]:
    """An account for whoever has a letter that was sent to this address; the person's id, or what is wrong, by field.

    Raises TooManyAtOnceError.
    """
    errors = account_errors(typed["name"], email, typed["new"])
    if "password" in errors:
        errors["new"] = errors.pop("password")
    if typed["new"] != typed["again"] and "new" not in errors:
        errors["again"] = "The two passwords differ."
    if errors:
        return errors
    try:
        return people.add_person(connection, request, email, typed["name"], hashed(typed["new"], cheap_hash))
    except people.EmailTakenError:
        return {"email": "This address has an account already: sign in with it."}


def ask_for_email(
    connection: Connection, at: datetime, person_id: int, typed: dict[str, str], link: Callable[[str], str], cheap: bool
) -> dict[str, str]:
    """Send a link to a new email address: it is the account's once the link was opened.

    What is wrong, by field; nothing where it is done. Raises TooManyAtOnceError.
    """
    email = typed["email"].strip()
    row = people.by_id(connection, person_id)
    if row is None or not is_password(connection, person_id, typed["password"], cheap):
        return {"email_password": "This is not your password."}
    if not is_email_address(email):
        return {"email": "Type an email address."}
    letter = address_letter(email, row["name"], link(email))
    if outbox.letters_since(connection, email, letter.subject, later(at, -timedelta(hours=1))) >= LETTERS_AN_HOUR:
        return {"email": "Enough links were sent to this address; try again in an hour."}
    # Whether it is somebody's already is not said: who opens the link reads it.
    outbox.put_letters(connection, at, [letter])
    return {}


def change_email(connection: Connection, request: Act, person_id: int, email: str) -> bool:
    """Another email address, which a link showed to be the person's; whether nobody else has it."""
    row = people.by_id(connection, person_id)
    if row is None or row["closed"]:
        return False
    try:
        with transaction(connection):
            people.write_email(connection, request, person_id, email)
            letter = address_changed_letter(row["email"], row["name"], email)
            outbox.put_letters(connection, request.at, [letter])
    except people.EmailTakenError:
        return False
    return True
