"""Add people."""

import getpass

import click

from vinemark.commands.failing import fail
from vinemark.passwords import hashed
from vinemark.section.acts.accounts import account_errors
from vinemark.settings import from_environment
from vinemark.store import people
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act


@click.command()
@click.argument("email")
@click.argument("name")
@click.option("--password", help="The password; asked for when left out.")
def user(email: str, name: str, password: str | None) -> None:
    """Add a person who can sign in."""
    password = password or getpass.getpass("Password: ")
    for fault in account_errors(name, email, password).values():
        fail(fault)
    settings = from_environment()
    connection = connect(settings.database)
    migrate(connection)
    try:
        people.add_person(connection, Act(None, settings.clock.now()), email, name, hashed(password))
    except people.EmailTakenError:
        fail(f"{email} has an account already")
    click.echo(f"{name} can sign in with {email}.")
