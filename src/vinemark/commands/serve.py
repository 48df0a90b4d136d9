"""Serve Vine Mark."""

import click

from vinemark.commands.ports import PORT, refuse_taken
from vinemark.commands.server import run_server
from vinemark.exchange.apart import prepare_reading
from vinemark.section.delivery.worker import Worker
from vinemark.settings import from_environment
from vinemark.web import create_app


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=PORT, show_default=True, help="Port to listen on.")
def serve(host: str, port: int) -> None:
    """Serve Vine Mark."""
    refuse_taken(port, "--port")
    settings = from_environment()
    app = create_app(settings)
    gateway = app.extensions["vinemark.gateway"]
    worker = Worker(settings.database, gateway.of_worker(), settings.clock, settings.deliver_seconds)

    def start() -> None:
        worker.start()
        prepare_reading()

    run_server(app, host, port, start, settings.trusted_proxy)
