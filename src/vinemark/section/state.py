"""A person's section in this moment, at one run: what every page and act about a section stands on."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from vinemark.core.course.course import Course, Run, SectionName, Term
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.submit.hours import Dial, Gate, OfficeHours, dial, gate
from vinemark.section.snapshot import RunSnapshot, Snapshot, Snapshots
from vinemark.store import history, submissions
from vinemark.store.database import Connection
from vinemark.store.sections import Role, SectionRecord, section_of

STALE_AFTER = timedelta(minutes=2)
"""After so long the registrar is asked again when a page that shows its side is opened."""


GRADER_STEPS = frozenset({"plan", "scores"})


@dataclass(frozen=True)
class SectionState:
    """The section as this person has it, at a run, with the snapshot of what is worked out and the time it is."""

    connection: Connection
    snapshots: Snapshots
    record: SectionRecord
    snapshot: Snapshot
    run: Run
    now: datetime
    person_id: int

    def fresh(self) -> "SectionState":
        """The same section as it is by now."""
        return replace(self, snapshot=self.snapshots.of(self.connection, self.record, self.now.date()))

    def at(self, run: Run) -> "SectionState":
        """The same section at another run."""
        return replace(self, run=run)

    @property
    def id(self) -> int:
        """The section's id."""
        return self.record.id

    @property
    def name(self) -> SectionName:
        """What the section is called."""
        return self.record.name

    @property
    def term(self) -> Term:
        """Its term."""
        return self.record.term

    def may_open(self, step: str) -> bool:
        """Whether the person's role reads a step: a grader sees plan and scores, not what is settled of them."""
        return self.role != "grader" or step in GRADER_STEPS

    @property
    def role(self) -> Role:
        """What this person may do with it."""
        return self.record.role

    @property
    def course(self) -> Course:
        """Everything the core takes, with the final run's settled grades."""
        return self.snapshot.course

    @property
    def as_of(self) -> date:
        """The day that blanks rules go by at this run."""
        return self.of_run.as_of

    @property
    def grades_now(self) -> Mapping[str, Grade]:
        """Everyone's grade from the scores as they are, on the run's day."""
        return self.snapshot.grades if self.as_of == self.snapshot.as_of else grades_of(self.course, self.as_of)

    @property
    def of_run(self) -> RunSnapshot:
        """What belongs to the run."""
        return self.snapshot.run(self.run)

    @property
    def run_arg(self) -> Run | None:
        """The run as addresses carry it: none for the final one."""
        return None if self.run == "final" else self.run

    @property
    def hours(self) -> OfficeHours:
        """The registrar's windows and transfers, as last updated."""
        return self.snapshot.loaded.hours

    @property
    def window_due(self) -> datetime | None:
        """When the run is due."""
        window = self.hours.windows.get(self.run)
        return window.due if window else None

    @property
    def gate(self) -> Gate:
        """Whether the registrar takes the run's grades now."""
        return gate(self.hours, self.run, self.now)

    @property
    def dial(self) -> Dial:
        """The registrar's day."""
        return dial(self.hours, self.run, self.now)

    @property
    def linked(self) -> bool:
        """Whether it is linked to a section of the registrar's."""
        return self.record.office_ref is not None

    @property
    def last_saved(self) -> datetime | None:
        """When something was last written."""
        return history.last_saved(self.connection, self.id)

    @property
    def registrar_stale(self) -> bool:
        """Whether roster and rules are to be asked for again, by the instructor of a section that is not archived."""
        asked = self.record.pulled_at
        return self._asks and (asked is None or self.now - asked > STALE_AFTER)

    @property
    def copy_stale(self) -> bool:
        """Whether what the registrar has is to be asked for again; never before there is anything."""
        asked = self.registrar_asked_at
        return self._asks and self.linked and asked is not None and self.now - asked > STALE_AFTER

    @property
    def registrar_asked_at(self) -> datetime | None:
        """When the registrar was last asked what it has of the run."""
        return submissions.registrar_asked_at(self.connection, self.id, self.run)

    @property
    def _asks(self) -> bool:
        return self.role == "instructor" and not self.record.archive


def open_section(
    connection: Connection, snapshots: Snapshots, person_id: int, section_id: int, now: datetime, run: Run = "final"
) -> SectionState | None:
    """A section, if it is this person's."""
    record = section_of(connection, person_id, section_id)
    return state_of(connection, snapshots, record, now, person_id, run) if record else None


def state_of(
    connection: Connection,
    snapshots: Snapshots,
    record: SectionRecord,
    now: datetime,
    person_id: int,
    run: Run = "final",
) -> SectionState:
    """The state of a section that is at hand."""
    snapshot = snapshots.of(connection, record, now.date())
    return SectionState(connection, snapshots, record, snapshot, run, now, person_id)
