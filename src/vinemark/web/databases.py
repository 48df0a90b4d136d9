"""The connections of a request: to the database of the section in its address, to the one with the people, and to all
that this machine serves."""

from collections.abc import Iterator
from pathlib import Path

from flask import Flask, abort, current_app, g, redirect, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName, Term
from vinemark.core.course.databases import HOME, Databases, KeptApart, number_of
from vinemark.store.database import Connection, Connections
from vinemark.store.numbered import KnownPerson, know_person
from vinemark.store.people import by_email
from vinemark.store.section_people import take_up_roles
from vinemark.store.sections import SectionRecord, sections_of

ANYWHERE = {"asset", "health.show"}
"""What every machine answers, whatever it serves."""
MISDIRECTED = 421
"""RFC 9110, 15.5.20: what came here is for another machine."""


class ElsewhereError(Exception):
    """Another machine serves the database that is wanted."""

    def __init__(self, number: int) -> None:
        super().__init__(f"database {number} is served by another machine")
        self.number = number


def open_databases(app: Flask, databases: Databases) -> None:
    """Teach an application the databases that it serves, and to refuse what is for another machine."""
    app.extensions["vinemark.databases"] = databases
    app.extensions["vinemark.connections"] = {one.number: Connections(one.file) for one in databases.here}
    app.before_request(_refuse_misdirected)
    app.register_error_handler(ElsewhereError, _on_elsewhere)
    app.teardown_appcontext(_give_back)


def all_databases() -> Databases:
    """All databases of the college, and which of them this machine serves."""
    found: Databases = current_app.extensions["vinemark.databases"]
    return found


def database() -> Connection:
    """The database of the section in the address, or the one that the address names; else that of the people."""
    return _connection(_number_of_address())


def home() -> Connection:
    """The database with the people."""
    return _connection(HOME)


def database_of(section_id: int) -> Connection:
    """The database of a section."""
    return _connection(number_of(section_id))


def database_for(term: Term, name: SectionName) -> Connection:
    """The database that a new section goes into. Raises ElsewhereError."""
    return _connection(all_databases().taking(term, name).number)


def connection_of(one: KeptApart) -> Connection:
    """The database that this is."""
    return _connection(one.number)


def own_database() -> Connection:
    """Where what is a person's own is kept: with the people, or with the section where those are elsewhere."""
    return home() if HOME in all_databases().served else database()


def databases_here() -> Iterator[Connection]:
    """All databases that this machine serves, that of the address first."""
    first = _number_of_address()
    for one in sorted(all_databases().here, key=lambda one: one.number != first):
        yield _connection(one.number)


def know_by_email(email: str) -> None:
    """Have somebody with an account, whom the home database knows by an address, in the database of the section too."""
    if _number_of_address() == HOME or HOME not in all_databases().served:
        return
    row = by_email(home(), email)
    if row is not None and not row["closed"]:
        person = KnownPerson(row["id"], row["name"], row["email"], row["created_at"])
        know_person(database(), person)


def my_sections() -> list[SectionRecord]:
    """The sections of the signed-in person that this machine serves, latest term first, then by course."""
    person = int(current_user.get_id())
    for connection in databases_here():
        take_up_roles(connection, person, str(current_user.email))
    found = [record for connection in databases_here() for record in sections_of(connection, person)]
    if len(all_databases().here) > 1:
        found.sort(key=lambda one: (one.name.course, one.name.number))
        found.sort(key=lambda one: one.term.starts, reverse=True)
    return found


def file_here() -> Path:
    """The file of the database of the address."""
    one = all_databases().numbered(_number_of_address())
    return Path(one.file if one else all_databases().home.file)


def is_kept_here(one: KeptApart) -> bool:
    """Whether this machine serves a database."""
    return one.number in all_databases().served


def _number_of_address() -> int:
    values = request.view_args or {}
    if "section_id" in values:
        return number_of(values["section_id"])
    return int(values.get("number", HOME))


def _connection(number: int) -> Connection:
    """One for this request. Raises ElsewhereError."""
    if number not in all_databases().served:
        raise ElsewhereError(number)
    taken: dict[int, Connection] = g.setdefault("databases", {})
    if number not in taken:
        taken[number] = current_app.extensions["vinemark.connections"][number].take()
        if number != HOME and current_user.is_authenticated:
            _know(taken[number])
    return taken[number]


def _know(connection: Connection) -> None:
    try:
        know_person(connection, current_user.known)
    except Refused as refused:
        # The home database was brought back from a copy of before, and its numbers of people were given again.
        current_app.logger.exception("nothing is opened")
        abort(403, f"{current_user.email} {refused.reason}. Tell whoever runs Vine Mark; nothing was opened.")


def _give_back(_: BaseException | None) -> None:
    for number, connection in g.pop("databases", {}).items():
        current_app.extensions["vinemark.connections"][number].give_back(connection)


def _refuse_misdirected() -> None:
    if request.endpoint is None or request.endpoint in ANYWHERE:
        return
    number = _number_of_address()
    if all_databases().numbered(number) is None:
        abort(404)
    if number not in all_databases().served:
        abort(MISDIRECTED, "Another machine serves this page: the proxy has to send it there.")


def _on_elsewhere(error: ElsewhereError) -> ResponseReturnValue:
    """What makes a section is sent again, as it is, to the machine that keeps it (RFC 9110, 15.4.8)."""
    if (request.view_args or {}).get("number") == error.number:
        abort(MISDIRECTED)
    path = request.path.removeprefix(f"/at/{_number_of_address()}")
    return redirect(f"/at/{error.number}{path}", 307)
