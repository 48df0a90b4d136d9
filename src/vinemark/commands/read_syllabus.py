"""Read a syllabus."""

import json
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.syllabus.written import syllabus_json
from vinemark.exchange.apart import forked_from_here, read_apart
from vinemark.exchange.readers import syllabus_of_file


@click.command("read-syllabus")
@click.argument("file", type=click.Path(path_type=Path))
def read_syllabus_file(file: Path) -> None:
    """Print what a syllabus (.txt, .md, .html, .docx, .pdf) says about grading."""
    try:
        with forked_from_here():
            _, reading = read_apart(syllabus_of_file, file.name, file.read_bytes())
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    except Refused as error:
        fail(f"{file.name}: {error.reason}")
    else:
        click.echo(json.dumps(syllabus_json(reading), ensure_ascii=False, indent=2))
