"""Links that letters carry: signed, for one address or account, good for a time, and once where they change something.

A link for another password has in it what the password of now leaves of itself, and one for another email address the
address of now: used, it is good for nothing more.
"""

from collections.abc import Callable
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from flask import current_app, url_for
from itsdangerous import BadData, URLSafeTimedSerializer

from vinemark.store import people
from vinemark.store.database import Row
from vinemark.web.databases import home
from vinemark.web.request import settings

HOUR = 3600
INVITATION_SECONDS = 14 * 24 * HOUR


@dataclass(frozen=True)
class Invitation:
    """To whom it was sent, and which page it leads to."""

    email: str
    where: str


@dataclass(frozen=True)
class NewAddress:
    """An account and the email address that it is to have."""

    person_id: int
    email: str


def sends_mail() -> bool:
    """Whether letters can be sent."""
    return bool(settings().mail)


def outside_address(where: str) -> str:
    """A page's whole address, as it stands in a letter."""
    return f"{settings().address}{where}"


def invitation_to(where: str) -> Callable[[str], str] | None:
    """What makes an invitation to a page for an email address; None where no letters can be sent."""
    if not sends_mail():
        return None
    return lambda email: outside_address(url_for("invitations.show", token=_signer("invitation").dumps([email, where])))


def read_invitation(token: str) -> Invitation | None:
    """Whom an invitation was sent to; None where it is none, or too old."""
    found = _read("invitation", token, INVITATION_SECONDS)
    return Invitation(str(found[0]), str(found[1])) if found else None


def password_link(row: Row) -> str:
    """A link for another password of a person."""
    token = _signer("password").dumps([row["id"], _left_of(row)])
    return outside_address(url_for("forgotten.choose", token=token))


def person_of_password_link(token: str) -> Row | None:
    """Whose password a link changes; None where it is none, too old, or was used."""
    found = _read("password", token, HOUR)
    row = people.by_id(home(), int(found[0])) if found else None
    return row if found and row is not None and not row["closed"] and _left_of(row) == found[1] else None


def _left_of(row: Row) -> str:
    return sha256(f"{row['password_hash']} {row['email']}".encode()).hexdigest()[:24]


def email_link(row: Row) -> Callable[[str], str]:
    """What makes a link by which a person's account gets another email address."""

    def made(email: str) -> str:
        token = _signer("address").dumps([row["id"], row["email"], email])
        return outside_address(url_for("own_email.choose", token=token))

    return made


def read_email_link(token: str) -> NewAddress | None:
    """Which address an account is to have; None where it is no such link, too old, or was used."""
    found = _read("address", token, HOUR)
    row = people.by_id(home(), int(found[0])) if found else None
    if found is None or row is None or row["email"] != found[1]:
        return None
    return NewAddress(int(found[0]), str(found[2]))


def _signer(what: str) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(str(current_app.config["SECRET_KEY"]), salt=f"letter: {what}")


def _read(what: str, token: str, seconds: int) -> list[Any] | None:
    try:
        found = _signer(what).loads(token, max_age=seconds)
    except BadData:
        return None
    return found if isinstance(found, list) else None
