"""Who has a part in a section, by role; also those who have no account yet, by their email address."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.scores.part_limit import NO_LIMIT, PartLimit, read_part_limit
from vinemark.store.database import Connection, Row, transaction
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
    limit: PartLimit = NO_LIMIT


def section_people(connection: Connection, section_id: int) -> Sequence[SectionPerson]:
    """All of them, instructors first, then by name; those without an account at the end."""
    rows = connection.execute(
        "SELECT p.id, p.name, p.email, sp.role, sp.part_limit FROM section_person sp"
        " JOIN person p ON p.id = sp.person_id WHERE sp.section_id = ?"
        " ORDER BY sp.role <> 'instructor', sp.role, p.name",
        (section_id,),
    ).fetchall()
    waiting = connection.execute(
        "SELECT email, role, part_limit FROM waiting_role WHERE section_id = ? ORDER BY email", (section_id,)
    ).fetchall()
    found = [SectionPerson(row["id"], row["name"], row["email"], row["role"], _limit(row)) for row in rows]
    return [*found, *(SectionPerson(None, row["email"], row["email"], row["role"], _limit(row)) for row in waiting)]


def _limit(row: Row) -> PartLimit:
    return read_part_limit(json.loads(row["part_limit"])) if row["part_limit"] else NO_LIMIT


def write_part_limit(connection: Connection, act: Act, who: SectionPerson, limit: PartLimit, what: str) -> int:
    """Limit somebody's part, or with NO_LIMIT to nothing; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "people") as entry:
        entry.what = what
        entry.before, entry.after = ({who.email: _part(who.role, one)} for one in (who.limit, limit))
        kept = json.dumps(limit.value) if limit.is_one else None
        connection.execute(
            "UPDATE section_person SET part_limit = ? WHERE section_id = ? AND person_id = ?",
            (kept, act.section_id, who.id),
        )
        connection.execute(
            "UPDATE waiting_role SET part_limit = ? WHERE section_id = ? AND email = ?",
            (kept, act.section_id, who.email),
        )
    return entry.id


def _part(role: Role, limit: PartLimit) -> object:
    return {"role": role, **limit.value} if limit.is_one else role


def put_ids_into_limits(connection: Connection, section_id: int, ids: Mapping[str, str | None]) -> None:
    """Students have other IDs from now on, or with None are gone: so it is in the limits of graders."""
    for table in ("section_person", "waiting_role"):
        rows = connection.execute(
            f"SELECT rowid, part_limit FROM {table} WHERE section_id = ? AND part_limit IS NOT NULL",  # noqa: S608
            (section_id,),
        ).fetchall()
        for row in rows:
            limit = _limit(row)
            if limit.students is not None:
                new = frozenset(found for one in limit.students if (found := ids.get(one, one)) is not None)
                kept = json.dumps(PartLimit(limit.items, new).value)
                connection.execute(
                    f"UPDATE {table} SET part_limit = ? WHERE rowid = ?",  # noqa: S608
                    (kept, row["rowid"]),
                )


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
            connection.execute("INSERT INTO section_person VALUES (?, ?, ?, NULL)", (*place, role))
    elif role is not None:
        connection.execute("INSERT INTO waiting_role VALUES (?, ?, ?, NULL)", (section_id, email, role))


def take_up_roles(connection: Connection, person_id: int, email: str) -> bool:
    """Give a person, who has an account by now, the roles that waited for their address; whether there were any."""
    waiting = "SELECT section_id, role, part_limit FROM waiting_role WHERE email = ?"
    if not email or connection.execute(waiting, (email,)).fetchone() is None:
        return False
    with transaction(connection):
        for row in connection.execute(waiting, (email,)).fetchall():
            connection.execute(
                "INSERT INTO section_person VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING",
                (row["section_id"], person_id, row["role"], row["part_limit"]),
            )
        connection.execute("DELETE FROM waiting_role WHERE email = ?", (email,))
    return True
