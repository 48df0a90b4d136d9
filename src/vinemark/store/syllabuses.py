"""Syllabuses of a section: every version stays, with what it says; notes on clauses; the signed match."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.syllabus import Reading
from vinemark.core.syllabus.written import from_json, syllabus_json
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, writing


@dataclass(frozen=True)
class Syllabus:
    """One version: its text, where it came from, what it says."""

    version: int
    text: str
    source: str
    reading: Reading
    kept_at: datetime


@dataclass(frozen=True)
class MatchSignature:
    """The instructor's word that plan and syllabus agree."""

    plan_version: int
    syllabus_version: int
    open_differences: Sequence[str]
    person: str
    signed_at: datetime


def syllabus_of(connection: Connection, section_id: int) -> Syllabus | None:
    """The syllabus in force."""
    row = connection.execute(
        "SELECT * FROM syllabus_version WHERE section_id = ? ORDER BY version DESC LIMIT 1", (section_id,)
    ).fetchone()
    return _syllabus(row) if row else None


def syllabus_versions(connection: Connection, section_id: int) -> list[Syllabus]:
    """All versions, newest first."""
    rows = connection.execute(
        "SELECT * FROM syllabus_version WHERE section_id = ? ORDER BY version DESC", (section_id,)
    ).fetchall()
    return [_syllabus(row) for row in rows]


def _syllabus(row: Row) -> Syllabus:
    reading = from_json(json.loads(row["reading"]))
    return Syllabus(row["version"], row["text"], row["source"], reading, moment_of(row["kept_at"]))


def write_syllabus(connection: Connection, act: Act, text: str, source: str, reading: Reading) -> int:
    """Keep a new version of the syllabus; the history entry's id. The old ones stay."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "syllabus") as entry:
        before = syllabus_of(connection, act.section_id)
        version = before.version + 1 if before else 1
        connection.execute(
            "INSERT INTO syllabus_version VALUES (?, ?, ?, ?, ?, ?)",
            (
                act.section_id,
                version,
                text,
                source,
                _kept(reading),
                stamp(act.at),
            ),
        )
        connection.execute("UPDATE section SET syllabus = ? WHERE id = ?", (text, act.section_id))
        entry.what = f"syllabus put in, version {version}, from {source}"
        entry.after = {"version": version}
    return entry.id


def _kept(reading: Reading) -> str:
    return json.dumps(syllabus_json(reading), ensure_ascii=False)


def write_correction(connection: Connection, act: Act, change: Callable[[Syllabus], Reading], what: str) -> int:
    """Change what the syllabus in force is read as; `change` is called inside the transaction."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "reading") as entry:
        found = syllabus_of(connection, act.section_id)
        assert found is not None  # noqa: S101
        entry.before, after = syllabus_json(found.reading), change(found)
        entry.what, entry.after = what, syllabus_json(after)
        connection.execute(
            "UPDATE syllabus_version SET reading = ? WHERE section_id = ? AND version = ?",
            (_kept(after), act.section_id, found.version),
        )
    return entry.id


def notes_of(connection: Connection, section_id: int) -> dict[str, tuple[str, str]]:
    """What each noted rule or clause said when it was noted, and the note, by its key."""
    rows = connection.execute("SELECT * FROM syllabus_note WHERE section_id = ?", (section_id,)).fetchall()
    return {row["key"]: (row["said"], row["note"]) for row in rows}


def write_note(connection: Connection, act: Act, key: str, said: str, text: str) -> int:
    """Keep a note; an empty one takes it away."""
    with writing(connection, act, "syllabus note") as entry:
        connection.execute("DELETE FROM syllabus_note WHERE section_id = ? AND key = ?", (act.section_id, key))
        if text:
            connection.execute("INSERT INTO syllabus_note VALUES (?, ?, ?, ?)", (act.section_id, key, said, text))
        entry.what = (
            f"remark on {key.split(':', maxsplit=1)[0]}: {text}"
            if text
            else f"note on {key.split(':', maxsplit=1)[0]} taken away"
        )
    return entry.id


def write_match_signature(
    connection: Connection, act: Act, plan_version: int, syllabus_version: int, differences: Sequence[str]
) -> int:
    """Keep the word that plan and syllabus agree, with the differences still open."""
    with writing(connection, act, "match") as entry:
        connection.execute(
            "INSERT INTO match_signing (section_id, plan_version, syllabus_version, open_differences, person_id,"
            " signed_at) VALUES (?, ?, ?, ?, ?, ?)",
            (act.section_id, plan_version, syllabus_version, json.dumps(list(differences)), act.person_id,
             stamp(act.at)),
        )  # fmt: skip
        left = f"{len(differences)} open" if differences else "none open"
        entry.what = f"comparison of plan version {plan_version} and syllabus version {syllabus_version} signed, {left}"
        entry.after = {"differences": list(differences)}
    return entry.id


def match_signature_of(connection: Connection, section_id: int) -> MatchSignature | None:
    """The latest signing."""
    row = connection.execute(
        "SELECT m.*, p.name FROM match_signing m JOIN person p ON p.id = m.person_id WHERE m.section_id = ?"
        " ORDER BY m.id DESC LIMIT 1",
        (section_id,),
    ).fetchone()
    return _signed(row) if row else None


def _signed(row: Mapping[str, object] | Row) -> MatchSignature:
    return MatchSignature(
        int(str(row["plan_version"])),
        int(str(row["syllabus_version"])),
        json.loads(str(row["open_differences"])),
        str(row["name"]),
        moment_of(str(row["signed_at"])),
    )
