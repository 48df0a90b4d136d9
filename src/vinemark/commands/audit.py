"""Audit a course file."""

import json
import sys
from datetime import date
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.audit import audit, findings_json
from vinemark.core.base.refused import Refused
from vinemark.core.base.refused import iso_day as read_day
from vinemark.exchange.course_file import read_bytes


@click.command("audit")
@click.argument("course_file")
@click.option("--as-of", default=None, help="Day on which it is run, YYYY-MM-DD (default today).")
def audit_command(course_file: str, as_of: str | None) -> None:
    """Run every check of the audit on a course file and print what is found."""
    try:
        day = date.today() if as_of is None else read_day(as_of, "--as-of")
        found = findings_json(audit(read_bytes(Path(course_file).read_bytes()), day))
    except Refused as error:
        fail(" ".join(str(error).split()))
    except OSError as error:
        fail(f"{course_file}: {error.strerror}")
    else:
        sys.stdout.buffer.write((json.dumps(found, ensure_ascii=False) + "\n").encode())
