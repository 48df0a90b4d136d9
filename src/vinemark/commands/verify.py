"""Check an archive."""

from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.archive import read_archive
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.contradictions import contradictions


@click.command()
@click.argument("file")
def verify(file: str) -> None:
    """Check a section archive: each file, signed copy, submission and receipt against its digest, and each part of it
    against all others that speak of the same."""
    try:
        found = read_archive(Path(file).read_bytes())
        refuse_broken(found.archive, found.course)
        said = contradictions(found.archive, found.course)
    except Refused as error:
        fail(" ".join(str(error).split()))
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    else:
        click.echo("\n".join(found.lines))
        if said:
            times = "once" if len(said) == 1 else f"{len(said)} times"
            fail("\n".join([*said, f"the archive contradicts itself ({times})"]))
        click.echo("The archive holds together, and no part contradicts another.")
