"""What is read apart from the server, in one reading each: a process that has loaded this has loaded every reader."""

from vinemark.core.base.refused import Refused
from vinemark.core.bring.people import brought_people
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course, Student
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.core.table.pasted import read_pasted_people
from vinemark.core.table.people import TableStudent
from vinemark.core.table.read import NO_ROLES, SaidRoles, TableReading, read_grids
from vinemark.exchange import archive, course_file, oneroster, score_file, spreadsheet_file, syllabus_file
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.table_file import read_grids_of
from vinemark.exchange.tables import decode

__all__ = ["brought_section", "score_file", "spreadsheet_file", "syllabus_of_file"]


def syllabus_of_file(name: str, data: bytes) -> tuple[str, Reading]:
    """The text of a syllabus and what it says. Raises Refused."""
    text = syllabus_file.read_text(name, data)
    return text, read_syllabus(text)


def brought_section(data: bytes) -> tuple[Course, archive.Archive | None, Reading | None]:
    """A section from a course file or a OneRoster file, or with its archive; and what its syllabus says.

    Raises Refused for what cannot be read or is beyond the limits.
    """
    kept = None
    if archive.is_archive(data):
        checked = archive.read_archive(data)
        course, kept, text = checked.course, checked.archive, checked.archive.syllabus
        refuse_broken(kept, course)
    else:
        course = oneroster.read_zip(data) if data.startswith(b"PK") else course_file.read_bytes(data)
        text = course.syllabus
    refuse_oversized(course)
    return course, kept, read_syllabus(text) if text else None


def table_of_file(data: bytes, sheet: str = "", roles: SaidRoles = NO_ROLES) -> TableReading:
    """What a file of scores holds, of a sheet where one is named, its columns as a person says. Raises Refused."""
    return read_grids(read_grids_of(data), sheet, roles)


def pasted_list(data: bytes) -> list[Student]:
    """The students of a text file that is a list of names, a line each. Raises Refused where a line names nobody."""
    if spreadsheet_file.is_spreadsheet(data):
        raise Refused("file", "is no list of names")
    found = read_pasted_people(decode(data))
    if found.unread or not found.people:
        raise Refused("file", "is no list of names")
    people = [TableStudent(p.line, p.id, p.family_name, p.given_name, p.email, "enrolled") for p in found.people]
    return list(brought_people(people, ()).new)


def holds_section(data: bytes) -> bool:
    """Whether a file is a whole section: a course file, an archive or a class as OneRoster."""
    if data.startswith(b"PK"):
        return archive.is_archive(data) or oneroster.is_oneroster(spreadsheet_file.packed_names(data))
    return data.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{")
