"""Sections: making, listing, loading. Every query is bound to the person who asks."""

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Literal

from vinemark.core.base.limits import STUDENT_LIMIT, more_than
from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import kept_text
from vinemark.core.course.course import Course, SectionName, Settled, Student, Term
from vinemark.core.course.databases import department_of
from vinemark.core.course.read_records import read_records, read_settled
from vinemark.core.course.write import write_records, write_settled
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.part_limit import NO_LIMIT, PartLimit, read_part_limit
from vinemark.store.adjustments import adjustments_of, kept_adjustment, put_adjustments
from vinemark.store.database import Connection, Row
from vinemark.store.extensions import extension_rows, extensions_of, put_extensions
from vinemark.store.history import Act, writing
from vinemark.store.numbered import next_section_id
from vinemark.store.scores import cells_of
from vinemark.store.texts import parsed, plan_as_text, plan_from_text

Role = Literal["instructor", "grader", "reviewer", "student"]
"""A student is one by the class list, the others by being given it."""


@dataclass(frozen=True)
class SectionRecord:
    """A section as a person sees it, with the registrar's dates where it is linked."""

    id: int
    role: Role
    term: Term
    name: SectionName
    plan_version: int
    students: int
    office_ref: str | None
    opens: datetime | None
    due: datetime | None
    pulled_at: datetime | None
    archive: str | None
    put_away: bool = False
    practice: bool = False
    instructors: int = 1
    limit: PartLimit = NO_LIMIT
    """What a grader is limited to."""


_OF_SECTION = """
       o.office_ref, o.opens, o.due, o.pulled_at,
       (SELECT max(version) FROM plan_version v WHERE v.section_id = s.id) AS plan_version,
       (SELECT count(*) FROM student t WHERE t.section_id = s.id AND t.set_aside IS NULL) AS students,
       (SELECT count(*) FROM section_person q WHERE q.section_id = s.id AND q.role = 'instructor') AS instructors
  FROM section s
  LEFT JOIN office_records o ON o.section_id = s.id
"""
_SECTION = f"""
SELECT s.*, sp.role, sp.part_limit, {_OF_SECTION}
  JOIN section_person sp ON sp.section_id = s.id AND sp.person_id = ?
"""


def sections_of(connection: Connection, person_id: int) -> list[SectionRecord]:
    """All sections of a person, latest term first, then by course."""
    rows = connection.execute(_SECTION + " ORDER BY s.term_starts DESC, s.course, s.number", (person_id,)).fetchall()
    return [_section(row) for row in rows]


def section_of(connection: Connection, person_id: int, section_id: int) -> SectionRecord | None:
    """A section, if it is this person's."""
    row = connection.execute(_SECTION + " WHERE s.id = ?", (person_id, section_id)).fetchone()
    return _section(row) if row else None


_STUDIED = f"""
SELECT s.*, 'student' AS role, NULL AS part_limit, u.id AS student_id, {_OF_SECTION}
  JOIN student u ON u.section_id = s.id AND u.email = ? COLLATE NOCASE AND u.set_aside IS NULL
 WHERE s.archive IS NULL AND s.practice = 0
"""


def as_student_has_it(
    connection: Connection, email: str, section_id: int | None = None
) -> list[tuple[SectionRecord, str]]:
    """The sections whose class list has an email address, or one of them, each with the student's id there."""
    if not email.strip():
        return []
    rows = connection.execute(_STUDIED + " ORDER BY s.term_starts DESC, s.course, s.number", (email.strip(),))
    return [(_section(row), row["student_id"]) for row in rows if section_id in (None, row["id"])]


_READ = f"""
SELECT s.*, 'reviewer' AS role, NULL AS part_limit, {_OF_SECTION}
 WHERE s.archive IS NULL AND s.practice = 0
"""


def sections_of_subjects(connection: Connection, subjects: frozenset[str], term: Term) -> list[SectionRecord]:
    """The sections of a term whose courses begin with one of some subjects, as a reviewer has them, by course."""
    rows = connection.execute(
        _READ + " AND s.term_starts = ? AND s.term_name = ? ORDER BY s.course, s.number",
        (term.starts.isoformat(), term.name),
    )
    return [one for one in map(_section, rows.fetchall()) if department_of(one.name) in subjects]


def section_of_subjects(connection: Connection, subjects: frozenset[str], section_id: int) -> SectionRecord | None:
    """A section whose course begins with one of some subjects, as a reviewer has it; None where it does not."""
    row = connection.execute(_READ + " AND s.id = ?", (section_id,)).fetchone()
    found = _section(row) if row else None
    return found if found is not None and department_of(found.name) in subjects else None


