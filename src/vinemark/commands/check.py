"""Look whether everything is well."""

import time
from contextlib import closing
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import KeptApart
from vinemark.office.client import Office, OfficeClient, OfficeDownError
from vinemark.section.delivery.by_files import FileOffice, file_folder
from vinemark.section.health import ills_of_changed_secret, ills_of_database, ills_of_files
from vinemark.section.replica_words import ills_of_copy
from vinemark.settings import Settings, from_environment, unknown_settings
from vinemark.store.copying import open_to_read, refuse_none
from vinemark.store.sections import instructed_sections

SHORTEST_TOKEN = 32
"""Signs: RFC 7518, 3.2 asks a key of HS256 to be as long as its hash."""


@click.command()
@click.option("--offline", is_flag=True, help="Leave out whether the registrar answers.")
def check(offline: bool) -> None:
    """Look at the database, its history, the files around it, disk, clock and registrar; each ill is one line."""
    settings = from_environment()
    found, sections = list(unknown_settings()), 0
    for one in settings.databases.here:
        ills, many = _looked_at(one, settings)
        found += ills
        sections += many
    if not offline:
        found += _ills_of_office(settings)
    if found:
        fail("\n".join(found))
    click.echo(f"All is well: {sections} sections, each with a history that holds together.")


def _looked_at(one: KeptApart, settings: Settings) -> tuple[list[str], int]:
    """The ills of a database, and how many sections it has where there are none."""
    database = Path(one.file)
    try:
        refuse_none(database)
    except Refused as error:
        fail(str(error))
    beside_home = Path(settings.database).with_suffix(".secret")
    found = [*ills_of_files(database, settings.secret, beside_home), *ills_of_copy(database, time.time())]
    with closing(open_to_read(database)) as connection:
        inside = list(ills_of_database(connection, settings.clock.now(), one.number))
        found += inside or ills_of_changed_secret(connection, beside_home, settings.secret)
        return found, 0 if found else len(instructed_sections(connection))


def _ills_of_office(settings: Settings) -> list[str]:
    folder = file_folder(settings.office_url)
    if folder is not None:
        return _ills_of_call(FileOffice(folder, settings.clock), settings)
    if len(settings.office_token) < SHORTEST_TOKEN:
        return [f"VINEMARK_OFFICE_TOKEN is shorter than {SHORTEST_TOKEN} signs: agree on another with the registrar"]
    return _ills_of_call(OfficeClient(settings.office_url, settings.office_token), settings)


def _ills_of_call(office: Office, settings: Settings) -> list[str]:
    try:
        office.for_instructor("check@vinemark.invalid").sections()
    except OfficeDownError as error:
        return [f"the registrar at {settings.office_url} does not answer: {error}"]
    return []
