"""Every section as an archive of its own."""

from contextlib import closing
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.archive_pages import readable_archive
from vinemark.section.gathering import gathered
from vinemark.settings import from_environment
from vinemark.store.copying import refuse_none
from vinemark.store.database import connect, migrate, reading
from vinemark.store.sections import SectionRecord, instructed_sections, load_course


@click.command("export-all")
@click.argument("folder")
def export_all(folder: str) -> None:
    """Write the archive of every section into FOLDER, which must be empty or not there yet: open formats, readable
    without this program, and checked by `vinemark verify`."""
    settings, place = from_environment(), Path(folder)
    try:
        refuse_none(Path(settings.database))
        place.mkdir(parents=True, exist_ok=True)
        if any(place.iterdir()):
            fail(f"{folder} is not empty")
        with closing(connect(settings.database)) as connection:
            migrate(connection)
            records = instructed_sections(connection)
            for record in records:
                with reading(connection):
                    found = gathered(connection, record.id, load_course(connection, record), settings.clock.now())
                (place / _name(record)).write_bytes(readable_archive(found))
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{error.filename or folder}: {error.strerror}")
    click.echo(f"{len(records)} section{'' if len(records) == 1 else 's'} in {folder}.")


def _name(record: SectionRecord) -> str:
    words = f"{record.term.name} {record.name.short}"
    plain = "".join(sign if sign.isalnum() else "-" for sign in words)
    return f"{record.id:05}-{plain}.zip"
