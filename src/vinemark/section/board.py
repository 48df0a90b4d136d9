"""A chair's board: where each section of a department stands, without naming a student."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from vinemark.core.base.names import folded
from vinemark.core.college.distribution import LetterBar, distribution
from vinemark.section.desk import DeskEntry, desk_entry
from vinemark.section.state import SectionState
from vinemark.store.section_people import section_people


@dataclass(frozen=True)
class BoardLine:
    """A section on the board. `bars` count settled grades, and computed letters of those who are not settled."""

    entry: DeskEntry
    instructors: Sequence[str]
    bars: Sequence[LetterBar]
    settled: int
    enrolled: int
    received: int
    open_changes: int
    overdue: int

    @property
    def section(self) -> SectionState:
        """The section."""
        return self.entry.section

    @property
    def late(self) -> bool:
        """Whether the registrar's time is over and something is still to be sent."""
        return any(lane.closed and lane.left for lane in self.entry.lanes)


def board_line(section: SectionState) -> BoardLine:
    """A section's line."""
    entry, run = desk_entry(section), section.at("final").of_run
    course = run.course
    enrolled = course.enrolled()
    codes = [_code(section, one.id) for one in enrolled]
    people = section_people(section.connection, section.id)
    return BoardLine(
        entry,
        [one.name for one in people if one.role == "instructor"],
        distribution(code for code in codes if code),
        sum(one.id in course.settled for one in enrolled),
        len(enrolled),
        len(run.at_registrar.held),
        sum(one.state in {"waiting", "sent"} for one in run.changes),
        sum(one.state == "past" for one in entry.incompletes),
    )


def _code(section: SectionState, student_id: str) -> str:
    run = section.at("final").of_run
    settled = run.course.settled.get(student_id)
    return settled.grade if settled else run.grades[student_id].letter or ""


def by_name(lines: Iterable[BoardLine]) -> list[BoardLine]:
    """By course and number; late ones first."""
    found = sorted(lines, key=lambda one: (folded(one.section.name.course), folded(one.section.name.number)))
    return sorted(found, key=lambda one: not one.late)
