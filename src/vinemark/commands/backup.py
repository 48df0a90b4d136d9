"""Copies of the database: taken while the server runs, and brought back."""

from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.settings import from_environment
from vinemark.store.copying import put_in_place, take_copy


@click.command()
@click.argument("file")
@click.option("--replace", is_flag=True, help="Put it in the place of a file of that name.")
def backup(file: str, replace: bool) -> None:
    """Copy the database to FILE while the server runs; the copy is checked before it gets its name."""
    database, copy = Path(from_environment().database), Path(file)
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
@click.argument("file")
def restore(file: str) -> None:
    """Put the copy FILE in the place of the database. What was there is put aside. The server must not run."""
    settings = from_environment()
    database = Path(settings.database)
    if Path(file).resolve() == database.resolve():
        fail("this is the database itself")
    try:
        aside = put_in_place(Path(file), database, settings.clock.now())
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{error.filename or file}: {error.strerror}; the database is as it was")
    click.echo(f"{database} is {file} now, and was checked.")
    if aside:
        click.echo(f"What was there before is {aside.name}.")
