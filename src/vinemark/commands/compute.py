"""Work out grades."""

import gc
import sys
from datetime import date
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.core.base.refused import iso_day as read_day
from vinemark.core.course.read_plan import refuse_broken_scale
from vinemark.exchange.course_file import read_bytes
from vinemark.exchange.results_csv import results_csv
from vinemark.exchange.results_json import results_json


@click.command()
@click.argument("course_file")
@click.option("--as-of", "as_of", metavar="DATE", help="The day that blanks rules use; today when left out.")
@click.option("--csv", "as_csv", is_flag=True, help="One row a student in CSV instead of JSON.")
def compute(course_file: str, as_of: str | None, as_csv: bool) -> None:
    """Work out every student's grade from a course file."""
    gc.disable()  # nothing goes round in circles here, and looking for it takes as long as the grades
    try:
        day = date.today() if as_of is None else read_day(as_of, "--as-of")
        course = read_bytes(Path(course_file).read_bytes())
        refuse_broken_scale(course.plan)
        text = results_csv(course, day) if as_csv else results_json(course, day) + "\n"
    except Refused as error:
        fail(" ".join(str(error).split()))
    except OSError as error:
        fail(f"{course_file}: {error.strerror}")
    else:
        sys.stdout.buffer.write(text.encode())
