"""Read a syllabus."""

import json
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.written import syllabus_json
from vinemark.exchange.syllabus_file import read_text


@click.command("read-syllabus")
@click.argument("file", type=click.Path(path_type=Path))
def read_syllabus_file(file: Path) -> None:
    """Print what a syllabus (.txt, .md, .html, .docx, .pdf) says about grading."""
    try:
        text = read_text(file.name, file.read_bytes())
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    except Refused as error:
        fail(f"{file.name}: {error.reason}")
    else:
        click.echo(json.dumps(syllabus_json(read_syllabus(text)), ensure_ascii=False, indent=2))
