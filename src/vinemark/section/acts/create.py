"""Making a section: from a class list, from the registrar's list, from a course file, from an archive to look at."""

from collections.abc import Callable, Sequence

from vinemark.core.base.refused import Refused
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course, SectionName, Student, Term
from vinemark.core.plan.edit import empty_plan
from vinemark.core.submit.grade_row import text_digest
from vinemark.core.submit.roster_changes import joins_section
from vinemark.core.syllabus import Reading
from vinemark.exchange.apart import read_apart
from vinemark.exchange.archive import Archive
from vinemark.exchange.readers import brought_section
from vinemark.office.answers import OfficeRoster
from vinemark.section.acts.registrar import linked, same_section, unanswered
from vinemark.section.delivery.courier import save_roster
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done, Outcome
from vinemark.store import archives, sections, syllabuses
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, AlreadyDoneError

Choose = Callable[[Term, SectionName], Connection]
"""The database that a new section goes into."""


def made_section(connection: Connection, make: Callable[[], Done]) -> Outcome:
    """What came of making a section; `entry` is its id, also where the same request made it before."""
    try:
        return make()
    except Refused as refused:
        return refused
    except AlreadyDoneError as done:
        return Done(entry=sections.section_of_entry(connection, done.entry))


def create_from_list(
    connection: Connection, request: Act, term: Term, name: SectionName, students: Sequence[Student]
) -> Outcome:
    """A section with its students and an empty plan; `entry` is the section's id."""

    def make() -> Done:
        refuse_oversized(Course(term, name, empty_plan(), tuple(students), {}))
        return Done(entry=sections.create_section(connection, request, term, name, students, empty_plan()))

    return made_section(connection, make)


def link_new(connection: Connection, request: Act, gateway: Gateway, email: str, name: SectionName, term: Term) -> Done:
    """Link a section that was just made to the registrar's section of the same name and term."""
    listed = gateway.for_instructor(email).sections()
    if not isinstance(listed, list):
        text = f"The registrar did not answer: {listed.reason}. Update from the registrar later, on Submit."
        return Done(text, trouble=True)
    found = same_section(listed, name, term)
    if found is None:
        text = "The registrar has no section of this name and term for you; see Submit."
        return Done(text, trouble=True)
    return linked(connection, request, gateway, found.ref)


def create_from_registrar(choose: Choose, request: Act, gateway: Gateway, email: str, ref: str) -> Outcome:
    """A section with the roster of the registrar; `entry` is the section's id."""
    office = gateway.for_instructor(email)
    listed = office.sections()
    roster = office.roster(ref) if isinstance(listed, list) and ref in {s.ref for s in listed} else None
    if roster is None:
        return (
            Refused("ref", "The registrar has no such section for you.")
            if isinstance(listed, list)
            else unanswered(listed)
        )
    if not isinstance(roster, OfficeRoster):
        return unanswered(roster)
    coming = {entry.id for entry in roster.records.roster if joins_section(entry)}
    students, found = [student for student in roster.students if student.id in coming], roster.section
    connection = choose(found.term, found.name)

    def make() -> Done:
        with transaction(connection):
            section_id = sections.create_section(connection, request, found.term, found.name, students, empty_plan())
            save_roster(connection, request.on(section_id), roster)
        return Done(entry=section_id)

    return made_section(connection, make)


def create_from_file(choose: Choose, request: Act, name: str, data: bytes) -> Outcome:
    """A section from a course file or a OneRoster file, with everything that stands in it, or from an archive, to be
    looked at; `entry` is the section's id."""
    try:
        course, kept, reading = read_apart(brought_section, data)
    except Refused as refused:
        return refused
    connection = choose(course.term, course.section)

    def make() -> Done:
        if kept is None:
            return _from_course(connection, request, name, course, reading)
        source = f"{name}, {kept.made_at[:10]}, SHA-256 {text_digest(data)}"
        return _from_archive(connection, request, name, source, course, kept, reading)

    return made_section(connection, make)


def _from_course(connection: Connection, request: Act, name: str, course: Course, reading: Reading | None) -> Done:
    with transaction(connection):
        section_id = sections.create_from_course(connection, request, course)
        _put_in(connection, request.on(section_id), course.syllabus, reading, "the course file")
    return Done(f"{course.section.short} imported from {name}.", section_id)


def _from_archive(
    connection: Connection,
    request: Act,
    name: str,
    source: str,
    course: Course,
    kept: Archive,
    reading: Reading | None,
) -> Done:
    """A section from an archive whose every digest fits; it is read and never changed."""
    with transaction(connection):
        section_id = archives.create_from_archive(
            connection, request, course, source, kept.history, kept.submissions, kept.changes, kept.beside
        )
        _put_in(connection, request.on(section_id), kept.syllabus, reading, "the archive")
    text = f"{course.section.short} taken from the archive {name} for reading: all checksums agree."
    return Done(text, section_id)


def _put_in(connection: Connection, request: Act, text: str | None, reading: Reading | None, source: str) -> None:
    if text and reading is not None:
        syllabuses.write_syllabus(connection, request, text, source, reading)
