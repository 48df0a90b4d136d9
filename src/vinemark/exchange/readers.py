"""What is read apart from the server, in one reading each: a process that has loaded this has loaded every reader."""

from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.core.table.read import TableReading, read_grids
from vinemark.exchange import archive, class_list, course_file, oneroster, score_file, spreadsheet_file, syllabus_file
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.table_file import read_grids_of

__all__ = ["brought_section", "class_list", "score_file", "spreadsheet_file", "syllabus_of_file"]


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


def table_of_file(data: bytes) -> TableReading:
    """What a file of scores holds. Raises Refused."""
    return read_grids(read_grids_of(data))
