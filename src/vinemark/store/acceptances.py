"""Findings let stand, with their reasons."""

from collections.abc import Mapping

from vinemark.core.audit.accept import Acceptance
from vinemark.core.base.moments import stamp
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


def acceptances_of(connection: Connection, section_id: int) -> dict[str, Acceptance]:
    """What was let stand, by the finding's place."""
    rows = connection.execute(
        "SELECT place, facts, reason, person, at FROM finding_stand WHERE section_id = ?", (section_id,)
    )
    return {row["place"]: Acceptance(row["facts"], row["reason"], row["person"], row["at"]) for row in rows}


def write_acceptances(connection: Connection, act: Act, facts: Mapping[str, str], reason: str, what: str) -> int:
    """Let findings stand with one reason, each with what it rests on; the entry's id."""
    person = connection.execute("SELECT name FROM person WHERE id = ?", (act.person_id,)).fetchone()
    said = [reason, str(person["name"]), stamp(act.at)]
    return _write(connection, act, {key: [rests_on, *said] for key, rests_on in facts.items()}, what)


def remove_acceptance(connection: Connection, act: Act, finding_key: str, what: str) -> int:
    """A finding no longer stands; the entry's id."""
    return _write(connection, act, {finding_key: None}, what)


def _write(connection: Connection, act: Act, stands: dict[str, list[str] | None], what: str) -> int:
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "finding") as entry:
        entry.what = what
        entry.before = {key: acceptance_text(connection, act.section_id, key) for key in stands}
        entry.after = stands
        put_acceptances(connection, act.section_id, stands)
    return entry.id


def acceptance_text(connection: Connection, section_id: int, finding_key: str) -> list[str] | None:
    """One stand as the history keeps it."""
    row = connection.execute(
        "SELECT facts, reason, person, at FROM finding_stand WHERE section_id = ? AND place = ?",
        (section_id, finding_key),
    ).fetchone()
    return list(row) if row else None


def put_acceptances(connection: Connection, section_id: int, stands: dict[str, list[str] | None]) -> None:
    """Put stands in place; None takes one away."""
    for finding_key, stand in stands.items():
        connection.execute("DELETE FROM finding_stand WHERE section_id = ? AND place = ?", (section_id, finding_key))
        if stand is not None:
            connection.execute("INSERT INTO finding_stand VALUES (?, ?, ?, ?, ?, ?)", (section_id, finding_key, *stand))
