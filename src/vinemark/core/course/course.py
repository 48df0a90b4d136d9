"""A section with everything that belongs to its grades: plan, students, scores, roster, settled grades."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from fractions import Fraction
from functools import cached_property
from math import lcm
from typing import Literal, NamedTuple, get_args

from vinemark.core.course.cell import Cell, PlainCell
from vinemark.core.course.recorded import PlainCells, recorded_rows
from vinemark.core.course.tally import Place, Tally, tally_of
from vinemark.core.plan.plan import Item, Plan, with_due_dates

Status = Literal["enrolled", "withdrawn", "auditing"]
GradingBasis = Literal["letter", "pass"]
Need = Literal["last_attended", "fallback_grade", "finish_by"]
NeverAttended = Literal["first_day", "zero_hours"]
Run = Literal["midterm", "final"]
"""One round of grades that the registrar asks for; each has its own settled grades, signings and receipts."""

STATUSES: tuple[Status, ...] = get_args(Status)
GRADING_BASES: tuple[GradingBasis, ...] = get_args(GradingBasis)
NEEDS: tuple[Need, ...] = get_args(Need)
RUNS: tuple[Run, ...] = get_args(Run)
NEVER_ATTENDED: tuple[NeverAttended, ...] = get_args(NeverAttended)


@dataclass(frozen=True)
class Term:
    """A term with its first and last day."""

    name: str
    starts: date
    ends: date


@dataclass(frozen=True)
class SectionName:
    """What a section is called: course, title, and number within the course."""

    course: str
    title: str
    number: str

    @property
    def short(self) -> str:
        """For example 'HYDR 230-01'."""
        return f"{self.course}-{self.number}" if self.number else self.course


@dataclass(frozen=True)
class Student:
    """A student of the section; `set_aside` is the reason where one is set aside."""

    id: str
    family_name: str
    given_name: str = ""
    email: str | None = None
    set_aside: str | None = None

    @property
    def name(self) -> str:
        """As lists show it: 'Ode, Marit', or the one name of a person with one."""
        return f"{self.family_name}, {self.given_name}" if self.given_name else self.family_name

    @property
    def plain_name(self) -> str:
        """As sentences say it: 'Marit Ode'."""
        return f"{self.given_name} {self.family_name}".strip()


@dataclass(frozen=True)
class RosterEntry:
    """One row of the registrar's roster."""

    id: str
    family_name: str
    given_name: str = ""
    status: Status = "enrolled"
    basis: GradingBasis = "letter"

    @property
    def name(self) -> str:
        """As lists show it."""
        return f"{self.family_name}, {self.given_name}" if self.given_name else self.family_name


@dataclass(frozen=True)
class CodeRule:
    """A code of the registrar: for which grading bases (none named: every one), what it needs, who may set it."""

    code: str
    basis: tuple[GradingBasis, ...] = ()
    needs: tuple[Need, ...] = ()
    office_only: bool = False

    def serves(self, basis: GradingBasis) -> bool:
        """Whether an instructor may give this code on that grading basis."""
        return not self.office_only and (not self.basis or basis in self.basis)


@dataclass(frozen=True)
class NumberGrades:
    """Numbers that the registrar takes in place of letters: from, to, and with so many decimals at most."""

    lowest: Fraction
    highest: Fraction
    decimals: int


@dataclass(frozen=True)
class Records:
    """What the registrar says about a section: its roster and its rules for codes."""

    roster: tuple[RosterEntry, ...] = ()
    codes: tuple[CodeRule, ...] = ()
    incomplete_limit_days: int | None = None
    incomplete_fallback: str | None = None
    incomplete_finish_by: date | None = None
    never_attended: NeverAttended = "first_day"
    pass_from: str | None = None
    numbers: NumberGrades | None = None

    def entry(self, student_id: str) -> RosterEntry | None:
        """The roster row of a student, if any."""
        return self._by_id.get(student_id)

    @cached_property
    def _by_id(self) -> dict[str, RosterEntry]:
        return {row.id: row for row in reversed(self.roster)}

    def rule(self, code: str) -> CodeRule | None:
        """The rule of a code, if the registrar knows it; codes are compared with case."""
        return next((c for c in self.codes if c.code == code), None)


