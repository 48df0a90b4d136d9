"""Accounts: the first one of an empty database, signing in, and another password."""

import hmac
import re
from dataclasses import dataclass

from vinemark.core.base.limits import NAME_LIMIT, more_than
from vinemark.core.base.names import is_email_address
from vinemark.core.base.refused import Refused
from vinemark.passwords import hashed, hasher, verified
from vinemark.store import people, sign_ins, tries
from vinemark.store.college import CollegePerson, put_college_role
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act

PASSWORD_LENGTH = 10
LONGEST_PASSWORD = 200
GUESSES = 10**8
"""A password that is found among so many likely ones is refused."""

# Hashed when an address is unknown, so that an answer takes as long as for a known one.
_NOBODY: dict[bool, str] = {}


def account_errors(name: str, email: str, password: str) -> dict[str, str]:
    """What is wrong with a new account, by field."""
    errors = {}
    if not name.strip():
        errors["name"] = "Type your name."
    elif len(name) > NAME_LIMIT.most:
        errors["name"] = f"{more_than(NAME_LIMIT)}.".capitalize()
    if not is_email_address(email.strip()):
        errors["email"] = "Type an email address."
    if fault := password_fault(password, name, email):
        errors["password"] = fault
    return errors


def password_fault(password: str, *about: str) -> str:
    """What is wrong with a password; `about` are texts that it must not be made of, such as the person's name."""
    if len(password) < PASSWORD_LENGTH:
        return f"Use {PASSWORD_LENGTH} characters or more."
    if len(password) > LONGEST_PASSWORD:
        return f"Use {LONGEST_PASSWORD} characters or fewer."
    # Loaded here: its lists of common passwords and names take half a second, which only this act needs.
    from zxcvbn import zxcvbn  # noqa: PLC0415

    words = [word for text in about for word in re.split(r"\W+", text[: NAME_LIMIT.most]) if len(word) > 2]
    common = zxcvbn(password[:72], user_inputs=words)["guesses"] < GUESSES
    return "This password is one of those that are tried first; use a longer or less common one." if common else ""


def create_first_account(
    connection: Connection, request: Act, email: str, name: str, password: str, cheap_hash: bool
) -> int | None:
    """The first account of an empty database, which administers the college; its person's id, None where somebody has
    one already."""
    kept = hashed(password, cheap_hash)
    try:
        with transaction(connection):
            person = people.add_person(connection, request, email, name, kept, only_first=True)
            put_college_role(connection, CollegePerson(email.strip(), "administrator", ""), True)
            return person
    except people.EmailTakenError:
        return None


def same_code(typed: str, code: str) -> bool:
    """Whether a code was typed right, whatever its blanks, dashes and case."""
    plain = [re.sub(r"[\s-]", "", text).casefold().encode() for text in (typed, code)]
    return hmac.compare_digest(*plain) and bool(plain[1])


@dataclass(frozen=True)
class TypedSignIn:
    """What somebody typed to sign in, and from where: `device` names a person by id and one of their devices."""

    email: str
    password: str
    address: str
    browser: str
    device: tuple[int, str] | None = None


@dataclass(frozen=True)
class SignedIn:
    """Somebody signed in, under a key."""

    person_id: int
    name: str
    key: str


@dataclass(frozen=True)
class HalfWay:
    """The password was right, and this person's second step is still to come."""

    person_id: int


@dataclass(frozen=True)
class TooEarly:
    """The next try has to wait."""

    seconds: int


def sign_in(
    connection: Connection, typed: TypedSignIn, at: float, cheap_hash: bool
) -> SignedIn | HalfWay | TooEarly | Refused:
    """Sign somebody in, slowed down after wrong tries, or half way where there is a second step.

    Raises TooManyAtOnceError. `at` is seconds of the epoch.
    """
    email = typed.email[: NAME_LIMIT.most]
    row = people.by_email(connection, email)
    device = typed.device[1] if typed.device and row and row["id"] == typed.device[0] else ""
    wait = tries.note_try(connection, email, typed.address, device, at)
    if wait > 0:
        return TooEarly(wait)
    known = row is not None and bool(row["password_hash"])
    kept = row["password_hash"] if row is not None and known else _nobody(cheap_hash)
    right = verified(kept, typed.password[:LONGEST_PASSWORD], cheap_hash)
    if not right or row is None or not known:
        return Refused("email", "The email or the password is not right.")
    tries.clear_tries(connection, email, typed.address, device)
    if row["second_step"]:
        return HalfWay(row["id"])
    key = sign_ins.begin(connection, row["id"], at, typed.address, typed.browser)
    return SignedIn(row["id"], row["name"], key)


def _nobody(cheap: bool) -> str:
    if cheap not in _NOBODY:
        _NOBODY[cheap] = hasher(cheap).hash("nobody has this password")
    return _NOBODY[cheap]


def is_password(connection: Connection, person_id: int, typed: str, cheap_hash: bool) -> bool:
    """Whether this is a person's password. Raises TooManyAtOnceError."""
    row = people.by_id(connection, person_id)
    if row is not None and not row["password_hash"]:
        return False
    return row is not None and verified(row["password_hash"], typed[:LONGEST_PASSWORD], cheap_hash)


def change_password(
    connection: Connection, request: Act, person_id: int, key: str, typed: dict[str, str], cheap_hash: bool
) -> dict[str, str]:
    """Another password, typed twice after the current one; everywhere else the person is signed out.

    What is wrong, by field; nothing where it is done. Raises TooManyAtOnceError.
    """
    row = people.by_id(connection, person_id)
    if row is None or not is_password(connection, person_id, typed["current"], cheap_hash):
        return {"current": "This is not your password."}
    if faults := new_password_faults(row, typed):
        return faults
    new = hashed(typed["new"], cheap_hash)
    with transaction(connection):
        people.write_password(connection, request, person_id, new)
        sign_ins.end_others(connection, person_id, key)
    return {}


def new_password_faults(row: Row, typed: dict[str, str]) -> dict[str, str]:
    """What is wrong with a password that is typed twice for a person, by field."""
    if fault := password_fault(typed["new"], row["name"], row["email"]):
        return {"new": fault}
    return {} if typed["new"] == typed["again"] else {"again": "The two passwords differ."}


def change_name(connection: Connection, request: Act, person_id: int, typed: str) -> str:
    """Another name for oneself; what is wrong, nothing where it is done."""
    name = " ".join(typed.split())
    if not name:
        return "Type your name."
    if len(name) > NAME_LIMIT.most:
        return f"{more_than(NAME_LIMIT)}.".capitalize()
    row = people.by_id(connection, person_id)
    if row is not None and row["name"] != name:
        people.write_name(connection, request, person_id, name)
    return ""
