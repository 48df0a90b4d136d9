"""The class list: students added, corrected and removed, their numbers, and what is kept beside them."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import kept_cell
from vinemark.core.course.course import Student
from vinemark.core.course.detail import NO_DETAIL, StudentDetail
from vinemark.core.course.tally import Place
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.database import Connection, transaction
from vinemark.store.extensions import extension_rows, kept_extensions, put_extensions
from vinemark.store.history import Act, ChangedSinceError, writing
from vinemark.store.plans import latest_version, put_plan_version
from vinemark.store.remarks import put_remarks, remarks_of
from vinemark.store.scores import CLASS_KIND, current_cells, replace_cells
from vinemark.store.section_people import put_ids_into_limits
from vinemark.store.sections import insert_students, plan_of

KeptPeople = dict[str, list[Any] | None]
"""Students as an entry keeps them: family name, given name, email, reason set aside; None for one who is not there."""
KEPT_WITH = ("score", "settled", "cell_remark", "adjustment", "grade_change", "question")
"""Tables in which something is kept for a student."""
_TABLES_OF_ID = (*KEPT_WITH, "student_detail", "former_id", "item_group", "extension", "comparison_figure",
                 "grade_seen_by", "looked")  # fmt: skip


def details_of(connection: Connection, section_id: int) -> dict[str, StudentDetail]:
    """What is kept beside each student who has any."""
    rows = connection.execute("SELECT * FROM student_detail WHERE section_id = ?", (section_id,)).fetchall()
    return {row["student_id"]: _detail([row[key] for key in _DETAIL]) for row in rows}


_DETAIL = ("preferred", "pronunciation", "remark", "joined")


def _detail(kept: list[Any] | None) -> StudentDetail:
    if kept is None:
        return NO_DETAIL
    return StudentDetail(kept[0], kept[1], kept[2], date.fromisoformat(kept[3]) if kept[3] else None)


def _kept_detail(detail: StudentDetail) -> list[Any] | None:
    if detail == NO_DETAIL:
        return None
    return [detail.preferred, detail.pronunciation, detail.remark, detail.joined and detail.joined.isoformat()]


def people_state(connection: Connection, section_id: int, like: Collection[str]) -> KeptPeople:
    """Some students as they are now."""
    rows = connection.execute("SELECT * FROM student WHERE section_id = ?", (section_id,)).fetchall()
    found = {r["id"]: [r["family_name"], r["given_name"], r["email"], r["set_aside"]] for r in rows if r["id"] in like}
    return {student: found.get(student) for student in like}


def _come(connection: Connection, section_id: int, people: KeptPeople) -> None:
    """Put new students and corrected ones in place."""
    there = people_state(connection, section_id, people)
    for student, kept in people.items():
        if kept is not None and there[student] is not None:
            connection.execute(
                "UPDATE student SET family_name = ?, given_name = ?, email = ?, set_aside = ?"
                " WHERE section_id = ? AND id = ?",
                (*kept, section_id, student),
            )
    coming = [Student(s, *kept) for s, kept in people.items() if kept is not None and there[s] is None]
    insert_students(connection, section_id, coming)


def _leave(connection: Connection, section_id: int, people: KeptPeople) -> None:
    """Take out those who are None. Raises ChangedSinceError where something is kept for one of them."""
    there = people_state(connection, section_id, people)
    leaving = [student for student, kept in people.items() if kept is None and there[student] is not None]
    if kept_for(connection, section_id, leaving):
        raise ChangedSinceError("Somebody who would leave has scores or grades by now. Nothing was changed.")
    for student in leaving:
        connection.execute("DELETE FROM student WHERE section_id = ? AND id = ?", (section_id, student))


def kept_student(student: Student | None) -> list[Any] | None:
    """A student as an entry keeps them."""
    return [student.family_name, student.given_name, student.email, student.set_aside] if student else None


def kept_details(connection: Connection, section_id: int, like: Collection[str]) -> dict[str, list[Any] | None]:
    """What is kept beside some students, as an entry keeps it."""
    found = details_of(connection, section_id)
    return {student: _kept_detail(found.get(student, NO_DETAIL)) for student in like}


def put_details(connection: Connection, section_id: int, details: Mapping[str, list[Any] | None]) -> None:
    """Put what is kept beside students in place; None takes it away."""
    for student, kept in details.items():
        connection.execute("DELETE FROM student_detail WHERE section_id = ? AND student_id = ?", (section_id, student))
        if kept is not None:
            connection.execute("INSERT INTO student_detail VALUES (?, ?, ?, ?, ?, ?)", (section_id, student, *kept))


@dataclass(frozen=True)
class ClassChange:
    """What one act changes of a class: students (None: one who leaves), what is kept beside them, cells, their own due
    dates (None: no longer), remarks at cells, the plan, and last their numbers, old to new."""

    people: Mapping[str, Student | None] = field(default_factory=dict)
    details: Mapping[str, StudentDetail] = field(default_factory=dict)
    cells: Sequence[CellWrite] = ()
    extensions: Mapping[Place, date | None] = field(default_factory=dict)
    remarks: Mapping[Place, str] = field(default_factory=dict)
    plan: Plan | None = None
    ids: Mapping[str, str] = field(default_factory=dict)


def write_class(connection: Connection, act: Act, change: ClassChange, what: str) -> int:
    """Change a class in one act with one undo; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    section = act.section_id
    with writing(connection, act, CLASS_KIND) as entry:
        entry.what = what
        version, after = latest_version(connection, section), _after(change)
        before = {**_before(connection, section, change), "version": version}
        _come(connection, section, after["people"])
        _put_beside(connection, section, after)
        was, cells = replace_cells(connection, section, change.cells)
        if change.plan is not None:
            version = put_plan_version(connection, section, change.plan)
        _leave(connection, section, after["people"])
        put_ids(connection, section, change.ids)
        entry.before, entry.after = {**before, "cells": was}, {**after, "version": version, "cells": cells}
    return entry.id