def terms_of_sections(connection: Connection) -> list[Term]:
    """Every term that there is a section of, the latest first."""
    rows = connection.execute(
        "SELECT DISTINCT term_name, term_starts, term_ends FROM section ORDER BY term_starts DESC, term_name"
    ).fetchall()
    return [
        Term(row["term_name"], date.fromisoformat(row["term_starts"]), date.fromisoformat(row["term_ends"]))
        for row in rows
    ]


def instructed_sections(connection: Connection) -> list[SectionRecord]:
    """Every section that somebody teaches here, as its first instructor has it; none that came from an archive."""
    rows = connection.execute(
        "SELECT section_id, min(person_id) AS person FROM section_person WHERE role = 'instructor'"
        " AND section_id IN (SELECT id FROM section WHERE archive IS NULL) GROUP BY section_id ORDER BY section_id"
    ).fetchall()
    found = (section_of(connection, row["person"], row["section_id"]) for row in rows)
    return [record for record in found if record is not None]


def _section(row: Row) -> SectionRecord:
    return SectionRecord(
        row["id"],
        row["role"],
        Term(row["term_name"], date.fromisoformat(row["term_starts"]), date.fromisoformat(row["term_ends"])),
        SectionName(row["course"], row["title"], row["number"]),
        row["plan_version"],
        row["students"],
        row["office_ref"],
        _time(row["opens"]),
        _time(row["due"]),
        _time(row["pulled_at"]),
        row["archive"],
        row["put_away_at"] is not None,
        bool(row["practice"]),
        row["instructors"],
        read_part_limit(json.loads(row["part_limit"])) if row["part_limit"] else NO_LIMIT,
    )


def _time(text: str | None) -> datetime | None:
    return moment_of(text) if text else None


def rename_section(connection: Connection, act: Act, name: SectionName, what: str) -> None:
    """Give the act's section another name."""
    with writing(connection, act, "section") as entry:
        entry.what = what
        connection.execute(
            "UPDATE section SET course = ?, title = ?, number = ? WHERE id = ?",
            (name.course, name.title, name.number, act.section_id),
        )


def put_section_away(connection: Connection, act: Act, away: bool, what: str) -> None:
    """Put the act's section away, or take it back."""
    with writing(connection, act, "section") as entry:
        entry.what = what
        at = stamp(act.at) if away else None
        connection.execute("UPDATE section SET put_away_at = ? WHERE id = ?", (at, act.section_id))


def create_section(
    connection: Connection, act: Act, term: Term, name: SectionName, students: Sequence[Student], plan: Plan
) -> int:
    """A new section of the acting person, with its students and first plan; its id."""
    return create_from_course(connection, act, Course(term, name, plan, tuple(students)))


def create_from_course(
    connection: Connection,
    act: Act,
    course: Course,
    role: Role = "instructor",
    archive: str | None = None,
    practice: bool = False,
) -> int:
    """A new section of the acting person with everything a course holds; its id.

    `archive` names the archive it comes from, which makes it one to look at.
    """
    with writing(connection, act, "section") as entry:
        section_id = _insert_section(connection, act, course, archive)
        if practice:
            connection.execute("UPDATE section SET practice = 1 WHERE id = ?", (section_id,))
        connection.execute(
            "INSERT INTO section_person VALUES (?, ?, ?, NULL)",
            (section_id, act.person_id, role),
        )
        plan = plan_as_text(course.plan)
        connection.execute("INSERT INTO plan_version VALUES (?, 1, ?, NULL)", (section_id, plan))
        insert_students(connection, section_id, course.students)
        _insert_cells(connection, section_id, course)
        _insert_settled(connection, section_id, course)
        put_adjustments(connection, section_id, {s: kept_adjustment(one) for s, one in course.adjustments.items()})
        put_extensions(connection, section_id, extension_rows(course.extensions))
        if course.records is not None:
            connection.execute(
                "INSERT INTO office_records (section_id, records, pulled_at) VALUES (?, ?, ?)",
                (section_id, json.dumps(write_records(course.records), ensure_ascii=False), stamp(act.at)),
            )
        entry.section_id = section_id
        entry.what = f"section {course.section.short} created with {len(course.students)} students"
        if archive:
            entry.what += f" from the archive {archive}, to be looked at"
        entry.after = {"students": [s.id for s in course.students]}
    return section_id