@dataclass(frozen=True)
class Settled:
    """The grade an instructor hands in for one student, with what the registrar needs beside it."""

    grade: str
    reason: str | None = None
    last_attended: date | None = None
    fallback_grade: str | None = None
    finish_by: date | None = None
    never_attended: bool = False
    owed: str | None = None


class Risen(NamedTuple):
    """Numbers in rising order, as whole numbers of 1 / `unit`: compared and added much faster, and still exact."""

    whole: Sequence[int]
    unit: int

    def numbers(self, places: slice) -> list[Fraction]:
        """Some of them."""
        return [Fraction(whole, self.unit) for whole in self.whole[places]]


def risen_of(numbers: Sequence[Fraction]) -> Risen:
    """Numbers made ready."""
    unit = lcm(*{number.denominator for number in numbers})
    return Risen(sorted([number.numerator * (unit // number.denominator) for number in numbers]), unit)


@dataclass(frozen=True)
class Adjustment:
    """Percentage points given to one student, or taken (below 0), and why."""

    percent: Fraction
    reason: str = ""


Scores = Mapping[str, Mapping[str, Cell]]
NO_CELLS: Mapping[str, Cell] = {}
NO_VALUES: PlainCells = {}
NO_ADJUSTMENT = Fraction(0)


@dataclass(frozen=True)
class Course:
    """Everything about one section. `scores` is by student id, then item id; an absent cell is blank.

    `settled` are the grades of `run`: of the final one but in a course made by `for_run`. `extensions` are due dates
    of single students, by student and item.
    """

    term: Term
    section: SectionName
    plan: Plan
    students: tuple[Student, ...] = ()
    scores: Scores = field(default_factory=dict)
    syllabus: str | None = None
    records: Records | None = None
    settled: Mapping[str, Settled] = field(default_factory=dict)
    midterm: Mapping[str, Settled] = field(default_factory=dict)
    run: Run = "final"
    adjustments: Mapping[str, Adjustment] = field(default_factory=dict)
    extensions: Mapping[Place, date] = field(default_factory=dict)

    def for_run(self, run: Run) -> "Course":
        """The same section with the settled grades of a run in `settled`."""
        if run == self.run:
            return self
        # The other run's grades wait in `midterm`: going back and forth loses neither.
        return self._with_same_cells(self._carried(replace(self, settled=self.midterm, midterm=self.settled, run=run)))

    def with_cells(self, cells: Mapping[Place, Cell]) -> "Course":
        """The same section after some cells changed; what does not hang on them is carried over, counts are brought
        forward."""
        rows: dict[str, Mapping[str, Cell]] = dict(self.scores)
        for student in {student for student, _ in cells}:
            row = {**rows.pop(student, {}), **{item: cell for (who, item), cell in cells.items() if who == student}}
            filled = {item: cell for item, cell in row.items() if cell is not None}
            if filled:
                rows[student] = filled
        found = self._carried(replace(self, scores=rows))
        found.__dict__["values"] = self._values_after({student for student, _ in cells}, rows)
        found.__dict__["tally"] = self.tally.brought_forward(self.values, found.values, cells, self.enrolled_ids)
        changed = {item for _, item in cells}
        # Other threads may add to it meanwhile.
        found.__dict__["_risen"] = {item: risen for item, risen in self._risen.copy().items() if item not in changed}
        return found

    def with_settled(self, settled: Mapping[str, Settled | None]) -> "Course":
        """The same section after some grades of its run were settled, or opened again (None)."""
        now = {student: one for student, one in {**self.settled, **settled}.items() if one is not None}
        found = self._carried(replace(self, settled=now))
        return self._with_same_cells(found)

    def _values_after(self, students: Collection[str], rows: Scores) -> Mapping[str, PlainCells]:
        """The cells as recorded after the rows of some students changed."""
        changed = {student: rows[student] for student in students if student in rows}
        made = recorded_rows(self.plan, changed)
        if self.values is self.scores and made is changed:
            return rows  # type: ignore[return-value]
        return {**{student: row for student, row in self.values.items() if student in rows}, **made}

    def _with_same_cells(self, found: "Course") -> "Course":
        found.__dict__["values"], found.__dict__["tally"] = self.values, self.tally
        found.__dict__["_risen"] = dict(self._risen)
        return found

    def _carried(self, found: "Course") -> "Course":
        """Another course of the same students and records, without working out again what follows from them."""
        for name in ("_by_id", "_enrolled", "enrolled_ids"):
            found.__dict__[name] = getattr(self, name)
        return found

    def adjustment(self, student_id: str) -> Fraction:
        """A student's adjustment in percentage points; 0 for none."""
        found = self.adjustments.get(student_id)
        return found.percent if found else NO_ADJUSTMENT

    @cached_property
    def extended(self) -> Mapping[str, Mapping[str, date]]:
        """The due dates that are a student's own, by student, then item; only those of items that have a date."""
        found: dict[str, dict[str, date]] = {}
        for (student, item), due in self.extensions.items():
            placed = self.plan.placed.get(item)
            if placed is not None and placed[1].due is not None:
                found.setdefault(student, {})[item] = due
        return found

    def due(self, student_id: str, item: Item) -> date | None:
        """When an item is due for a student."""
        return self.extended.get(student_id, {}).get(item.id, item.due)

    def plan_of(self, student_id: str) -> Plan:
        """The plan with a student's own due dates."""
        own = self.extended.get(student_id)
        return with_due_dates(self.plan, own) if own else self.plan

    def cell(self, student_id: str, item_id: str) -> Cell:
        """What stands in one cell; None for blank."""
        return self.scores.get(student_id, {}).get(item_id)

    def value(self, student_id: str, item_id: str) -> PlainCell:
        """What one cell is worth as recorded: a symbol in points, late days taking nothing yet."""
        return self.values.get(student_id, NO_VALUES).get(item_id)

    @cached_property
    def values(self) -> Mapping[str, PlainCells]:
        """Every cell as recorded, by student id, then item id."""
        return recorded_rows(self.plan, self.scores)

    @cached_property
    def recorded_items(self) -> frozenset[str]:
        """Items for which anything but `exempt` is recorded."""
        return frozenset(
            item for row in self.scores.values() for item, cell in row.items() if cell not in (None, "exempt")
        )

    @cached_property
    def tally(self) -> Tally:
        """Counts over the cells."""
        return tally_of(self.values, self.enrolled_ids, {one.id for one in self.plan.recorded})

    def risen(self, item_id: str) -> "Risen":
        """The numbers of the enrolled on an item, in rising order."""
        found = self._risen.get(item_id)
        if found is None:
            cells = [self.values.get(student.id, NO_VALUES).get(item_id) for student in self._enrolled]
            found = self._risen[item_id] = risen_of([cell for cell in cells if type(cell) is Fraction])
        return found

    @cached_property
    def _risen(self) -> "dict[str, Risen]":
        return {}

    def student(self, student_id: str) -> Student | None:
        """The student with this id, if in the section."""
        return self._by_id.get(student_id)

    @cached_property
    def _by_id(self) -> dict[str, Student]:
        return {student.id: student for student in reversed(self.students)}

    def status(self, student: Student) -> Status | None:
        """Roster status; 'enrolled' for all where there are no records; None when not on the roster."""
        if self.records is None:
            return "enrolled"
        entry = self.records.entry(student.id)
        return entry.status if entry else None

    def grading_basis(self, student_id: str) -> GradingBasis:
        """Letter or pass; letter where nothing else is said."""
        entry = self.records.entry(student_id) if self.records else None
        return entry.basis if entry else "letter"

    @property
    def never_attended(self) -> NeverAttended:
        """How the registrar wants it said that somebody never attended: as the first day where nothing is said."""
        return self.records.never_attended if self.records else "first_day"

    def not_in_section(self) -> list[RosterEntry]:
        """People of the registrar's roster, of any status, who are not in the section."""
        here = {s.id for s in self.students}
        return [entry for entry in (self.records.roster if self.records else ()) if entry.id not in here]

    def enrolled(self) -> list[Student]:
        """Students who get a grade: enrolled by the roster and not set aside."""
        return list(self._enrolled)

    @cached_property
    def enrolled_ids(self) -> frozenset[str]:
        """The ids of those who get a grade."""
        return frozenset(student.id for student in self._enrolled)

    @cached_property
    def _enrolled(self) -> tuple[Student, ...]:
        return tuple(s for s in self.students if s.set_aside is None and self.status(s) == "enrolled")