def _before(connection: Connection, section: int, change: ClassChange) -> dict[str, Any]:
    """What a change finds, but for cells and plan."""
    return {
        "people": people_state(connection, section, change.people),
        "details": kept_details(connection, section, change.details),
        "ids": {new: old for old, new in change.ids.items()},
        "ids_first": True,
        "extensions": kept_extensions(connection, section, change.extensions),
        "remarks": _kept_remarks(connection, section, change.remarks),
    }


def _after(change: ClassChange) -> dict[str, Any]:
    """What a change leaves, but for cells and plan."""
    return {
        "people": {student: kept_student(one) for student, one in change.people.items()},
        "details": {student: _kept_detail(one) for student, one in change.details.items()},
        "ids": dict(change.ids),
        "ids_first": False,
        "extensions": extension_rows(change.extensions),
        "remarks": [[*place, text] for place, text in change.remarks.items()],
    }


def _put_beside(connection: Connection, section: int, state: Any) -> None:
    """Put what stands beside students and cells in place; older entries have less of it."""
    put_details(connection, section, state["details"])
    put_extensions(connection, section, state.get("extensions", []))
    put_remarks(connection, section, state.get("remarks", []))


def put_class_back(connection: Connection, section_id: int, now: Any, then: Any) -> None:
    """Put the state `then` of an entry in place of `now`. Raises ChangedSinceError where it is no longer so."""
    if then["ids_first"]:
        _put_ids_back(connection, section_id, then["ids"])
    _refuse_changed(connection, section_id, now)
    _come(connection, section_id, then["people"])
    replace_cells(connection, section_id, [CellWrite(s, i, kept_cell(text)) for s, i, text in then["cells"]])
    _put_beside(connection, section_id, then)
    if then["version"] != now["version"]:
        if latest_version(connection, section_id) != now["version"]:
            raise ChangedSinceError("The plan was changed since; undo the later change first.")
        now["version"] = latest_version(connection, section_id)
        then["version"] = put_plan_version(connection, section_id, plan_of(connection, section_id, then["version"]))
    _leave(connection, section_id, then["people"])
    if not then["ids_first"]:
        _put_ids_back(connection, section_id, then["ids"])


