"""What the registrar said about a section: its roster, rules and hours, and which roster was last taken over."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import time
from typing import Any

from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Records
from vinemark.core.course.read_records import read_records
from vinemark.core.course.write import write_records
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.hours import OfficeHours, Transfer, Window
from vinemark.core.submit.refs import refs_of
from vinemark.core.submit.roster_changes import Mending
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, writing
from vinemark.store.sections import insert_students
from vinemark.store.settled import put_aside, put_settled, settled_text
from vinemark.store.texts import parsed


@dataclass(frozen=True)
class Pulled:
    """The registrar's answer about one section."""

    office_ref: str
    records: Records
    hours: OfficeHours
    layout: FileLayout | None


def save_registrar_answer(connection: Connection, act: Act, pulled: Pulled, what: str) -> None:
    """Keep what the registrar said, in place of what it said before; an answer with nothing new only moves the time."""
    with transaction(connection):
        old = connection.execute("SELECT * FROM office_records WHERE section_id = ?", (act.section_id,)).fetchone()
        values = _values(pulled)
        if old is not None and all(old[key] == value for key, value in values.items()):
            connection.execute(
                "UPDATE office_records SET pulled_at = ? WHERE section_id = ?", (stamp(act.at), act.section_id)
            )
            return
        with writing(connection, act, "office") as entry:
            if old is None or old["office_ref"] != pulled.office_ref:
                refuse_second_link(connection, act.section_id, pulled.office_ref)
            _put_records(connection, {**values, "section_id": act.section_id, "pulled_at": stamp(act.at)})
            entry.what = what
            if old is None or old["records"] != values["records"]:
                entry.before, entry.after = json.loads(old["records"]) if old else None, json.loads(values["records"])


def refuse_second_link(connection: Connection, section_id: int | None, office_ref: str) -> None:
    """A section there belongs to one section here: two would each find the other's grades in it."""
    row = connection.execute(
        "SELECT s.course, s.number FROM office_ref o JOIN section s ON s.id = o.section_id"
        " WHERE o.ref IN (SELECT value FROM json_each(?)) AND o.section_id <> ? AND s.archive IS NULL",
        (json.dumps(list(refs_of(office_ref))), section_id),
    ).fetchone()
    if row is not None:
        raise Refused("ref", f"{row['course']}-{row['number']} here is linked to this section of the registrar already")


def unlink(connection: Connection, act: Act, what: str) -> int:
    """A section is no longer one of the registrar's; what the registrar said of it stays as it is. The entry's id."""
    with writing(connection, act, "office") as entry:
        connection.execute("UPDATE office_records SET office_ref = NULL WHERE section_id = ?", (act.section_id,))
        connection.execute("DELETE FROM office_ref WHERE section_id = ?", (act.section_id,))
        entry.what = what
    return entry.id


def _values(pulled: Pulled) -> dict[str, Any]:
    final = pulled.hours.windows.get("final")
    return {
        "office_ref": pulled.office_ref,
        "records": json.dumps(write_records(pulled.records), ensure_ascii=False),
        "opens": stamp(final.opens) if final else None,
        "due": stamp(final.due) if final else None,
        "hours": json.dumps(_hours_values(pulled.hours)),
        "layout": json.dumps({"columns": pulled.layout.columns, "dates": pulled.layout.dates})
        if pulled.layout
        else None,
    }


def _hours_values(hours: OfficeHours) -> dict[str, Any]:
    return {
        "windows": {run: [stamp(window.opens), stamp(window.due)] for run, window in hours.windows.items()},
        "transfers": [[f"{transfer.start:%H:%M}", f"{transfer.end:%H:%M}"] for transfer in hours.transfers],
    }


def _put_records(connection: Connection, values: Mapping[str, Any]) -> None:
    connection.execute(
        "INSERT INTO office_records (section_id, office_ref, records, opens, due, pulled_at, hours, layout)"
        " VALUES (:section_id, :office_ref, :records, :opens, :due, :pulled_at, :hours, :layout)"
        " ON CONFLICT DO UPDATE SET office_ref = excluded.office_ref, records = excluded.records,"
        " opens = excluded.opens, due = excluded.due, pulled_at = excluded.pulled_at, hours = excluded.hours,"
        " layout = excluded.layout",
        values,
    )
    connection.execute("DELETE FROM office_ref WHERE section_id = ?", (values["section_id"],))
    connection.executemany(
        "INSERT INTO office_ref VALUES (?, ?)", [(ref, values["section_id"]) for ref in refs_of(values["office_ref"])]
    )
    # The first roster is nothing that changed: the audit speaks of what does not fit it.
    connection.execute("INSERT INTO roster_taken VALUES (:section_id, :records) ON CONFLICT DO NOTHING", values)


