"""A section is renamed, put away once it is over, or brought back to the Desk."""

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import sections
from vinemark.store.history import Act

LONGEST_NAME = 120


@act
def rename(section: SectionState, request: Act, course: str, title: str, number: str) -> Done:
    """Another course, title or number; the students, scores and grades stay. Raises Refused at the field."""
    name = SectionName(_one_line("course", course), _one_line("title", title), " ".join(number.split()))
    if len(name.number) > LONGEST_NAME:
        raise Refused("number", f"is longer than {LONGEST_NAME} characters")
    if name == section.name:
        return Done()
    what = f"section renamed: {section.name.short} {section.name.title} to {name.short} {name.title}"
    sections.rename_section(section.connection, request, name, what)
    return Done(f"Renamed: {name.short} {name.title}.")


def _one_line(field: str, typed: str) -> str:
    text = " ".join(typed.split())
    if not text:
        raise Refused(field, "type a name")
    if len(text) > LONGEST_NAME:
        raise Refused(field, f"is longer than {LONGEST_NAME} characters")
    return text


@act
def put_away(section: SectionState, request: Act, away: bool) -> Done:
    """Off the list of the Desk, or back on it. Nothing of the section changes."""
    name = section.name.short
    sections.put_section_away(section.connection, request, away, f"section {'archived' if away else 'unarchived'}")
    return Done(
        f"{name} is archived: it is listed at the end of the Desk." if away else f"{name} is on the Desk again."
    )
