"""Who has a part in a section, by role; also those who have no account yet, by their email address."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, writing
from vinemark.store.people import by_email
from vinemark.store.sections import Role


@dataclass(frozen=True)
class SectionPerson:
    """Somebody with a role; without an id they have no account yet, and their name is their address."""

    id: int | None
    name: str
    email: str
    role: Role


def section_people(connection: Connection, section_id: int) -> Sequence[SectionPerson]:
    """All of them, instructors first, then by name; those without an account at the end."""
    rows = connection.execute(
        "SELECT p.id, p.name, p.email, sp.role FROM section_person sp JOIN person p ON p.id = sp.person_id"
        " WHERE sp.section_id = ? ORDER BY sp.role <> 'instructor', sp.role, p.name",
        (section_id,),
    ).fetchall()
    waiting = connection.execute(
        "SELECT email, role FROM waiting_role WHERE section_id = ? ORDER BY email", (section_id,)
    ).fetchall()
    found = [SectionPerson(row["id"], row["name"], row["email"], row["role"]) for row in rows]
    return [*found, *(SectionPerson(None, row["email"], row["email"], row["role"]) for row in waiting)]


def write_role(connection: Connection, act: Act, email: str, role: Role | None, what: str) -> int:
    """Give somebody a role by their address, another one, or with None none any more; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "people") as entry:
        before = _role_of(connection, act.section_id, email)
        entry.what, entry.before, entry.after = what, {email: before}, {email: role}
        _put_role(connection, act.section_id, email, role)
    return entry.id


def _role_of(connection: Connection, section_id: int, email: str) -> Role | None:
    return next(
        (one.role for one in section_people(connection, section_id) if one.email.casefold() == email.casefold()), None
    )


def _put_role(connection: Connection, section_id: int, email: str, role: Role | None) -> None:
    person = by_email(connection, email)
    connection.execute("DELETE FROM waiting_role WHERE section_id = ? AND email = ?", (section_id, email))
    if person is not None:
        place = (section_id, person["id"])
        connection.execute("DELETE FROM section_person WHERE section_id = ? AND person_id = ?", place)
        if role is not None:
            connection.execute("INSERT INTO section_person VALUES (?, ?, ?)", (*place, role))
    elif role is not None:
        connection.execute("INSERT INTO waiting_role VALUES (?, ?, ?)", (section_id, email, role))


def take_up_roles(connection: Connection, person_id: int, email: str) -> bool:
    """Give a person, who has an account by now, the roles that waited for their address; whether there were any."""
    waiting = "SELECT section_id, role FROM waiting_role WHERE email = ?"
    if not email or connection.execute(waiting, (email,)).fetchone() is None:
        return False
    with transaction(connection):
        for row in connection.execute(waiting, (email,)).fetchall():
            connection.execute(
                "INSERT INTO section_person VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
                (row["section_id"], person_id, row["role"]),
            )
        connection.execute("DELETE FROM waiting_role WHERE email = ?", (email,))
    return True
