"""What an administrator does: departments, terms, choices, parts in the college, accounts opened and closed, people
invited."""

from collections.abc import Callable, Sequence
from functools import update_wrapper
from typing import Concatenate, ParamSpec

from vinemark.core.base.names import is_email_address
from vinemark.core.base.refused import Refused
from vinemark.core.college.college import (
    COLLEGE_ROLE_WORDS,
    CollegeRole,
    read_choices,
    read_department,
    read_term,
)
from vinemark.core.college.people_list import ListedPerson
from vinemark.section.letters import invited_letter, password_letter
from vinemark.section.outcome import Done, Outcome, settled_outcome
from vinemark.store import college, outbox, people
from vinemark.store.college import CollegePerson
from vinemark.store.database import Connection, Row, transaction
from vinemark.store.history import Act, refuse_repeated

_P = ParamSpec("_P")
CollegeActFunction = Callable[Concatenate[Connection, Act, _P], Done]


def college_act(function: CollegeActFunction[_P]) -> Callable[Concatenate[Connection, Act, _P], Outcome]:
    """Make a function an act on the college: one transaction, and repeated requests are done once."""

    def acted(connection: Connection, request: Act, /, *args: _P.args, **kwargs: _P.kwargs) -> Outcome:
        def run() -> Done:
            with transaction(connection):
                refuse_repeated(connection, request)
                return function(connection, request, *args, **kwargs)

        return settled_outcome(run)

    update_wrapper(acted, function)
    return acted


def _is_taken(name: str, before: str, names: Sequence[str]) -> bool:
    """Whether something else than what was called so before has a name."""
    return name.casefold() in {one.casefold() for one in names} - {before.casefold()}


@college_act
def save_department(connection: Connection, request: Act, before: str, name: str, subjects: str) -> Done:
    """Add a department, or change the one of a name."""
    made = read_department(name, subjects)
    others = [one for one in college.departments(connection) if one.name.casefold() != before.casefold()]
    if _is_taken(made.name, before, [one.name for one in others]):
        raise Refused("name", "is another department’s")
    taken = {subject: one.name for one in others for subject in one.subjects}
    twice = sorted(made.subjects & taken.keys())
    if twice:
        raise Refused("subjects", f"has {twice[0].upper()}, which is {taken[twice[0]]}’s")
    college.write_department(connection, request, before, made)
    return Done(f"Department {made.name} saved.")


@college_act
def remove_department(connection: Connection, request: Act, name: str) -> Done:
    """Remove a department; who chaired it does so no longer, and no section is changed."""
    college.write_department(connection, request, name, None)
    return Done(f"Department {name} removed.")


@college_act
def save_term(connection: Connection, request: Act, before: str, typed: Sequence[str]) -> Done:
    """Add a term, or change the one of a name: its name, first and last day. Sections keep the days that they have."""
    made = read_term(*typed)
    if _is_taken(made.name, before, [one.name for one in college.college_terms(connection)]):
        raise Refused("term", "is another term’s name")
    college.write_college_term(connection, request, before, made)
    return Done(f"Term {made.name} saved.")


@college_act
def remove_term(connection: Connection, request: Act, name: str) -> Done:
    """Remove a term from those that are offered."""
    college.write_college_term(connection, request, name, None)
    return Done(f"Term {name} removed. Its sections stay as they are.")


@college_act
def save_choices(connection: Connection, request: Act, chairs_open: bool, kept_terms: str) -> Done:
    """Decide what holds for all."""
    college.write_college_choices(connection, request, read_choices(chairs_open, kept_terms))
    return Done("Saved.")


@college_act
def give_college_role(connection: Connection, request: Act, email: str, role: str, department: str) -> Done:
    """Give somebody a part in the college by their address; without an account it waits for one."""
    who = _person(connection, email, role, department)
    college.write_college_role(connection, request, who, True)
    of = f" of {who.department}" if who.department else ""
    return Done(f"{who.email} is {who.role}{of} from now on.")


@college_act
def take_college_role(connection: Connection, request: Act, who: CollegePerson, me: str) -> Done:
    """Take a part in the college from somebody; an administrator not from themselves."""
    if who.role == "administrator" and who.email.casefold() == me.casefold():
        raise Refused("email", "is your own: another administrator takes that part from you")
    college.write_college_role(connection, request, who, False)
    return Done(f"{who.email} is no longer {who.role}.")


def _person(connection: Connection, email: str, role: str, department: str) -> CollegePerson:
    address = email.strip()
    if not is_email_address(address):
        raise Refused("email", "must be an email address")
    wanted: CollegeRole | None = next((one for one in COLLEGE_ROLE_WORDS if one == role), None)
    if wanted is None:
        raise Refused("role", "must be chosen")
    if wanted == "administrator":
        return CollegePerson(address, wanted, "")
    known = next((one.name for one in college.departments(connection) if one.name == department), None)
    if known is None:
        raise Refused("department", "must be chosen")
    return CollegePerson(address, wanted, known)


@college_act
def close_account_of(connection: Connection, request: Act, person_id: int) -> Done:
    """Close an account at once: nobody signs in with it, and who is signed in is so no longer. Its sections stay."""
    row = people.by_id(connection, person_id)
    if row is None or person_id == request.person_id:
        raise Refused("person", "cannot be closed by you")
    people.end_account(connection, request, person_id)
    return Done(f"The account of {row['name']} is closed.")


@college_act
def open_account_of(connection: Connection, request: Act, person_id: int, link: Callable[[Row], str] | None) -> Done:
    """Open a closed account again; its person chooses another password by a link, where letters can be sent."""
    row = people.by_id(connection, person_id)
    if row is None or not row["closed"]:
        raise Refused("person", "has an account that is open")
    people.reopen_account(connection, request, person_id)
    said = f"The account of {row['name']} is open again"
    if link is None:
        return Done(f"{said}, and has no password: vinemark new-password gives it one.")
    again = people.by_id(connection, person_id)
    assert again is not None  # noqa: S101
    outbox.put_letters(connection, request.at, [password_letter(row["email"], row["name"], link(again))])
    return Done(f"{said}; a link for a password is on its way.")


@college_act
def invite_people(
    connection: Connection, request: Act, listed: Sequence[ListedPerson], link: Callable[[str], str], college_name: str
) -> Done:
    """Invite those of a list who have no account yet, and give the parts that they come with."""
    right = [one for one in listed if not one.wrong]
    if not right:
        raise Refused("people", "must have an email address, a line each")
    known = college.known_addresses(connection, [one.email for one in right])
    new = [one for one in right if one.email.casefold() not in known]
    parts = [CollegePerson(one.email, one.role, one.department) for one in right if one.role]
    said = f"{len(new)} {'person' if len(new) == 1 else 'people'} invited"
    college.write_invited(connection, request, [(one.email, one.name) for one in new], parts, said)
    letters = [invited_letter(one.email, one.name, college_name, link(one.email)) for one in new]
    outbox.put_letters(connection, request.at, letters)
    had = len(right) - len(new)
    return Done(f"{said}{f'; {had} had an account already' if had else ''}.")
