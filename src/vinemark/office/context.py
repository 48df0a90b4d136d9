"""What the registrar's views stand on: settings, the connection, and the day's work done before each request."""

from dataclasses import dataclass, field
from datetime import datetime

from flask import abort, current_app, g

from vinemark.clock import Clock
from vinemark.core.base.dates import DateStyle
from vinemark.office import ledger, ledger_grades
from vinemark.store.database import Connection, connect


@dataclass(frozen=True)
class OfficeSettings:
    """How the registrar runs. `answer_delay` seconds pass between keeping a sending and answering it.

    `code` opens the registrar's pages; without one, as in the demo, they are open under a made-up name.
    """

    database: str
    secret: str
    clock: Clock
    answer_delay: float = 0.0
    code: str = ""
    dates: DateStyle = field(default_factory=DateStyle)


def settings() -> OfficeSettings:
    """The registrar's settings."""
    found: OfficeSettings = current_app.extensions["office"]
    return found


def database() -> Connection:
    """This request's connection."""
    if "office_db" not in g:
        g.office_db = connect(settings().database)
    connection: Connection = g.office_db
    return connection


def close(_: BaseException | None) -> None:
    """Close this request's connection."""
    connection = g.pop("office_db", None)
    if connection is not None:
        connection.close()


def now() -> datetime:
    """The registrar's time."""
    return settings().clock.now()


def open_day() -> None:
    """Before each request: what fell due since the last one."""
    ledger_grades.apply_fallbacks(database(), now().date())


def found_section(ref: str) -> dict[str, object]:
    """A section, or 404."""
    row = ledger.section(database(), ref)
    if row is None:
        abort(404, "there is no such section")
    return row
