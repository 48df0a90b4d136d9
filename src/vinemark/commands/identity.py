"""Serve the simulated identity provider."""

from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.commands.ports import IDENTITY_PORT, refuse_taken
from vinemark.commands.server import run_server
from vinemark.identity.people import Program, people_known_there
from vinemark.identity.provider import create_provider
from vinemark.settings import from_environment


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=IDENTITY_PORT, show_default=True, help="Port to listen on.")
@click.option("--people", default="identity.json", show_default=True, help="A file with the people it knows.")
def identity(host: str, port: int, people: str) -> None:
    """Serve the simulated identity provider: whoever opens it chooses who they are."""
    refuse_taken(port, "--port")
    settings = from_environment()
    if not (settings.identity and settings.identity_secret and settings.address):
        fail("set VINEMARK_IDENTITY, VINEMARK_IDENTITY_SECRET and VINEMARK_ADDRESS, as for vinemark serve")
    program = Program(settings.identity_client, settings.identity_secret, settings.address)
    name = settings.college or "The college"
    run_server(create_provider(settings.identity, program, people_known_there(Path(people)), name), host, port)
