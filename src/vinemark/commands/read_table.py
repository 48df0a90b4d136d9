"""Read a table of scores."""

import json
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.table.written import table_json
from vinemark.exchange.apart import read_apart
from vinemark.exchange.readers import table_of_file


@click.command("read-table")
@click.argument("file", type=click.Path(path_type=Path))
def read_table_file(file: Path) -> None:
    """Print what a table of scores (.csv, .tsv, .txt, .xlsx, .ods) holds: students, columns, scores."""
    try:
        reading = read_apart(table_of_file, file.read_bytes())
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    except Refused as error:
        fail(f"{file.name}: {error.reason}")
    else:
        click.echo(json.dumps(table_json(reading), ensure_ascii=False, indent=2))
