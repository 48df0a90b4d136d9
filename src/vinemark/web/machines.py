"""What the machines of a college ask one another: who is signed in, and what somebody who leaves still has there.

The first goes by the cookie of whoever asks; the rest is signed with the secret that they share.
"""

import time
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from hashlib import sha256
from typing import Any, Final, Literal

import httpx
from flask import Flask, current_app, g
from flask.typing import ResponseReturnValue
from flask_login import AnonymousUserMixin
from itsdangerous import BadData, URLSafeTimedSerializer

from vinemark.core.college.college import NO_PART, CollegePart, Department
from vinemark.core.course.databases import Databases, KeptApart
from vinemark.store.numbered import KnownPerson
from vinemark.web.request import show_error

OTHER_MACHINE_SECONDS: Final = 5.0
BELIEVED_SECONDS: Final = 2.0
"""So long an answer to who is signed in counts: signing out reaches all machines after it."""
MOST_BELIEVED: Final = 5_000
SIGNED_SECONDS: Final = 60
SIGNATURE: Final = "X-Machine"

Asked = Literal["left", "leave"]


class MachineDownError(Exception):
    """Another machine of the college does not answer."""


@dataclass(frozen=True)
class Who:
    """Somebody who is signed in."""

    known: KnownPerson
    second_step: bool
    part: CollegePart = NO_PART
    """What they have to do with the college."""


class Machines:
    """The way to the other machines; `transport` lets tests stand between."""

    def __init__(self, databases: Databases, secret: str, transport: httpx.BaseTransport | None = None) -> None:
        self._databases = databases
        self._signer = URLSafeTimedSerializer(secret, salt="between machines")
        self._transport = transport
        self._believed: dict[str, tuple[float, Who | None]] = {}

    @cached_property
    def _client(self) -> httpx.Client:
        """Made by who asks first: most colleges have one machine."""
        return httpx.Client(timeout=OTHER_MACHINE_SECONDS, transport=self._transport)

    def who(self, host: str, cookie: str) -> Who | None:
        """Who is signed in by the cookies of a request to a host; None for nobody. Raises MachineDownError."""
        digest, now = sha256(f"{host} {cookie}".encode()).hexdigest(), time.monotonic()
        kept = self._believed.get(digest)
        if kept is not None and now - kept[0] < BELIEVED_SECONDS:
            return kept[1]
        answer = self._answer(self._databases.home, "GET", "/who", {"Host": host, "Cookie": cookie})
        found = _who(answer)
        if len(self._believed) >= MOST_BELIEVED:
            self._believed.clear()
        self._believed[digest] = (now, found)
        return found

    def ask(self, one: KeptApart, what: Asked, person_id: int) -> int:
        """How many sections somebody has in a database elsewhere, or leaves it with. Raises MachineDownError."""
        signed = self._signer.dumps([one.number, what, person_id])
        answer = self._answer(one, "POST", f"/at/{one.number}/{what}", {SIGNATURE: signed})
        return int(answer["sections"])

    def _answer(self, one: KeptApart, method: str, path: str, headers: dict[str, str]) -> dict[str, Any]:
        try:
            answer = self._client.request(method, f"{one.address}{path}", headers=headers)
            answer.raise_for_status()
            found: dict[str, Any] = answer.json()
        except (httpx.HTTPError, ValueError) as error:
            raise MachineDownError(f"{one.address}: {error or type(error).__name__}") from error
        return found

    def signed_for(self, signature: str, number: int, what: Asked) -> int | None:
        """The person that another machine asks about; None where it is no machine of this college that asks."""
        try:
            asked_number, asked_what, person = self._signer.loads(signature, max_age=SIGNED_SECONDS)
        except (BadData, ValueError, TypeError):
            return None
        return int(person) if (asked_number, asked_what) == (number, what) else None


@dataclass(frozen=True)
class Elsewhere:
    """A database that another machine serves, as somebody who leaves needs it."""

    one: KeptApart

    def left(self, person_id: int) -> int:
        """How many sections somebody has there. Raises MachineDownError."""
        return machines().ask(self.one, "left", person_id)

    def leave(self, person_id: int) -> int:
        """Take an account out of it; how many sections stood in the way. Raises MachineDownError."""
        return machines().ask(self.one, "leave", person_id)


def _who(answer: Mapping[str, Any]) -> Who | None:
    if not answer:
        return None
    found = KnownPerson(int(answer["id"]), *(str(answer[key]) for key in ("name", "email", "since")))
    part = answer.get("part") or {}
    chairs = [Department(str(one["name"]), frozenset(one["subjects"])) for one in part.get("chairs", ())]
    college = CollegePart(bool(part.get("administrator")), chairs, bool(part.get("opens")))
    return Who(found, bool(answer["second_step"]), college)


def part_values(part: CollegePart) -> dict[str, Any]:
    """Somebody's part in the college, for another machine."""
    chairs = [{"name": one.name, "subjects": sorted(one.subjects)} for one in part.chairs]
    return {"administrator": part.administrator, "opens": part.opens, "chairs": chairs}


def machines() -> Machines:
    """The way to the other machines."""
    found: Machines = current_app.extensions["vinemark.machines"]
    return found


def add_machines(app: Flask, databases: Databases, transport: httpx.BaseTransport | None) -> None:
    """Teach an application the way to the other machines, and what to say where one does not answer."""
    app.extensions["vinemark.machines"] = Machines(databases, str(app.config["SECRET_KEY"]), transport)
    app.register_error_handler(MachineDownError, _on_down)


def _on_down(error: MachineDownError) -> ResponseReturnValue:
    """The browser keeps what was typed and sends it again, since this is not the application's no."""
    current_app.logger.error("another machine does not answer: %s", error)
    if "_login_user" not in g:
        g._login_user = AnonymousUserMixin()
    text = "Another machine of Vine Mark does not answer. Nothing was changed; leave this window open and try again."
    return show_error(503, "Not to be reached now", text)
