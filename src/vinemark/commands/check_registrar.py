"""Try a registrar's system."""

import click

from vinemark.commands.failing import fail
from vinemark.office.conformance import Conformance
from vinemark.settings import from_environment


@click.command()
@click.argument("url")
@click.option("--instructor", required=True, help="Email address of somebody who has sections there.")
@click.option("--send-to", default="", help="A section to which one row is sent, for a student whom nobody knows.")
def check_registrar(url: str, instructor: str, send_to: str) -> None:
    """Try the registrar's system at URL by requests that change no grade, and say what it does not keep of
    docs/registrar-api.yaml."""
    secret = from_environment().office_token
    if not secret:
        fail("set VINEMARK_OFFICE_TOKEN, the secret that both sides know")
    trial = Conformance(url, secret, instructor)
    found = list(trial.faults(send_to))
    if found:
        fail("\n".join([f"{len(found)} things are not kept, in {trial.tried} requests:", *found]))
    click.echo(f"All is kept that was tried, in {trial.tried} requests.")
