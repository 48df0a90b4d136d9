"""Print the log of security events."""

import sys
from datetime import timedelta

import click

from vinemark.commands.databases_here import opened_here
from vinemark.commands.failing import fail
from vinemark.core.base.refused import Refused
from vinemark.exchange.csv_text import csv_text
from vinemark.settings import from_environment
from vinemark.store.security_log import events_since


@click.command("security-log")
@click.option("--days", default=30, show_default=True, help="How many days back.")
def security_log(days: int) -> None:
    """Print who signed in, who was kept out and what was taken out, as CSV; no score stands in it."""
    settings = from_environment()
    since = settings.clock.now() - timedelta(days=min(days, 10_000))
    try:
        events = [event for connection in opened_here(settings) for event in events_since(connection, since)]
    except Refused as error:
        fail(str(error))
    events.sort(key=lambda event: event.at)
    rows = ([event.at.isoformat(), event.kind, event.email, event.address, event.what] for event in events)
    sys.stdout.write(csv_text(("at", "event", "email", "address", "what"), rows))