def _insert_section(connection: Connection, act: Act, course: Course, archive: str | None) -> int:
    term, name = course.term, course.section
    section_id = next_section_id(connection)
    connection.execute(
        "INSERT INTO section (id, term_name, term_starts, term_ends, course, title, number, syllabus, created_at,"
        " archive) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (section_id, term.name, term.starts.isoformat(), term.ends.isoformat(), name.course, name.title, name.number,
         course.syllabus, stamp(act.at), archive),
    )  # fmt: skip
    return section_id


def _insert_cells(connection: Connection, section_id: int, course: Course) -> None:
    cells = [(section_id, s, i, kept_text(c)) for s, row in course.scores.items() for i, c in row.items()]
    connection.executemany("INSERT INTO score VALUES (?, ?, ?, ?)", [cell for cell in cells if cell[3] is not None])


def _insert_settled(connection: Connection, section_id: int, course: Course) -> None:
    for run, grades in (("final", course.settled), ("midterm", course.midterm)):
        rows = [(section_id, run, s, json.dumps(write_settled(g), ensure_ascii=False)) for s, g in grades.items()]
        connection.executemany("INSERT INTO settled VALUES (?, ?, ?, ?)", rows)


def insert_students(connection: Connection, section_id: int, students: Sequence[Student]) -> None:
    """Rows for new students, after those already there. Raises Refused beyond the number that a section may have."""
    start = connection.execute(
        "SELECT coalesce(max(place), -1) + 1 AS n FROM student WHERE section_id = ?", (section_id,)
    ).fetchone()["n"]
    connection.executemany(
        "INSERT INTO student (section_id, id, family_name, given_name, email, set_aside, place)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        [
            (section_id, s.id, s.family_name, s.given_name, s.email, s.set_aside, start + i)
            for i, s in enumerate(students)
        ],
    )
    if start + len(students) > STUDENT_LIMIT.most:
        raise Refused("students", more_than(STUDENT_LIMIT))


def load_course(connection: Connection, section: SectionRecord) -> Course:
    """Everything of a section, as the core takes it. Scores of items no longer in the plan are left out."""
    plan = plan_in_force(connection, section.id)
    records = connection.execute("SELECT records FROM office_records WHERE section_id = ?", (section.id,)).fetchone()
    syllabus = connection.execute("SELECT syllabus FROM section WHERE id = ?", (section.id,)).fetchone()["syllabus"]
    return Course(
        term=section.term,
        section=section.name,
        plan=plan,
        students=_students(connection, section.id),
        scores=cells_of(connection, section.id, set(plan.columns)),
        syllabus=syllabus,
        records=read_records(parsed(records["records"])) if records else None,
        settled=_settled(connection, section.id, "final"),
        midterm=_settled(connection, section.id, "midterm"),
        adjustments=adjustments_of(connection, section.id),
        extensions={p: due for p, due in extensions_of(connection, section.id).items() if p[1] in plan.placed},
    )


def plan_in_force(connection: Connection, section_id: int) -> Plan:
    """The latest version of a section's plan."""
    row = connection.execute(
        "SELECT plan FROM plan_version WHERE section_id = ? ORDER BY version DESC LIMIT 1", (section_id,)
    ).fetchone()
    return plan_from_text(row["plan"])


def plan_of(connection: Connection, section_id: int, version: int) -> Plan:
    """One version of a section's plan."""
    row = connection.execute(
        "SELECT plan FROM plan_version WHERE section_id = ? AND version = ?", (section_id, version)
    ).fetchone()
    return plan_from_text(row["plan"])


def _students(connection: Connection, section_id: int) -> tuple[Student, ...]:
    rows = connection.execute("SELECT * FROM student WHERE section_id = ? ORDER BY place", (section_id,)).fetchall()
    return tuple(Student(r["id"], r["family_name"], r["given_name"], r["email"], r["set_aside"]) for r in rows)


def _settled(connection: Connection, section_id: int, run: str) -> dict[str, Settled]:
    rows = connection.execute(
        "SELECT student_id, settled FROM settled WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchall()
    return {r["student_id"]: read_settled(parsed(r["settled"]), "settled") for r in rows}


def section_of_entry(connection: Connection, entry: int) -> int | None:
    """The section of an entry of the history; None where it is gone."""
    row = connection.execute("SELECT section_id FROM history WHERE id = ?", (entry,)).fetchone()
    return row["section_id"] if row else None


def delete_section(connection: Connection, act: Act, section_id: int, what: str) -> None:
    """Delete a section with everything that stands under it, its history too; one line without a section says so."""
    with writing(connection, replace(act, section_id=None), "deleted") as entry:
        connection.execute("DELETE FROM section WHERE id = ?", (section_id,))
        entry.what = what
