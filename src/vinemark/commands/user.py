"""Add people, give them another password, close their accounts."""

import getpass

import click

from vinemark.commands.databases_here import opened_here, opened_home
from vinemark.commands.failing import fail
from vinemark.passwords import hashed
from vinemark.section.acts.accounts import account_errors, password_fault
from vinemark.section.acts.leave import sections_left
from vinemark.settings import from_environment
from vinemark.store import people
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act
from vinemark.store.security_log import SecurityEvent, note_event


@click.command()
@click.argument("email")
@click.argument("name")
@click.option("--password", help="The password; asked for when left out.")
def user(email: str, name: str, password: str | None) -> None:
    """Add a person who can sign in."""
    password = password or getpass.getpass("Password: ")
    for fault in account_errors(name, email, password).values():
        fail(fault)
    connection, act = _opened()
    try:
        people.add_person(connection, act, email, name, hashed(password))
    except people.EmailTakenError:
        fail(f"{email} has an account already")
    click.echo(f"{name} can sign in with {email}.")


@click.command("new-password")
@click.argument("email")
@click.option("--password", help="The password; asked for when left out.")
def new_password(email: str, password: str | None) -> None:
    """Give a person another password, which opens a closed account again; the second step is to be set up anew."""
    connection, act = _opened()
    person = _known(connection, email)
    password = password or getpass.getpass("Password: ")
    if fault := password_fault(password, person["name"], person["email"]):
        fail(fault)
    with transaction(connection):
        ended = people.end_account(connection, act, person["id"])
        people.write_password(connection, act, person["id"], hashed(password))
        note_event(connection, SecurityEvent(act.at, "password changed", person["email"], "command line", ""))
    click.echo(f"{person['name']} has another password; signed out at {_places(ended)}.")


@click.command("close-account")
@click.argument("email")
def close_account(email: str) -> None:
    """Close a person's account at once: nobody signs in with it, and who is signed in is so no longer."""
    connection, act = _opened()
    person = _known(connection, email)
    ended = people.end_account(connection, act, person["id"])
    note_event(connection, SecurityEvent(act.at, "account closed", person["email"], "command line", ""))
    click.echo(f"The account of {person['name']} is closed; signed out at {_places(ended)}.")
    left = sections_left(opened_here(from_environment()), person["id"])
    if left:
        click.echo(f"{len(left)} sections stay and are opened by nobody until the account has another password.")


def _opened() -> tuple[Connection, Act]:
    settings = from_environment()
    return opened_home(settings), Act(None, settings.clock.now())


def _known(connection: Connection, email: str) -> Row:
    person = people.by_email(connection, email)
    if person is None:
        fail(f"{email} has no account")
    return person


def _places(number: int) -> str:
    return "1 place" if number == 1 else f"{number} places"
