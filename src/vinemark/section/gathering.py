"""Everything of a section gathered for an archive."""

from datetime import datetime

from vinemark.core.base.moments import stamp
from vinemark.core.course.course import Course
from vinemark.exchange import course_file
from vinemark.exchange.archive import Archive
from vinemark.store import archives
from vinemark.store.database import Connection
from vinemark.store.sections import SectionRecord


def gathered(connection: Connection, section_id: int, course: Course, now: datetime) -> Archive:
    """The archive of a section, whose course is this one."""
    return Archive(
        course=course_file.course_text(course),
        made_at=stamp(now),
        syllabus=course.syllabus,
        history=archives.history_values(connection, section_id),
        submissions=archives.sending_values(connection, section_id),
        changes=archives.change_values(connection, section_id),
        beside=archives.beside_values(connection, section_id),
    )


def archive_name(record: SectionRecord) -> str:
    """A file name for a section's archive that no other section has."""
    words = f"{record.term.name} {record.name.short}"
    plain = "".join(sign if sign.isalnum() else "-" for sign in words)
    return f"{record.id:05}-{plain}.zip"
