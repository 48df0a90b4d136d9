"""Signing in by what an identity provider says of somebody: by who they are there, else by their email address."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.base.limits import NAME_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.core.college.college import CollegeRole
from vinemark.section.acts.accounts import SignedIn
from vinemark.store import college, identities, people, sign_ins
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act

NO_ADDRESS = "your college’s sign-in does not say your email address, by which sections know you"
NOT_VERIFIED = "your college’s sign-in does not vouch for your email address"
_CLOSED = "this account is closed"


@dataclass(frozen=True)
class Vouched:
    """What a provider says of somebody, after its signature was checked; `verified` is None where it says nothing of
    whether the address is theirs."""

    issuer: str
    subject: str
    email: str
    name: str
    verified: bool | None
    roles: Sequence[str]
    id_token: str = ""
    sid: str = ""


def sign_in_by_identity(
    connection: Connection, request: Act, found: Vouched, address: str, browser: str, at: float
) -> SignedIn | Refused:
    """Sign in whom a provider vouches for; who has no account gets one. `at` is seconds of the epoch.

    An address that it changed is changed here too, unless somebody else has it.
    """
    try:
        with transaction(connection):
            row = _known(connection, request, found)
            if row["closed"]:
                raise Refused("account", _CLOSED)
            identities.put_claimed_roles(connection, row["id"], claimed_roles(found.roles, _names(connection)))
            key = sign_ins.begin(connection, row["id"], at, address, browser)
            sign_ins.note_identity(connection, key, found.id_token, found.sid)
    except Refused as refused:
        return refused
    except people.EmailTakenError:
        return Refused("email", f"{found.email} is another account’s here")
    return SignedIn(row["id"], row["name"], key)


def _names(connection: Connection) -> list[str]:
    return [one.name for one in college.departments(connection)]


def _known(connection: Connection, request: Act, found: Vouched) -> Row:
    """The account: by subject, by address, or a new one. Raises Refused, EmailTakenError."""
    if "@" not in found.email or len(found.email) > NAME_LIMIT.most:
        raise Refused("email", NO_ADDRESS)
    if found.verified is False:
        raise Refused("email", NOT_VERIFIED)
    row = identities.person_of_identity(connection, found.issuer, found.subject)
    if row is not None:
        if row["email"].casefold() != found.email.casefold():
            people.write_email(connection, request, row["id"], found.email)
        return _again(connection, row["id"])
    by_address = people.by_email(connection, found.email)
    name = " ".join(found.name.split())[: NAME_LIMIT.most] or found.email
    person = by_address["id"] if by_address else people.add_person(connection, request, found.email, name, "")
    identities.write_identity(connection, request, found.issuer, found.subject, person)
    return _again(connection, person)


def _again(connection: Connection, person_id: int) -> Row:
    row = people.by_id(connection, person_id)
    assert row is not None  # noqa: S101
    return row


def claimed_roles(said: Sequence[str], departments: Sequence[str]) -> list[tuple[CollegeRole, str]]:
    """Parts as a claim says them: 'administrator', or 'chair of Earth and Water'. What is neither is nothing here."""
    known = {one.casefold(): one for one in departments}
    found: list[tuple[CollegeRole, str]] = []
    for one in said:
        role, _, department = one.strip().partition(" of ")
        if one.strip().casefold() == "administrator":
            found.append(("administrator", ""))
        elif role.casefold() == "chair" and department.strip().casefold() in known:
            found.append(("chair", known[department.strip().casefold()]))
    return found
