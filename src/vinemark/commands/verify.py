"""Check an archive."""

from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.archive import read_archive
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.contradictions import contradictions
from vinemark.exchange.office_receipts import held_against


@click.command()
@click.argument("file")
@click.option("--receipts", help="The registrar's list of receipts for the section (CSV), to hold the archive against.")
def verify(file: str, receipts: str | None) -> None:
    """Check a section archive: each file, signed copy, submission and receipt against its digest, and each part of it
    against all others that speak of the same."""
    name = file
    try:
        found = read_archive(Path(file).read_bytes())
        refuse_broken(found.archive, found.course)
        said = contradictions(found.archive, found.course)
        name = receipts or file
        outside = held_against(found.archive, Path(receipts).read_bytes()) if receipts else []
    except Refused as error:
        fail(" ".join(str(error).split()))
    except OSError as error:
        fail(f"{name}: {error.strerror}")
    else:
        click.echo("\n".join(found.lines))
        if said:
            times = "once" if len(said) == 1 else f"{len(said)} times"
            fail("\n".join([*said, f"the archive contradicts itself ({times})"]))
        if outside:
            fail("\n".join([*outside, "the archive and the registrar differ"]))
        click.echo("The archive holds together, and no part contradicts another.")
        if receipts:
            click.echo("It has exactly what the registrar says it received.")
