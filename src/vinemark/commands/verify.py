"""Check an archive."""

from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.archive import read_archive


@click.command()
@click.argument("file")
def verify(file: str) -> None:
    """Check a section archive: every file, signed copy, sending and receipt against its digest."""
    try:
        found = read_archive(Path(file).read_bytes())
    except Refused as error:
        fail(" ".join(str(error).split()))
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    else:
        click.echo("\n".join([*found.lines, "The archive holds together."]))