def _put_ids_back(connection: Connection, section_id: int, ids: Mapping[str, str]) -> None:
    try:
        put_ids(connection, section_id, ids)
    except Refused as error:
        raise ChangedSinceError(f"{error.reason[:1].upper()}{error.reason[1:]}. Nothing was changed.") from None


def _refuse_changed(connection: Connection, section_id: int, now: Any) -> None:
    cells = current_cells(connection, section_id, [(s, i) for s, i, _ in now["cells"]])
    same = (
        people_state(connection, section_id, now["people"]) == now["people"]
        and kept_details(connection, section_id, now["details"]) == now["details"]
        and kept_extensions(connection, section_id, _places(now, "extensions")) == now.get("extensions", [])
        and _kept_remarks(connection, section_id, _places(now, "remarks")) == now.get("remarks", [])
        and all(cells[f"{student} {item}"] == text for student, item, text in now["cells"])
    )
    if not same:
        raise ChangedSinceError("Some of this was changed again since. Nothing was changed.")


def _places(state: Any, kind: str) -> list[Place]:
    """The places whose own due dates or remarks an entry of the class list changed; older ones changed none."""
    return [(student, item) for student, item, _ in state.get(kind, [])]


def _kept_remarks(connection: Connection, section_id: int, places: Collection[Place]) -> list[list[str | None]]:
    now = remarks_of(connection, section_id)
    return [[*place, now.get(place)] for place in places]


def put_ids(connection: Connection, section_id: int, ids: Mapping[str, str]) -> None:
    """Give students other numbers. Raises Refused for one that somebody has, ChangedSinceError for one not there."""
    there = people_state(connection, section_id, {*ids, *ids.values()})
    for old, new in ids.items():
        if there[old] is None:
            raise ChangedSinceError("This student has another ID by now. Nothing was changed.")
        if there[new] is not None:
            raise Refused("id", f"another student here has the ID {new}")
    with transaction(connection):
        connection.execute("PRAGMA defer_foreign_keys = ON")
        for old, new in ids.items():
            connection.execute("DELETE FROM former_id WHERE section_id = ? AND former_id = ?", (section_id, new))
            connection.execute("UPDATE student SET id = ? WHERE section_id = ? AND id = ?", (new, section_id, old))
            for table in _TABLES_OF_ID:
                connection.execute(
                    f"UPDATE {table} SET student_id = ? WHERE section_id = ? AND student_id = ?",  # noqa: S608
                    (new, section_id, old),
                )
            connection.execute("INSERT INTO former_id VALUES (?, ?, ?)", (section_id, old, new))
            put_ids_into_limits(connection, section_id, {old: new})


def former_ids(connection: Connection, section_id: int, student_id: str) -> list[str]:
    """The numbers that a student had here before."""
    rows = connection.execute(
        "SELECT former_id FROM former_id WHERE section_id = ? AND student_id = ? ORDER BY former_id",
        (section_id, student_id),
    )
    return [row["former_id"] for row in rows]


def kept_for(connection: Connection, section_id: int, students: Collection[str]) -> dict[str, int]:
    """How many scores, grades, remarks and changes are kept for each of some students who have any."""
    found: dict[str, int] = {}
    for table in KEPT_WITH:
        rows = connection.execute(
            f"SELECT student_id, count(*) AS n FROM {table} WHERE section_id = ? GROUP BY student_id",  # noqa: S608
            (section_id,),
        )
        for row in rows:
            if row["student_id"] in students:
                found[row["student_id"]] = found.get(row["student_id"], 0) + row["n"]
    return found
