"""How a command says that it cannot do what was asked."""

import sys
from typing import NoReturn

import click


def fail(text: str) -> NoReturn:
    """Say what is wrong, and end with the status of a wrong use."""
    click.echo(f"error: {text}", err=True)
    sys.exit(2)