def hours_of(connection: Connection, section_id: int) -> OfficeHours:
    """The registrar's windows and transfers for a section, as last pulled."""
    row = connection.execute(
        "SELECT hours, opens, due FROM office_records WHERE section_id = ?", (section_id,)
    ).fetchone()
    if row is None or row["hours"] is None:
        known = row is not None and row["due"] is not None
        return OfficeHours({"final": _window([row["opens"], row["due"]])} if known else {})
    value = json.loads(row["hours"])
    return OfficeHours(
        {run: _window(pair) for run, pair in value["windows"].items()},
        tuple(Transfer(*(time.fromisoformat(at) for at in pair)) for pair in value["transfers"]),
    )


def _window(pair: list[str]) -> Window:
    return Window(*(moment_of(at) for at in pair))


def layout_of(connection: Connection, section_id: int) -> FileLayout | None:
    """How a file of grades looks, where the registrar takes files."""
    row = connection.execute("SELECT layout FROM office_records WHERE section_id = ?", (section_id,)).fetchone()
    if row is None or row["layout"] is None:
        return None
    value = json.loads(row["layout"])
    return FileLayout(tuple((heading, holds) for heading, holds in value["columns"]), value["dates"])


def roster_taken(connection: Connection, section_id: int) -> Records | None:
    """The registrar's records as they were when the section last followed them."""
    row = connection.execute("SELECT records FROM roster_taken WHERE section_id = ?", (section_id,)).fetchone()
    return read_records(parsed(row["records"])) if row else None


def write_roster_followed(connection: Connection, act: Act, records: Records, made: Mending, what: str) -> int:
    """Bring the section in line with the roster in one act with one undo; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "roster") as entry:
        names = {student: list(name) for student, name in made.names.items()}
        after = {
            "records": json.dumps(write_records(records), ensure_ascii=False),
            "added": {s.id: [s.family_name, s.given_name, s.email] for s in made.added},
            "names": names,
            "settled": dict.fromkeys(made.opened),
            "aside": dict(made.aside),
        }
        before = followed_state(connection, act.section_id, after)
        insert_students(connection, act.section_id, made.added)
        put_followed(connection, act.section_id, after)
        entry.what, entry.before, entry.after = what, before, after
    return entry.id


def followed_state(connection: Connection, section_id: int, like: Mapping[str, Any]) -> dict[str, Any]:
    """The state now of everything that one following touched, to see whether it changed since."""
    taken = connection.execute("SELECT records FROM roster_taken WHERE section_id = ?", (section_id,)).fetchone()
    people = {row["id"]: row for row in _people(connection, section_id)}

    def name(student: str) -> list[str]:
        return [people[student]["family_name"], people[student]["given_name"]]

    return {
        "records": taken["records"] if taken else None,
        "added": {s: [*name(s), people[s]["email"]] if s in people else None for s in like["added"]},
        "names": {s: name(s) for s in like["names"]},
        "settled": {s: settled_text(connection, section_id, "final", s) for s in like["settled"]},
        "aside": {s: people[s]["set_aside"] for s in like["aside"]},
    }


def put_followed(connection: Connection, section_id: int, state: Mapping[str, Any]) -> None:
    """Put such a state in place; an added student of None leaves the section again."""
    connection.execute("UPDATE roster_taken SET records = ? WHERE section_id = ?", (state["records"], section_id))
    for student, name in state["names"].items():
        connection.execute(
            "UPDATE student SET family_name = ?, given_name = ? WHERE section_id = ? AND id = ?",
            (*name, section_id, student),
        )
    put_settled(connection, section_id, "final", state["settled"])
    put_aside(connection, section_id, state["aside"])
    for student, values in state["added"].items():
        if values is None:
            connection.execute("DELETE FROM student WHERE section_id = ? AND id = ?", (section_id, student))


def _people(connection: Connection, section_id: int) -> list[Any]:
    return connection.execute("SELECT * FROM student WHERE section_id = ?", (section_id,)).fetchall()


def only_these(connection: Connection, section_id: int, students: list[str]) -> list[str]:
    """Which of these students have scores or settled grades that leaving the section would take along."""
    found = []
    for student in students:
        row = connection.execute(
            "SELECT 1 FROM score WHERE section_id = :section AND student_id = :student"
            " UNION SELECT 1 FROM settled WHERE section_id = :section AND student_id = :student",
            {"section": section_id, "student": student},
        ).fetchone()
        if row is not None:
            found.append(student)
    return found
