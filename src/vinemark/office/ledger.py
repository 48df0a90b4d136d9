"""The office's own database: terms, sections, rosters, what was received and posted."""

import json
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Any

from vinemark.office.rules import Desk, refusal
from vinemark.store.database import Connection, Row, transaction


class NotTakenError(Exception):
    """The office does not take a sending as a whole; the message says why."""


def school(connection: Connection) -> dict[str, Any]:
    """The school's name and rules."""
    row = connection.execute("SELECT name, rules FROM school").fetchone()
    return {"name": row["name"], "rules": json.loads(row["rules"])} if row else {"name": "No school yet", "rules": {}}


def set_school(connection: Connection, name: str, rules: Mapping[str, Any]) -> None:
    """Put the school's rules in place."""
    with transaction(connection):
        connection.execute("DELETE FROM school")
        connection.execute("INSERT INTO school VALUES (?, ?)", (name, json.dumps(rules)))


def add_term(connection: Connection, term: Mapping[str, str]) -> None:
    """A term: code, name, starts, ends, and when the final run opens and is due."""
    connection.execute("INSERT INTO term VALUES (:code, :name, :starts, :ends, :opens, :due)", dict(term))


def add_section(connection: Connection, section: Mapping[str, str], roster: Sequence[Mapping[str, Any]]) -> None:
    """A section with its roster, in the roster's order."""
    with transaction(connection):
        connection.execute(
            "INSERT INTO section VALUES (:ref, :term, :course, :title, :number, :instructor)", dict(section)
        )
        connection.executemany(
            "INSERT INTO roster VALUES (:section, :place, :id, :family_name, :given_name, :email, :status, :basis)",
            [{"section": section["ref"], "place": i, **person} for i, person in enumerate(roster)],
        )


def sections(connection: Connection, instructor: str | None = None) -> Sequence[Row]:
    """All sections, or an instructor's, with their term and how many grades are held."""
    query = (
        "SELECT s.*, t.name AS term_name, t.starts, t.ends, t.opens, t.due, p.posted_at,"
        " (SELECT count(*) FROM roster r WHERE r.section = s.ref) AS people,"
        " (SELECT count(*) FROM roster r WHERE r.section = s.ref AND r.status = 'enrolled') AS enrolled,"
        " (SELECT count(*) FROM grade g WHERE g.section = s.ref AND g.run = 'final') AS held"
        " FROM section s JOIN term t ON t.code = s.term"
        " LEFT JOIN posting p ON p.section = s.ref AND p.run = 'final'"
    )
    if instructor is None:
        return connection.execute(query + " ORDER BY t.starts DESC, s.course, s.number").fetchall()
    return connection.execute(
        query + " WHERE s.instructor = ? ORDER BY t.starts DESC, s.course, s.number", (instructor,)
    ).fetchall()


def section(connection: Connection, ref: str) -> Row | None:
    """One section."""
    return next((row for row in sections(connection) if row["ref"] == ref), None)


def roster(connection: Connection, ref: str) -> list[dict[str, Any]]:
    """A section's roster."""
    rows = connection.execute(
        "SELECT id, family_name, given_name, email, status, basis FROM roster WHERE section = ? ORDER BY place", (ref,)
    ).fetchall()
    return [dict(row) for row in rows]


def set_status(connection: Connection, ref: str, student: str, status: str) -> None:
    """Enrol or withdraw a person of the roster."""
    with transaction(connection):
        connection.execute("UPDATE roster SET status = ? WHERE section = ? AND id = ?", (status, ref, student))


def receive(connection: Connection, ref: str, run: str, body: Mapping[str, Any], now: datetime) -> dict[str, Any]:
    """Take one sending: the receipt, the same one for the same key.

    Raises NotTakenError for a sending that cannot be taken as a whole. Rows are refused one by one.
    """
    with transaction(connection):
        earlier = connection.execute("SELECT * FROM sending WHERE key = ?", (body["key"],)).fetchone()
        if earlier is not None:
            return _same_again(earlier, ref, run, body)
        found = section(connection, ref)
        _refuse_whole(found, body, now)
        assert found is not None  # noqa: S101
        return _take(connection, found, run, body, now)


