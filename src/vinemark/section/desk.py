"""The Desk: where each section of a person stands, run by run."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from vinemark.core.after.incompletes import Incomplete, incompletes_of
from vinemark.core.course.course import RUNS
from vinemark.core.submit.progress import Milestone, RunFacts, StepName, left_step, left_words, milestones
from vinemark.core.submit.refs import refs_of
from vinemark.office.answers import OfficeSection
from vinemark.section.state import SectionState
from vinemark.store.sections import SectionRecord

LONG_PAST = timedelta(days=60)
"""So long after its term a section that nobody added is still named."""


@dataclass(frozen=True)
class Lane:
    """One run of a section on the Desk: its milestones, what is left and where, and whether the registrar closed it."""

    section: SectionState
    milestones: Sequence[Milestone]
    left: str
    left_at: StepName
    closed: bool


@dataclass(frozen=True)
class DeskEntry:
    """One section on the Desk, its final run first."""

    section: SectionState
    lanes: Sequence[Lane]
    incompletes: Sequence[Incomplete] = ()
    """Those that still wait for work, the next date first."""

    @property
    def questions(self) -> int:
        """How many questions of students wait for an answer."""
        return sum(one.answer is None for one in self.section.snapshot.loaded.questions)

    @property
    def pressing(self) -> bool:
        """Whether something is overdue, or is no longer as it was submitted."""
        late = any(one.state == "past" for one in self.incompletes)
        return late or any(lane.section.of_run.alarms or (lane.closed and lane.left) for lane in self.lanes)


def not_added(listed: Iterable[OfficeSection], mine: Iterable[SectionRecord]) -> list[OfficeSection]:
    """The registrar's sections that none of a person's own is linked to."""
    linked = {ref for one in mine if not one.archive for ref in refs_of(one.office_ref or "")}
    return [one for one in listed if one.ref not in linked]


def is_current(section: OfficeSection, today: date) -> bool:
    """Whether its term runs, or ended not long ago."""
    return section.term.starts <= today <= section.term.ends + LONG_PAST


def desk_entry(section: SectionState) -> DeskEntry:
    """A section with a lane for each run the registrar has, and for one that was settled."""
    shown = [run for run in reversed(RUNS) if run in section.snapshot.runs or section.course.midterm]
    final, course = section.snapshot.run("final"), section.snapshot.course
    diary = incompletes_of(course, final.held, final.fell_back, final.changes, section.now.date())
    return DeskEntry(section, [_lane(section.at(run)) for run in shown], [one for one in diary if one.needs_work])


def _lane(section: SectionState) -> Lane:
    run, match = section.of_run, section.snapshot.match if section.run == "final" else None
    facts = RunFacts(
        unmatched=len(match.open) if match else None,
        findings=run.open_findings if section.run == "final" else (),
        signed=len({row.id for one in run.submissions if one.state != "refused" for row in one.rows}),
        sent=run.at_registrar,
        opened=run.visible is not None,
    )
    closed = section.gate.state == "closed" and section.window_due is not None
    return Lane(
        section,
        milestones(run.course, facts),
        left_words(run.course, run.at_registrar, closed),
        left_step(run.course, run.at_registrar),
        closed,
    )
