"""The databases that commands work on: those that this machine serves."""

from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import KeptApart
from vinemark.settings import Settings
from vinemark.store.copying import refuse_none
from vinemark.store.database import Connection, connect
from vinemark.store.numbered import prepare_database


def numbered_here(settings: Settings, number: int) -> KeptApart:
    """The database of a number; ends the command where this machine does not serve it."""
    found = settings.databases.numbered(number)
    if found is None:
        fail(f"--database {number}: there is none of this number in VINEMARK_DATABASES")
    if found not in settings.databases.here:
        fail(f"--database {number}: another machine serves it ({found.address}); run this there")
    return found


def opened_here(settings: Settings) -> Iterator[Connection]:
    """All of them, brought to this version, one after the other. Raises Refused."""
    for one in settings.databases.here:
        refuse_none(Path(one.file))
        with closing(connect(one.file)) as connection:
            prepare_database(connection, one.number)
            yield connection


def opened_home(settings: Settings) -> Connection:
    """The one with the people; ends the command where it is elsewhere, or cannot be opened."""
    home = numbered_here(settings, settings.databases.home.number)
    connection = connect(home.file)
    try:
        prepare_database(connection, home.number)
    except Refused as error:
        fail(str(error))
    return connection
