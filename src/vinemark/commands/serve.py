"""Serve Vine Mark."""

import logging
import os
from collections.abc import Sequence
from contextlib import ExitStack
from pathlib import Path

import click

from vinemark.commands.failing import fail
from vinemark.commands.ports import PORT, refuse_taken
from vinemark.commands.replica import Replica, address_of
from vinemark.commands.server import run_server
from vinemark.core.base.refused import Refused
from vinemark.exchange.apart import prepare_reading
from vinemark.mail.sending import read_mail_server
from vinemark.section.delivery.postman import Postman
from vinemark.section.delivery.worker import Worker
from vinemark.settings import Settings, from_environment
from vinemark.store.copying import served
from vinemark.store.database import leave_checkpoints
from vinemark.web import create_app, first_code, secret_is_another

SIGNED_OUT = (
    "The secret is another than before: everybody signs in again, and what browsers kept of scores that were typed and "
    "not sent can be read by nobody. If that was not meant, stop now, put the former one back and start again."
)


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=PORT, show_default=True, help="Port to listen on.")
@click.option("--log", is_flag=True, help="Write a line for each request to standard error (JSON, without names).")
@click.option("--workers", default=0, show_default="one for each processor", help="How many processes serve.")
@click.option(
    "--replica", default="", help="Copy all databases all the time: to a folder, or an sftp:// or s3:// address."
)
def serve(host: str, port: int, log: bool, workers: int, replica: str) -> None:
    """Serve Vine Mark."""
    if log:
        logging.basicConfig(level=logging.INFO, format="%(name)s %(levelname)s %(message)s")
    refuse_taken(port, "--port")
    settings = from_environment()
    try:
        where = replica or settings.replica
        here = settings.databases.here
        copies = [Replica(Path(one.file), address_of(where, one.number)) for one in here if where]
        if copies:
            leave_checkpoints()
        with ExitStack() as stack:
            for one in here:
                stack.enter_context(served(Path(one.file)))
            _serve(settings, host, port, workers, copies)
    except Refused as error:
        fail(str(error))
    except OSError as error:
        fail(
            f"{settings.database}: {error.strerror}; VINEMARK_DATABASE names the file, in a folder that can be written"
        )


def _serve(settings: Settings, host: str, port: int, workers: int, copies: Sequence[Replica]) -> None:
    app = create_app(settings)
    mail = read_mail_server(settings.mail, settings.mail_from) if settings.mail else None
    if code := first_code(app):
        click.echo(f"Nobody has an account yet. The code for making the first one: {code}")
    if secret_is_another(app):
        click.echo(SIGNED_OUT)

    def start() -> None:
        gateway = app.extensions["vinemark.gateway"].of_worker()
        for one in settings.databases.here:
            Worker(one.file, settings.clock, settings.deliver_seconds, gateway).start()
            if mail is not None:
                Postman(one.file, settings.clock, settings.deliver_seconds, mail).start()
        prepare_reading()

    beside = [copy.keep for copy in copies]
    run_server(app, host, port, start, settings.trusted_proxy, workers or len(os.sched_getaffinity(0)), beside)
