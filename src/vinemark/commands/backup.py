"""Copies of the database: taken while the server runs, and brought back."""

from contextlib import ExitStack, closing
from pathlib import Path

import click

from vinemark.commands.databases_here import numbered_here
from vinemark.commands.failing import fail
from vinemark.commands.replica import address_of, fetch_replica
from vinemark.core.base.dates import time_words
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import HOME, KeptApart
from vinemark.settings import Settings, from_environment
from vinemark.store.copying import BESIDE_DATABASE, open_to_read, put_in_place, refuse_unfit, take_copy
from vinemark.store.history import latest_time


@click.command()
@click.argument("file")
@click.option("--replace", is_flag=True, help="Put it in the place of a file of that name.")
def backup(file: str, replace: bool) -> None:
    """Copy the database to FILE while the server runs; the copy is checked before it gets its name.

    Of several databases each goes into a file of its own: number 2 into FILE with -2 before its ending.
    """
    for one in from_environment().databases.here:
        _take(Path(one.file), _file_for(Path(file), one.number), replace)


def _file_for(file: Path, number: int) -> Path:
    return file if number == HOME else file.with_name(f"{file.stem}-{number}{file.suffix}")


def _take(database: Path, copy: Path, replace: bool) -> None:
    if copy.exists() and not replace:
        fail(f"{copy} is there already; choose another name, or add --replace")
    if copy.resolve() == database.resolve():
        fail("the copy needs another name than the database")
    try:
        take_copy(database, copy)
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{copy}: {error.strerror}; nothing was copied")
    click.echo(f"{copy} is a whole copy of {database}, {copy.stat().st_size:,} bytes, and was checked.")


@click.command()
@click.argument("file", required=False)
@click.option("--from-replica", "address", default="", help="Bring back the copy that serve --replica made there.")
@click.option("--database", "number", type=int, help="Of several databases only the one of this number, from FILE.")
def restore(file: str | None, address: str, number: int | None) -> None:
    """Put the copy FILE in the place of the database. What was there is put aside. The server must not run.

    Several databases are brought back together, each from the file that backup made of it.
    """
    settings = from_environment()
    if bool(file) == bool(address):
        fail("name a file, or --from-replica and where the copy is")
    wanted = settings.databases.here if number is None else [numbered_here(settings, number)]
    with ExitStack() as stack:
        copies = []
        try:
            for one in wanted:
                copies.append(_copy_of(one, file, address, number, stack))
                refuse_unfit(copies[-1], one.number)
        except Refused as error:
            fail(f"{error}; nothing was changed")
        for one, copy in zip(wanted, copies, strict=True):
            _put_back(copy, one, settings)


def _copy_of(one: KeptApart, file: str | None, address: str, number: int | None, stack: ExitStack) -> Path:
    """The file with the copy of a database; one that is fetched goes again in the end. Raises Refused."""
    if file:
        return Path(file) if number is not None else _file_for(Path(file), one.number)
    database = Path(one.file)
    fetched = database.with_name(f"{database.name}.fetched")
    fetched.unlink(missing_ok=True)
    for ending in ("", *BESIDE_DATABASE):
        stack.callback(fetched.with_name(f"{fetched.name}{ending}").unlink, missing_ok=True)
    said = fetch_replica(address_of(address, one.number), database, fetched)
    if said:
        click.echo(said)
    return fetched


def _put_back(file: Path, one: KeptApart, settings: Settings) -> None:
    database = Path(one.file)
    if Path(file).resolve() == database.resolve():
        fail("this is the database itself")
    try:
        aside = put_in_place(file, database, one.number, settings.clock.now())
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
