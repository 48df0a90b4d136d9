"""Every section as an archive of its own."""

from datetime import datetime
from pathlib import Path

import click

from vinemark.commands.databases_here import opened_here
from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.archive_pages import readable_archive
from vinemark.section.gathering import archive_name, gathered
from vinemark.settings import from_environment
from vinemark.store.copying import refuse_none
from vinemark.store.database import Connection, reading
from vinemark.store.sections import instructed_sections, load_course


@click.command("export-all")
@click.argument("folder")
def export_all(folder: str) -> None:
    """Write the archive of every section into FOLDER, which must be empty or not there yet: open formats, readable
    without this program, and checked by `vinemark verify`."""
    settings, place = from_environment(), Path(folder)
    try:
        for one in settings.databases.here:
            refuse_none(Path(one.file))
        place.mkdir(parents=True, exist_ok=True)
        if any(place.iterdir()):
            fail(f"{folder} is not empty")
        many = sum(_export(connection, place, settings.clock.now()) for connection in opened_here(settings))
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{error.filename or folder}: {error.strerror}")
    click.echo(f"{many} section{'' if many == 1 else 's'} in {folder}.")


def _export(connection: Connection, place: Path, now: datetime) -> int:
    """Write the archives of a database's sections; how many there are."""
    records = instructed_sections(connection)
    for record in records:
        with reading(connection):
            found = gathered(connection, record.id, load_course(connection, record), now)
        (place / archive_name(record)).write_bytes(readable_archive(found))
    return len(records)
