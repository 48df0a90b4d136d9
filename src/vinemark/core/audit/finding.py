"""What a check finds, and what every check looks at."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal

from vinemark.core.audit.fit import Fit
from vinemark.core.audit.order import ScoreOrder
from vinemark.core.audit.recorded import Recorded
from vinemark.core.audit.score_table import ScoreTable, score_table
from vinemark.core.course.course import GRADING_BASES, Course, GradingBasis, Student
from vinemark.core.grade.calculation import Calculators, Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.codes import computed_code, numbers_for, settled_number
from vinemark.core.grade.final_steps import is_lowered
from vinemark.core.grade.letters import Letters, letters_of
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.scale import scale_faults, sorted_scale
from vinemark.core.plan.worth import heaviest_item
from vinemark.core.syllabus import Reading, read_syllabus

Level = Literal["stop", "look", "note"]
LEVELS: tuple[Level, ...] = ("stop", "look", "note")
Step = Literal["plan", "scores", "settle", "submit"]
LEVEL_NAMES: Mapping[Level, str] = {"stop": "must fix", "look": "check", "note": "note"}


def level_words(level: Level, number: int) -> str:
    """So many findings of a level, as a person says it: '3 must fix', '11 to check', '1 note'."""
    if level == "note":
        return f"{number} note{'' if number == 1 else 's'}"
    return f"{number} {'must fix' if level == 'stop' else 'to check'}"


@dataclass(frozen=True)
class FixFacts:
    """What a check worked out that the fix of its finding needs: a category or code, an amount, a day, items."""

    target: str = ""
    amount: Fraction | None = None
    day: date | None = None
    items: Sequence[str] = ()


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


@dataclass(frozen=True)
class Touched:
    """What changed of a course since it was last looked through: whose cells or settled grade, and which items."""

    students: frozenset[str]
    items: frozenset[str] = frozenset()
    settled: bool = True
    """Whether any settled grade is among it."""

    def with_later(self, later: "Touched") -> "Touched":
        """Both edits together."""
        return Touched(self.students | later.students, self.items | later.items, self.settled or later.settled)


class Facts:
    """A course on a day, with what several checks need worked out once.

    After an edit, `narrowed` facts make checks look at the rows and columns that it touched, and at nothing else; what
    they are held against is always the whole class.
    """

    touched: Touched | None = None

    def __init__(
        self,
        course: Course,
        as_of: date,
        submitting: bool = False,
        reading: Reading | None = None,
        noted: Collection[str] = (),
        remarked: Collection[str] = (),
        grades: Mapping[str, Grade] | None = None,
        section_records: Recorded | None = None,
    ) -> None:
        """`reading` is what the syllabus says where it was corrected by hand, `noted` are keys of its rules that may
        differ, `remarked` its sentences of which a remark says how they are handled, `grades` are everyone's where they
        are worked out already, `section_records` what only the records of the section tell."""
        self.course = course
        self.plan = course.plan
        self.as_of = as_of
        self.submitting = submitting
        self.noted = noted
        self.remarked = remarked
        self._reading = reading
        self._grades = grades
        self.section_records = section_records or Recorded()
        self.suspects: dict[str, Collection[Fraction]] = {}
        """For each item that was looked at the numbers that stand apart on it."""
        self.helped: dict[str, dict[str, tuple[Fraction, Fraction] | None]] = {}
        """For each category what another drop would do for students who were looked at."""

    def narrowed(self, touched: Touched) -> "Facts":
        """The same, to be looked at where an edit touched it."""
        found = copy(self)
        found.touched = touched
        for name in ("rows", "rows_taking_part"):
            found.__dict__.pop(name, None)
        return found

    def brought_forward(self, course: Course, grades: Mapping[str, Grade], touched: Touched) -> "Facts":
        """The facts of the same plan and people after an edit of cells or settled grades."""
        found = copy(self)
        found.course, found._grades = course, grades
        for name in ("grades", "settled_ranks", "fit", "order"):
            found.__dict__.pop(name, None)
        if "table" in self.__dict__:
            found.__dict__["table"] = self.table.after(course, touched.students)
        if "computed_codes" in self.__dict__:
            found.__dict__["computed_codes"] = {**self.computed_codes, **found._codes_of(touched.students)}
        if "settled_ranks" in self.__dict__ and not self._moves_ranks(grades, touched):
            found.__dict__["settled_ranks"] = self.settled_ranks
        # Other threads may add to these meanwhile.
        found.suspects = {item: seen for item, seen in self.suspects.copy().items() if item not in touched.items}
        found.helped = {
            category: {student: what for student, what in seen.copy().items() if student not in touched.students}
            for category, seen in self.helped.copy().items()
        }
        return found

    @cached_property
    def computed_codes(self) -> Mapping[str, str | None]:
        """By enrolled student the code that follows from the computed letter."""
        return self._codes_of([student.id for student in self.enrolled])

    def _codes_of(self, students: Collection[str]) -> dict[str, str | None]:
        return {one: computed_code(self.course, one, self.grades[one]) for one in students if one in self.grades}

    def _moves_ranks(self, grades: Mapping[str, Grade], touched: Touched) -> bool:
        """Whether an edit changed a settled letter, or whose letter a requirement lowers."""
        both = [(self.grades[s], grades[s]) for s in touched.students if s in self.grades and s in grades]
        return touched.settled or any(is_lowered(before) != is_lowered(now) for before, now in both)

    @cached_property
    def rows(self) -> list[Student]:
        """Enrolled students whose row is looked at."""
        return self._looked_at(self.enrolled)

    @cached_property
    def rows_taking_part(self) -> list[Student]:
        """Students who are not set aside and whose row is looked at."""
        return self._looked_at(self.taking_part)

    def _looked_at(self, students: list[Student]) -> list[Student]:
        touched = self.touched
        return students if touched is None else [student for student in students if student.id in touched.students]

    def looks_along(self, student: Student) -> bool:
        """Whether a student's whole row is looked at."""
        return self.touched is None or student.id in self.touched.students

    @cached_property
    def apart(self) -> list[Student]:
        """Students who take part and are not enrolled: auditing, or on no roster."""
        enrolled = {student.id for student in self.enrolled}
        return [student for student in self.taking_part if student.id not in enrolled]

    def columns(self) -> Iterator[tuple[Category, Item]]:
        """Counting regular items of ordinary categories whose column is looked at."""
        return ((category, item) for category, item in self.regular_items() if self.looks_down(item))

    def looks_down(self, item: Item) -> bool:
        """Whether a column is looked at."""
        return self.touched is None or item.id in self.touched.items

    @cached_property
    def places(self) -> tuple[Mapping[str, int], Mapping[str, int]]:
        """Where each student stands in the class, and each item in the plan."""
        students = {student.id: place for place, student in enumerate(self.course.students)}
        return students, {item.id: place for place, (_, item) in enumerate(self.plan.items())}

    @property
    def letters(self) -> Letters:
        """The scale, made ready."""
        return letters_of(self.plan)

    @cached_property
    def exact_letters(self) -> Letters:
        """The scale as it would be without rounding."""
        return Letters(Plan(self.plan.basis, scale=self.plan.scale))

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
    def settled_ranks(self) -> Mapping[GradingBasis, Sequence[tuple[Student, int]]]:
        """By basis the enrolled students settled with a letter of the scale (or a number, where the registrar takes
        numbers) and without a reason, with what orders them: less is better. Whose letter a requirement lowers is no
        part of it."""
        found = self._settled_orders()
        steps = {
            basis: {rank: n for n, rank in enumerate(sorted({r for _, r in rows}))} for basis, rows in found.items()
        }
        return {basis: [(one, steps[basis][rank]) for one, rank in rows] for basis, rows in found.items()}

    def _settled_orders(self) -> Mapping[GradingBasis, Sequence[tuple[Student, Fraction | int]]]:
        order = {row.letter: place for place, row in enumerate(sorted_scale(self.plan.scale))}
        found: dict[GradingBasis, list[tuple[Student, Fraction | int]]] = {basis: [] for basis in GRADING_BASES}
        for student in self.enrolled:
            one = self.course.settled.get(student.id)
            if one is None or (one.reason or "").strip() or is_lowered(self.grades[student.id]):
                continue
            numbers = numbers_for(self.course, student.id)
            number = settled_number(one.grade) if numbers else None
            rank = -number if number is not None else None if numbers else order.get(one.grade)
            if rank is not None:
                found[self.course.grading_basis(student.id)].append((student, rank))
        return found

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

    def has_time(self, student: Student, item: Item) -> bool:
        """Whether a student has more time for an item than the class, and it is not over."""
        own = self.course.extended.get(student.id, {}).get(item.id)
        return own is not None and own >= self.as_of

    def regular_items(self) -> Iterator[tuple[Category, Item]]:
        """Counting regular items of ordinary categories."""
        for category in self.plan.categories:
            if not category.extra:
                for item in category.regular:
                    yield category, item

    def number(self, student: Student, item: Item) -> Fraction | None:
        """A cell's number as recorded, None for anything else."""
        cell = self.course.value(student.id, item.id)
        return cell if isinstance(cell, Fraction) else None

    @property
    def at_work(self) -> frozenset[str]:
        """Students with a number above 0 anywhere."""
        return self.course.tally.at_work

    def scored(self, item: Item) -> int:
        """How many enrolled students have a number on an item."""
        return self.course.tally.numbers.get(item.id, 0)

    def recorded(self, item: Item) -> int:
        """How many enrolled students have anything but a blank on an item."""
        return self.course.tally.recorded.get(item.id, 0)

    @cached_property
    def without_extra(self) -> Calculators:
        """The plan without extra credit, points for everyone and the course's cap, made ready."""
        plan = self.plan
        categories = tuple(
            replace(c, items=tuple(i for i in c.items if not i.extra)) for c in plan.categories if not c.extra
        )
        there = {None, *(c.id for c in categories), *(i.id for c in categories for i in c.items)}
        there |= {one.id for one in plan.recorded}
        made = replace(
            plan, categories=categories, added=Fraction(0), cap=None,
            requirements=tuple(r for r in plan.requirements if {r.condition.item, r.condition.category} <= there),
        )  # fmt: skip
        return Calculators(made, self.as_of)

    @cached_property
    def heaviest(self) -> Item | None:
        """The heaviest item of the course, where there is one."""
        return heaviest_item(self.plan)

    @cached_property
    def table(self) -> ScoreTable:
        """The scores of the enrolled as one table."""
        return score_table(self.course)

    @cached_property
    def fit(self) -> Fit:
        """What is expected of each of them."""
        return Fit(self.table)

    @cached_property
    def order(self) -> ScoreOrder:
        """What is found in the order of rows and columns."""
        return ScoreOrder(self.fit)

    @cached_property
    def taking_part(self) -> list[Student]:
        """Students who are not set aside."""
        return [s for s in self.course.students if s.set_aside is None]

    @cached_property
    def grades(self) -> dict[str, Grade]:
        """The grade of every student who takes part."""
        found = grades_of(self.course, self.as_of) if self._grades is None else self._grades
        return {s.id: found[s.id] for s in self.taking_part}
