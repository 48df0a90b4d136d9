"""The list of Settle: computed and settled side by side, for the whole class."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.audit import Finding
from vinemark.core.audit.finding import stops_by_student
from vinemark.core.course.course import Course, GradingBasis, Settled, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.codes import computed_code
from vinemark.core.grade.final_steps import is_lowered
from vinemark.core.grade.letters import NextLetter, next_letter
from vinemark.core.plan.plan import Item
from vinemark.core.scores.last_work import last_work
from vinemark.core.scores.trial_student import is_trial
from vinemark.core.settle.same_place import same_place
from vinemark.core.settle.settling import typed_code
from vinemark.section.snapshot import RunSnapshot
from vinemark.section.state import SectionState

GRADED = frozenset({"enrolled", "not on the roster"})


@dataclass(frozen=True)
class SettleLine:
    """One student of the list."""

    student: Student
    grade: Grade
    computed: str | None
    settled: Settled | None
    status: str
    basis: GradingBasis
    stops: Sequence[Finding]
    flags: Sequence[Finding]
    suggestion: Item | None
    next: NextLetter | None
    """The next letter and what is short of it."""
    since: bool
    """Whether another grade was signed or sent."""

    @property
    def states(self) -> str:
        """What a filter goes by."""
        flags = [("open", self.settled is None), ("changed", self.differs), ("since", self.since),
                 ("flagged", bool(self.flags))]  # fmt: skip
        return " ".join(name for name, holds in flags if holds)

    @property
    def near(self) -> bool:
        """A percentage point or less below the next letter."""
        return self.next is not None and self.next.short_by <= 1

    @property
    def differs(self) -> bool:
        """Settled otherwise than computed."""
        return self.settled is not None and self.settled.grade != self.computed

    @property
    def graded(self) -> bool:
        """Whether it stands in the list of those to be graded, and not among those apart."""
        return self.status in GRADED


def settle_lines(section: SectionState) -> list[SettleLine]:
    """Every student of the section, in its order."""
    run = section.of_run
    stops = stops_by_student(run.findings)
    moved = changed_since_signing(run)
    flags: dict[str, list[Finding]] = {}
    for finding in run.open_findings:
        if finding.student is not None and finding.code != "unsettled":
            flags.setdefault(finding.student, []).append(finding)
    return [
        SettleLine(
            student=student,
            grade=run.grades[student.id],
            computed=computed_code(run.course, student.id, run.grades[student.id]),
            settled=run.course.settled.get(student.id),
            status="set aside" if student.set_aside else run.course.status(student) or "not on the roster",
            basis=run.course.grading_basis(student.id),
            stops=stops.get(student.id, []),
            flags=flags.get(student.id, []),
            suggestion=last_work(run.course, student.id, run.as_of),
            next=_next(run.course, run.grades[student.id]),
            since=student.id in moved,
        )
        for student in section.course.students
        if not is_trial(student)
    ]


def _next(course: Course, grade: Grade) -> NextLetter | None:
    return None if grade.percent is None or is_lowered(grade) else next_letter(course.plan, grade.percent)


def changed_since_signing(run: RunSnapshot) -> frozenset[str]:
    """Whose settled grade is another than the one that is on its way, or that the registrar accepted."""
    settled, going = run.course.settled, run.on_the_way
    other = {student for student, code in going.items() if student in settled and settled[student].grade != code}
    return frozenset(other | {drift.student_id for drift in run.drifts})


def others_in_place(section: SectionState, student: Student, typed: str) -> int:
    """How many stand in the same place as a student who is raised to a grade as typed."""
    run = section.of_run
    return len(same_place(run.course, run.grades, student.id, typed_code(run.course, student.id, typed)))
