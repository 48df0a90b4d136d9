"""The registrar's own database: its rules, terms, sections, rosters, and the weather."""

import json
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from vinemark.store.database import Connection, Row, transaction

PERSON = ("id", "family_name", "given_name", "email", "status", "basis")


def school(connection: Connection) -> dict[str, Any]:
    """The school's name, its rules for codes, and its arrangements: transfers and the layout of files."""
    row = connection.execute("SELECT * FROM school").fetchone()
    if row is None:
        return {"name": "No school yet", "rules": {}, "arrangements": {"transfers": [], "file": None}}
    return {"name": row["name"], "rules": json.loads(row["rules"]), "arrangements": json.loads(row["arrangements"])}


def set_school(connection: Connection, found: Mapping[str, Any]) -> None:
    """Put a school in place, with keys as in `schools`."""
    with transaction(connection):
        connection.execute("DELETE FROM school")
        connection.execute(
            "INSERT INTO school VALUES (?, ?, ?)",
            (found["name"], json.dumps(found["rules"]), json.dumps(found["arrangements"])),
        )


def add_term(connection: Connection, term: Mapping[str, str], runs: Mapping[str, tuple[str, str]]) -> None:
    """A term: code, name, starts, ends; and when each run opens and is due."""
    with transaction(connection):
        connection.execute("INSERT INTO term VALUES (:code, :name, :starts, :ends)", dict(term))
        for run, (opens, due) in runs.items():
            set_window(connection, term["code"], run, opens, due)


def set_window(connection: Connection, term: str, run: str, opens: str, due: str) -> None:
    """When a run of a term opens and is due."""
    with transaction(connection):
        connection.execute(
            "INSERT INTO run VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET opens = excluded.opens, due = excluded.due",
            (term, run, opens, due),
        )


def terms(connection: Connection) -> list[dict[str, Any]]:
    """All terms with the windows of their runs."""
    rows = connection.execute("SELECT * FROM term ORDER BY starts DESC").fetchall()
    return [{**dict(row), "runs": runs(connection, row["code"])} for row in rows]


def runs(connection: Connection, term: str) -> dict[str, dict[str, str]]:
    """The runs of a term: when each opens and is due."""
    rows = connection.execute("SELECT * FROM run WHERE term = ? ORDER BY due", (term,)).fetchall()
    return {row["run"]: {"opens": row["opens"], "due": row["due"]} for row in rows}


def add_section(connection: Connection, section: Mapping[str, str], roster: Sequence[Mapping[str, Any]]) -> None:
    """A section with its roster, in the roster's order."""
    with transaction(connection):
        connection.execute(
            "INSERT INTO section VALUES (:ref, :term, :course, :title, :number, :instructor)", dict(section)
        )
        for person in roster:
            enrol(connection, section["ref"], person)


def enrol(connection: Connection, ref: str, person: Mapping[str, Any]) -> None:
    """Put a person at the end of a roster, or in place of the row of the same id."""
    values = {"section": ref, **{key: person[key] for key in PERSON}}
    with transaction(connection):
        connection.execute(
            "INSERT INTO roster VALUES (:section,"
            " (SELECT coalesce(max(place), -1) + 1 FROM roster WHERE section = :section),"
            " :id, :family_name, :given_name, :email, :status, :basis)"
            " ON CONFLICT DO UPDATE SET family_name = excluded.family_name, given_name = excluded.given_name,"
            " email = excluded.email, status = excluded.status, basis = excluded.basis",
            values,
        )


_SECTIONS = (
    "SELECT s.*, t.name AS term_name, t.starts, t.ends,"
    " (SELECT count(*) FROM roster r WHERE r.section = s.ref) AS people,"
    " (SELECT count(*) FROM roster r WHERE r.section = s.ref AND r.status = 'enrolled') AS enrolled"
    " FROM section s JOIN term t ON t.code = s.term"
)
_ORDER = " ORDER BY t.starts DESC, s.course, s.number"


def sections(connection: Connection, instructor: str | None = None) -> list[dict[str, Any]]:
    """All sections, or an instructor's, with their term, how many people, and where each run stands."""
    if instructor is None:
        rows = connection.execute(_SECTIONS + _ORDER).fetchall()
    else:
        rows = connection.execute(_SECTIONS + " WHERE s.instructor = ?" + _ORDER, (instructor,)).fetchall()
    return [_with_runs(connection, row) for row in rows]


def teaches(connection: Connection, instructor: str, ref: str) -> bool:
    """Whether a section is this instructor's, by email."""
    row = connection.execute("SELECT 1 FROM section WHERE ref = ? AND instructor = ?", (ref, instructor)).fetchone()
    return row is not None


def section(connection: Connection, ref: str) -> dict[str, Any] | None:
    """One section."""
    row = connection.execute(_SECTIONS + " WHERE s.ref = ?", (ref,)).fetchone()
    return _with_runs(connection, row) if row else None


def _with_runs(connection: Connection, row: Row) -> dict[str, Any]:
    found = {}
    for run, window in runs(connection, row["term"]).items():
        counted = connection.execute(
            "SELECT (SELECT count(*) FROM grade WHERE section = ? AND run = ?) AS held,"
            " (SELECT posted_at FROM posting WHERE section = ? AND run = ?) AS posted_at",
            (row["ref"], run, row["ref"], run),
        ).fetchone()
        found[run] = {**window, "held": counted["held"], "posted_at": counted["posted_at"]}
    return {**dict(row), "runs": found}


def roster(connection: Connection, ref: str) -> list[dict[str, Any]]:
    """A section's roster."""
    rows = connection.execute(
        "SELECT id, family_name, given_name, email, status, basis FROM roster WHERE section = ? ORDER BY place", (ref,)
    ).fetchall()
    return [dict(row) for row in rows]


class Weather(NamedTuple):
    """Switches for trying bad weather; `slow_seconds` pass before each answer."""

    slow_seconds: int = 0
    down: bool = False
    lose_answers: bool = False
    refuse_at_random: bool = False


def weather(connection: Connection) -> Weather:
    """The weather now."""
    row = connection.execute("SELECT * FROM weather").fetchone()
    return Weather(int(row[0]), *(bool(value) for value in tuple(row)[1:]))


def set_weather(connection: Connection, now: Weather) -> None:
    """Turn the switches."""
    with transaction(connection):
        connection.execute(
            "UPDATE weather SET slow_seconds = ?, down = ?, lose_answers = ?, refuse_at_random = ?",
            tuple(int(value) for value in now),
        )