def _same_again(earlier: Row, ref: str, run: str, body: Mapping[str, Any]) -> dict[str, Any]:
    if (earlier["section"], earlier["run"], earlier["digest"]) != (ref, run, body["digest"]):
        raise NotTakenError("this key was used for another sending")
    receipt: dict[str, Any] = json.loads(earlier["receipt"])
    return receipt


def _refuse_whole(found: Row | None, body: Mapping[str, Any], now: datetime) -> None:
    if found is None:
        raise NotTakenError("there is no such section")
    if found["instructor"].casefold() != str(body["signed_by"]).casefold():
        raise NotTakenError("only the instructor of record can sign this section")
    if found["posted_at"]:
        raise NotTakenError("these grades are posted; ask for a change of grade")
    if now < datetime.fromisoformat(found["opens"]):
        raise NotTakenError(f"grading opens {found['opens']}")
    if now > datetime.fromisoformat(found["due"]):
        raise NotTakenError(f"grading closed {found['due']}")


def _take(connection: Connection, found: Row, run: str, body: Mapping[str, Any], now: datetime) -> dict[str, Any]:
    people = {person["id"]: person for person in roster(connection, found["ref"])}
    desk = Desk(
        school(connection)["rules"], date.fromisoformat(found["starts"]), date.fromisoformat(found["ends"]), people
    )
    number = connection.execute("SELECT coalesce(max(number), 0) + 1 AS n FROM sending").fetchone()["n"]
    answers, taken = [], []
    for row in body["rows"]:
        reason = refusal(desk, row)
        answers.append({"id": row["id"], "accepted": reason is None, "reason": reason})
        if reason is None:
            taken.append(row)
    receipt = {
        "number": f"R-{now:%Y}-{number:05d}",
        "received_at": now.isoformat(timespec="seconds"),
        "accepted": len(taken),
        "refused": len(answers) - len(taken),
        "digest": body["digest"],
        "rows": answers,
    }
    connection.execute(
        "INSERT INTO sending VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        (number, body["key"], found["ref"], run, body["digest"], body["signed_by"], receipt["received_at"],
         json.dumps(receipt)),
    )  # fmt: skip
    for row in taken:
        _hold(connection, found["ref"], run, number, row)
    return receipt


def _hold(connection: Connection, ref: str, run: str, number: int, row: Mapping[str, Any]) -> None:
    connection.execute(
        "INSERT INTO grade VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET code = excluded.code,"
        " last_attended = excluded.last_attended, never_attended = excluded.never_attended,"
        " fallback_grade = excluded.fallback_grade, finish_by = excluded.finish_by, sending = excluded.sending",
        (ref, run, row["id"], row["code"], row.get("last_attended"), int(bool(row.get("never_attended"))),
         row.get("fallback_grade"), row.get("finish_by"), number),
    )  # fmt: skip


def held(connection: Connection, ref: str, run: str) -> list[dict[str, Any]]:
    """The grades the office holds, in the roster's order."""
    rows = connection.execute(
        "SELECT g.student AS id, g.code, g.last_attended, g.never_attended, g.fallback_grade, g.finish_by"
        " FROM grade g JOIN roster r ON r.section = g.section AND r.id = g.student"
        " WHERE g.section = ? AND g.run = ? ORDER BY r.place",
        (ref, run),
    ).fetchall()
    return [{**dict(row), "never_attended": bool(row["never_attended"])} for row in rows]


def received(connection: Connection, ref: str) -> Sequence[Row]:
    """All sendings of a section, latest first."""
    return connection.execute("SELECT * FROM sending WHERE section = ? ORDER BY number DESC", (ref,)).fetchall()


def post(connection: Connection, ref: str, run: str, now: datetime) -> None:
    """Put the held grades on the students' records: from then on only a change of grade alters them."""
    with transaction(connection):
        connection.execute(
            "INSERT INTO posting VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
            (ref, run, now.isoformat(timespec="seconds")),
        )
