"""A student is erased: the row with all that hangs on it, and what other records of the section say of them."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from vinemark.core.base.chain import REWRITTEN, entry_digest
from vinemark.store.chain import keep_first_digest, sealed_entries
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing
from vinemark.store.section_people import put_ids_into_limits

ERASED = "a deleted student"


@dataclass(frozen=True)
class Traces:
    """What stands for a student in texts: their id, and their name in each of its forms."""

    student_id: str
    names: Sequence[str]
    former_ids: Sequence[str] = ()

    def in_words(self, text: str) -> str:
        """A text without them."""
        for name in sorted({*self.names, *self._ids}, key=len, reverse=True):
            text = _without(text, name) if name else text
        return text

    def in_values(self, value: Any) -> Any:
        """Values without what is theirs: what is kept under a key that names them, or begins with their id."""
        if isinstance(value, dict):
            return {key: self.in_values(one) for key, one in value.items() if not self._in(key) and not self._is(one)}
        if isinstance(value, list):
            return [self.in_values(one) for one in value if not self._is(one) and not self._begins(one)]
        return self.in_words(value) if isinstance(value, str) else value

    def _in(self, key: str) -> bool:
        return self.in_words(key) != key

    def _is(self, value: object) -> bool:
        return isinstance(value, str) and value in self._ids

    @property
    def _ids(self) -> frozenset[str]:
        return frozenset({self.student_id, *self.former_ids})

    def _begins(self, value: object) -> bool:
        return isinstance(value, list) and bool(value) and self._is(value[0])


def _without(text: str, name: str) -> str:
    """A text in which a name, where it stands as a word of its own, is taken out."""
    made, *rest = text.split(name)
    for part in rest:
        inside = made[-1:].isalnum() or part[:1].isalnum()
        made += (name if inside else ERASED) + part
    return made


def erase_student(connection: Connection, act: Act, traces: Traces) -> None:
    """Delete a student of the act's section and take them out of its history; one line says that it was done."""
    with writing(connection, act, "student-deleted") as entry:
        section, student = act.section_id, traces.student_id
        connection.execute(
            "DELETE FROM letter WHERE section_id = ? AND recipient = (SELECT email FROM student WHERE section_id = ?"
            " AND id = ?)",
            (section, section, student),
        )
        connection.execute("DELETE FROM student WHERE section_id = ? AND id = ?", (section, student))
        connection.execute("DELETE FROM looked WHERE section_id = ? AND student_id = ?", (section, student))
        if section is not None:
            put_ids_into_limits(connection, section, dict.fromkeys((student, *traces.former_ids)))
        connection.execute("DELETE FROM file_looked_at WHERE section_id = ?", (section,))
        connection.execute("DELETE FROM made_file WHERE section_id = ?", (section,))
        connection.execute("DELETE FROM file_matching WHERE section_id = ? AND instr(matching, ?)", (section, student))
        connection.execute(
            "DELETE FROM finding_stand WHERE section_id = ? AND (instr(place, ?) OR instr(facts, ?))",
            (section, student, student),
        )
        for row in connection.execute(
            "SELECT number, unknown FROM comparison WHERE section_id = ?", (section,)
        ).fetchall():
            connection.execute(
                "UPDATE comparison SET unknown = ? WHERE section_id = ? AND number = ?",
                (_erased(row["unknown"], traces), section, row["number"]),
            )
        for row in connection.execute(
            "SELECT entry_id AS id, matching FROM file_taken WHERE section_id = ?", (section,)
        ).fetchall():
            connection.execute(
                "UPDATE file_taken SET matching = ? WHERE entry_id = ?", (_erased(row["matching"], traces), row["id"])
            )
        entry.after = {REWRITTEN: _erase_entries(connection, section, traces)}
        entry.what = f"{ERASED} was deleted, with scores and history"


def _erase_entries(connection: Connection, section_id: int | None, traces: Traces) -> dict[str, str]:
    """Take a student out of the entries; the new digests of those that had them, by seal."""
    found: dict[str, str] = {}
    if section_id is None:
        return found
    seals: dict[int, str] = {}
    for entry in sealed_entries(connection, section_id):
        seals[entry.id] = entry.seal
        at, kind, what, before, after, person = entry.said
        new = (traces.in_words(what or ""), _erased(before, traces), _erased(after, traces))
        if new == (what, before, after):
            continue
        connection.execute("UPDATE history SET what = ?, before = ?, after = ? WHERE id = ?", (*new, entry.id))
        if entry.seal:
            undone = seals.get(entry.undoes or 0, "")
            salt = keep_first_digest(connection, entry, undone)
            found[entry.seal] = entry_digest(salt, [at, kind, *new, person], undone)
    return found


def _erased(text: str | None, traces: Traces) -> str | None:
    if text is None:
        return None
    value = json.loads(text)
    new = traces.in_values(value)
    return text if new == value else json.dumps(new, ensure_ascii=False)
