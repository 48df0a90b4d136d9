"""Beginning a section: with nothing but a name, with pasted people, with a file of any kind."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from vinemark.core.base.refused import Refused, iso_day
from vinemark.core.bring.people import brought_people
from vinemark.core.course.course import SectionName, Student, Term
from vinemark.core.course.terms import course_in, term_in, usual_term
from vinemark.core.table.read import TableReading
from vinemark.exchange.apart import read_apart
from vinemark.exchange.readers import holds_section, pasted_list, table_of_file
from vinemark.section.acts import bring, create
from vinemark.section.acts.class_list import pasted_students
from vinemark.section.acts.create import Choose
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.snapshot import Snapshots
from vinemark.section.state import open_section
from vinemark.store.history import Act

# Places of a course file by the fields of the form.
_OF_COURSE_FILE = {
    "term.name": "term", "term.starts": "starts", "term.ends": "ends", "section.course": "course",
    "section.title": "title", "section.number": "number",
}  # fmt: skip


@dataclass(frozen=True)
class TypedSection:
    """A new section as typed; all but the course may be empty."""

    course: str = ""
    number: str = ""
    title: str = ""
    term: str = ""
    starts: str = ""
    ends: str = ""
    people: str = ""


@dataclass(frozen=True)
class BroughtFile:
    """A file with its name."""

    name: str
    data: bytes


@dataclass(frozen=True)
class Begun:
    """A section that was made: its id (None: it was made before), the file that is still to be looked at, and what
    came of it."""

    section_id: int | None
    file_id: int | None = None
    whole: bool = False
    name: SectionName | None = None
    term: Term | None = None
    outcome: Outcome | None = None


Errors = dict[str, str]


def begin_section(
    choose: Choose, snapshots: Snapshots, request: Act, typed: TypedSection, file: BroughtFile | None
) -> Begun | Errors:
    """Make a section of what is there. Everything wrong is said at once, by field, and then nothing is made."""
    if file is not None and _holds_section(file):
        return _whole(create.create_from_file(choose, request, file.name, file.data))
    errors: Errors = {}
    reading, listed = _read(file, errors)
    term = _term(typed, reading, request.at.date(), errors)
    name = _name(typed, reading, file, errors)
    gradebook = reading is not None and any(one.role in {"item", "total", "letter"} for one in reading.columns)
    # Those of a gradebook come in with their scores, once it was looked at.
    at_once = [] if gradebook else listed
    students = [*at_once, *_pasted(typed.people, at_once, errors)]
    if errors or term is None or name is None:
        return errors
    connection = choose(term, name)
    made = create.create_from_list(connection, request, term, name, students)
    if isinstance(made, Refused):
        return {_OF_COURSE_FILE.get(made.field, "file"): f"This {made.reason}."}
    if isinstance(made, Conflict) or made.entry is None:
        return Begun(None)
    section = open_section(connection, snapshots, request.person_id or 0, made.entry, request.at, "final")
    kept = None
    if gradebook and file is not None and section is not None:
        kept = bring.keep_read_table(section, request.on(made.entry), file.name, file.data)
    return Begun(made.entry, kept, name=name, term=term)


def _holds_section(file: BroughtFile) -> bool:
    try:
        return read_apart(holds_section, file.data)
    except Refused:
        return False


def _whole(outcome: Outcome) -> Begun | Errors:
    if isinstance(outcome, Refused):
        return {"file": f"This file was not imported: {outcome}."}
    made = None if isinstance(outcome, Conflict) else outcome.entry
    return Begun(made, whole=True, outcome=outcome)


def _read(file: BroughtFile | None, errors: Errors) -> tuple[TableReading | None, Sequence[Student]]:
    """The table of a file with its students; a list of names without headings is read line by line."""
    if file is None:
        return None, ()
    try:
        reading = read_apart(table_of_file, file.data)
        return reading, brought_people(reading.students, ()).new
    except Refused as refused:
        try:
            return None, read_apart(pasted_list, file.data)
        except Refused:
            errors["file"] = _said(refused) if refused.reason.startswith("row ") else f"This file {refused.reason}."
            return None, ()


def _said(refused: Refused) -> str:
    return f"Nothing was imported. {refused.reason[:1].upper()}{refused.reason[1:]}."


def _pasted(text: str, there: Sequence[Student], errors: Errors) -> Sequence[Student]:
    try:
        return pasted_students(text, there) if text.strip() else ()
    except Refused as refused:
        errors["people"] = f"{refused.reason[:1].upper()}{refused.reason[1:]}."
        return ()


def _name(
    typed: TypedSection, reading: TableReading | None, file: BroughtFile | None, errors: Errors
) -> SectionName | None:
    texts = [*(reading.titles if reading else ()), file.name.replace("_", " ") if file else ""]
    found = course_in(texts)
    if not typed.course.strip() and found is None:
        errors["course"] = "Type a name."
        return None
    base = found if found and not typed.course.strip() else SectionName(typed.course.strip(), "", "")
    return replace(base, title=typed.title.strip() or base.title, number=typed.number.strip() or base.number)


def _term(typed: TypedSection, reading: TableReading | None, today: date, errors: Errors) -> Term | None:
    """The term as typed, else as the file's title says, else the usual one of the day."""
    if not (typed.term.strip() or typed.starts or typed.ends):
        return term_in(reading.titles if reading else ()) or usual_term(today)
    named = term_in([typed.term]) or usual_term(today)
    days = {"starts": named.starts, "ends": named.ends}
    for key, text in (("starts", typed.starts), ("ends", typed.ends)):
        if text:
            try:
                days = {**days, key: iso_day(text, key)}
            except Refused:
                errors[key] = "Type a date."
    if not errors.keys() & {"starts", "ends"} and days["ends"] <= days["starts"]:
        errors["ends"] = "The term must end after it starts."
    return Term(" ".join(typed.term.split()) or named.name, days["starts"], days["ends"])
