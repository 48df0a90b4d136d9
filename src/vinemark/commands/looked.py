"""Print who looked at a student's records."""

import sys

import click

from vinemark.commands.databases_here import opened_here
from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.csv_text import csv_text
from vinemark.settings import from_environment
from vinemark.store.looked import looks_at_student


@click.command("looked")
@click.argument("student")
def looked(student: str) -> None:
    """Print who looked at the records of a student, by the registrar's number, in all sections, as CSV."""
    try:
        found = [one for connection in opened_here(from_environment()) for one in looks_at_student(connection, student)]
    except Refused as error:
        fail(str(error))
    heading = ("term", "section", "record", "name", "email", "part", "what", "first", "last", "times")
    rows = (
        (term, short, "this student" if look.student_id else "everybody", look.who.name, look.who.email, look.who.role,
         look.what, look.first_at.isoformat(), look.last_at.isoformat(), look.times)
        for term, short, look in found
    )  # fmt: skip
    sys.stdout.write(csv_text(heading, rows))
