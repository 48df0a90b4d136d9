"""Serve the registrar."""

import secrets

import click

from vinemark.commands.failing import fail
from vinemark.commands.ports import OFFICE_PORT, refuse_taken
from vinemark.commands.server import run_server
from vinemark.office.app import OfficeSettings, create_office
from vinemark.settings import from_environment


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=OFFICE_PORT, show_default=True, help="Port to listen on.")
@click.option("--database", default="office.sqlite", show_default=True, help="The registrar's own database file.")
@click.option("--answer-delay", default=0.0, help="Seconds between keeping a sending and answering it.")
def office(host: str, port: int, database: str, answer_delay: float) -> None:
    """Serve the simulated registrar's office."""
    refuse_taken(port, "--port")
    settings = from_environment()
    if not settings.office_token:
        fail("set VINEMARK_OFFICE_TOKEN, the same for the registrar and for vinemark serve")
    code = "" if settings.demo else settings.registrar_code or secrets.token_urlsafe(9)
    if code and not settings.registrar_code:
        click.echo(f"The code for the registrar's pages: {code}")
    office_settings = OfficeSettings(
        database, settings.office_token, settings.clock, answer_delay, code, settings.dates
    )
    run_server(create_office(office_settings), host, port)
