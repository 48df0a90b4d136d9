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
    name = SectionName(*(_one_line(*one) for one in (("course", course), ("title", title), ("number", number))))
    if not name.course:
        raise Refused("course", "type a name")
    if name == section.name:
        return Done()
    before, after = (f"{one.short} {one.title}".strip() for one in (section.name, name))
    sections.rename_section(section.connection, request, name, f"section renamed: {before} to {after}")
    return Done(f"Renamed: {after}.")


def _one_line(field: str, typed: str) -> str:
    text = " ".join(typed.split())
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
