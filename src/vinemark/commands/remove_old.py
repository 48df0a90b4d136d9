"""Archive and remove sections that were kept for as long as the college decided."""

from collections.abc import Sequence
from contextlib import closing
from pathlib import Path

import click

from vinemark.commands.databases_here import opened_here, opened_home
from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Term
from vinemark.section.acts.remove_old import OldSection, archive_and_remove, old_records, old_section, tell_of_removal
from vinemark.section.gathering import archive_name
from vinemark.section.snapshot import Snapshots
from vinemark.section.state import state_of
from vinemark.settings import Settings, from_environment
from vinemark.store.college import college_choices, college_terms
from vinemark.store.copying import write_whole
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.removed import ChangedMeanwhileError
from vinemark.store.sections import terms_of_sections


@click.command("remove-old")
@click.argument("folder")
@click.option("--yes", is_flag=True, help="Do it; without this only what would be done is printed.")
@click.option("--tell", is_flag=True, help="Remove nothing; write to those who teach them that it will be.")
def remove_old(folder: str, yes: bool, tell: bool) -> None:
    """Write the archive of every section whose time is over into FOLDER, then remove the section.

    How many terms a section is kept is chosen on the page College; what is still open about one keeps it.
    """
    settings, place = from_environment(), Path(folder)
    if tell and not settings.mail:
        fail("no letters can be sent: set VINEMARK_MAIL")
    if not place.is_dir():
        fail(f"{folder} is no folder")
    with closing(opened_home(settings)) as home:
        kept, terms = college_choices(home).kept_terms, list(college_terms(home))
    if not kept:
        fail("the college keeps sections until somebody deletes them: choose otherwise on the page College")
    act, many = Act(None, settings.clock.now()), 0
    try:
        for connection in opened_here(settings):
            for one in _old(connection, terms, act, kept):
                many += _deal_with(one, act, place, settings, yes, tell)
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(f"{error.filename or folder}: {error.strerror}")
    done = "removed" if yes else "told of" if tell else "to be removed with --yes"
    click.echo(f"{many} section{'' if many == 1 else 's'} {done}.")


def _old(connection: Connection, terms: Sequence[Term], act: Act, kept: int) -> list[OldSection]:
    known, snapshots = terms or terms_of_sections(connection), Snapshots()
    return [
        old_section(state_of(connection, snapshots, record, act.at, 0))
        for record in old_records(connection, known, act, kept)
    ]


def _deal_with(one: OldSection, act: Act, place: Path, settings: Settings, yes: bool, tell: bool) -> int:
    """What is asked for about one section; whether it counts."""
    section = one.section
    label = f"{section.name.short}, {section.term.name}"
    if one.kept_by:
        click.echo(f"{label} stays: {one.kept_by}")
        return 0
    if yes:
        name = archive_name(section.record)
        try:
            archive_and_remove(section, act, name, lambda data: write_whole(place / name, data))
        except ChangedMeanwhileError:
            click.echo(f"{label} stays: it was changed meanwhile")
            return 0
    elif tell:
        tell_of_removal(section, act, settings.address)
    click.echo(label)
    return 1
