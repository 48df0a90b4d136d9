"""Serve the simulated mail server."""

import secrets
from pathlib import Path

import click

from vinemark.commands.ports import MAIL_PORT, SMTP_PORT, refuse_taken
from vinemark.commands.server import run_server
from vinemark.mail.server import create_mail_pages, serve_smtp


@click.command("mail")
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=MAIL_PORT, show_default=True, help="Port of the page that shows what came.")
@click.option("--smtp-port", default=SMTP_PORT, show_default=True, help="Port that takes messages.")
@click.option("--folder", default="mail", show_default=True, help="Where messages are put (a maildir).")
def mail_server(host: str, port: int, smtp_port: int, folder: str) -> None:
    """Serve the simulated mail server: it sends nothing on, and shows what it was sent."""
    refuse_taken(port, "--port")
    refuse_taken(smtp_port, "--smtp-port")
    serve_smtp(Path(folder), host, smtp_port)
    run_server(create_mail_pages(Path(folder), secrets.token_hex(32)), host, port)
