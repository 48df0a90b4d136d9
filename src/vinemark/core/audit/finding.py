"""What a check finds, and what every check looks at."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal

from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Category, Item
from vinemark.core.plan.scale import scale_faults
from vinemark.core.syllabus import Reading, read_syllabus

Level = Literal["stop", "look", "note"]
LEVELS: tuple[Level, ...] = ("stop", "look", "note")
Step = Literal["plan", "scores", "settle", "submit"]


@dataclass(frozen=True)
class FixFacts:
    """What a check worked out that the fix of its finding needs: a category or code, an amount, a day."""

    target: str = ""
    amount: Fraction | None = None
    day: date | None = None


@dataclass(frozen=True)
class Found:
    """What a check finds; evidence is read line by line."""

    message: str
    student: str | None = None
    category: str | None = None
    item: str | None = None
    evidence: Sequence[str] = ()
    part: str = ""
    """What tells two findings of one code and place apart: the rule that differs."""
    opens: str | None = None
    """The item whose score is opened to fix it, where the finding is about the student."""
    facts: FixFacts = FixFacts()


@dataclass(frozen=True, kw_only=True)
class Finding(Found):
    """Something found under a code, how much it matters, and the step of the work where it is fixed."""

    code: str
    level: Level
    step: Step

    @property
    def key(self) -> str:
        """A key that stays the same while the finding does: code and place."""
        return "|".join(
            [self.code, self.student or "", self.category or "", self.item or "", *([self.part] if self.part else [])]
        )


def stops_by_student(findings: Iterable[Finding]) -> dict[str, list[Finding]]:
    """The findings that stop a student's row, by student id."""
    stops: dict[str, list[Finding]] = {}
    for finding in findings:
        if finding.level == "stop" and finding.student is not None:
            stops.setdefault(finding.student, []).append(finding)
    return stops


class Facts:
    """A course on a day, with what several checks need worked out once."""

    def __init__(
        self,
        course: Course,
        as_of: date,
        submitting: bool = False,
        reading: Reading | None = None,
        noted: Collection[str] = (),
        grades: Mapping[str, Grade] | None = None,
    ) -> None:
        """`reading` is what the syllabus says where it was corrected by hand, `noted` are keys of its rules that may
        differ, `grades` are everyone's where they are worked out already."""
        self.course = course
        self.plan = course.plan
        self.as_of = as_of
        self.submitting = submitting
        self.noted = noted
        self._reading = reading
        self._grades = grades

    @cached_property
    def reading(self) -> Reading | None:
        """What the syllabus says: as corrected by hand where it was, else as read from its text."""
        if self._reading is not None or not self.course.syllabus:
            return self._reading
        return read_syllabus(self.course.syllabus)

    @property
    def term_ended(self) -> bool:
        """Later than the term's last day."""
        return self.as_of > self.course.term.ends

    @cached_property
    def enrolled(self) -> list[Student]:
        """Enrolled students who are not set aside."""
        return self.course.enrolled()

    @cached_property
    def scale_due(self) -> bool:
        """Whether the scale is missing or broken, so that letters cannot be looked at."""
        return bool(scale_faults(self.plan.scale)) or (not self.plan.scale and self.letters_due)

    @cached_property
    def letters_due(self) -> bool:
        """Whether an enrolled student is on the letter basis (everyone is, without records)."""
        if self.course.records is None:
            return True
        return any(self.course.grading_basis(s.id) == "letter" for s in self.enrolled)

    def still_to_come(self, item: Item) -> bool:
        """A planned item that is not due yet; one without a date until the term's end."""
        return not item.counts and not self.term_ended and (item.due is None or item.due >= self.as_of)

    def is_past(self, item: Item) -> bool:
        """Whether an item's day is over; one without a date with the term."""
        return item.due < self.as_of if item.due else self.term_ended

    def regular_items(self) -> Iterator[tuple[Category, Item]]:
        """Counting regular items of ordinary categories."""
        for category in self.plan.categories:
            if not category.extra:
                for item in category.regular:
                    yield category, item

    def number(self, student: Student, item: Item) -> Fraction | None:
        """A cell's number, None for anything else."""
        cell = self.course.cell(student.id, item.id)
        return cell if isinstance(cell, Fraction) else None

    @cached_property
    def at_work(self) -> frozenset[str]:
        """Students with a number above 0 anywhere."""
        return frozenset(
            student
            for student, row in self.course.scores.items()
            if any(isinstance(cell, Fraction) and cell > 0 for cell in row.values())
        )

    @cached_property
    def taking_part(self) -> list[Student]:
        """Students who are not set aside."""
        return [s for s in self.course.students if s.set_aside is None]

    @cached_property
    def grades(self) -> dict[str, Grade]:
        """The grade of every student who takes part."""
        found = grades_of(self.course, self.as_of) if self._grades is None else self._grades
        return {s.id: found[s.id] for s in self.taking_part}
