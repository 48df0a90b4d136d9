"""Copies of the database: taken while the server runs, and brought back."""

from contextlib import closing
from pathlib import Path

import click

from vinemark.commands.databases_here import numbered_here
from vinemark.commands.failing import fail
from vinemark.commands.replica import address_of, fetch_replica
from vinemark.core.base.dates import time_words
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import HOME
from vinemark.settings import Settings, from_environment
from vinemark.store.copying import open_to_read, put_in_place, take_copy
from vinemark.store.history import latest_time

OF_SEVERAL = "Of several databases, the number of the one that is meant."


@click.command()
@click.argument("file")
@click.option("--replace", is_flag=True, help="Put it in the place of a file of that name.")
@click.option("--database", "number", default=HOME, help=OF_SEVERAL)
def backup(file: str, replace: bool, number: int) -> None:
    """Copy the database to FILE while the server runs; the copy is checked before it gets its name."""
    database, copy = Path(numbered_here(from_environment(), number).file), Path(file)
    if copy.exists() and not replace:
        fail(f"{file} is there already; choose another name, or add --replace")
    if copy.resolve() == database.resolve():
        fail("the copy needs another name than the database")
    try:
        take_copy(database, copy)
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{file}: {error.strerror}; nothing was copied")
    click.echo(f"{copy} is a whole copy of {database}, {copy.stat().st_size:,} bytes, and was checked.")


@click.command()
@click.argument("file", required=False)
@click.option("--from-replica", "address", default="", help="Bring back the copy that serve --replica made there.")
@click.option("--database", "number", default=HOME, help=OF_SEVERAL)
def restore(file: str | None, address: str, number: int) -> None:
    """Put the copy FILE in the place of the database. What was there is put aside. The server must not run."""
    settings = from_environment()
    database = Path(numbered_here(settings, number).file)
    if bool(file) == bool(address):
        fail("name a file, or --from-replica and where the copy is")
    if file:
        _put_back(Path(file), database, settings)
        return
    fetched = database.with_name(f"{database.name}.fetched")
    fetched.unlink(missing_ok=True)
    try:
        said = fetch_replica(address_of(address, number), database, fetched)
        if said:
            click.echo(said)
        _put_back(fetched, database, settings)
    except Refused as error:
        fail(str(error))
    finally:
        fetched.unlink(missing_ok=True)


def _put_back(file: Path, database: Path, settings: Settings) -> None:
    if Path(file).resolve() == database.resolve():
        fail("this is the database itself")
    try:
        aside = put_in_place(file, database, settings.clock.now())
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{error.filename or file}: {error.strerror}; the database is as it was")
    with closing(open_to_read(database)) as connection:
        last = latest_time(connection)
    saved = f"; what was saved last is of {time_words(last)}" if last else ""
    click.echo(f"{database} is the copy now, and was checked{saved}.")
    if aside:
        click.echo(f"What was there before is {aside.name}.")
