"""A seeded generator of clean courses, and of one mistake for each code of the audit."""

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction
from functools import lru_cache
from typing import Any

from tests.builders import CODES, TENS, TERM
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Adjustment, Course, Records, RosterEntry, SectionName, Settled, Student
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.codes import computed_code, needs_of
from vinemark.core.plan.plan import Category, Item, Plan, Rounding, ScaleRow
from vinemark.core.plan.rules import Condition, Consequence, RecordedItem, Requirement
from vinemark.core.scores.last_work import last_work

AS_OF = date(2026, 12, 19)
KINDS = (
    ("Map quizzes", "Map quiz", 10), ("Field notebooks", "Notebook", 20), ("Lab practicals", "Practical", 50),
    ("Problem sets", "Problem set", 25), ("Short papers", "Paper", 100), ("Seminar reports", "Seminar report", 5),
    ("Exams", "Exam", 100), ("Weekly sketches", "Sketch", 12),
)  # fmt: skip
FAMILY = ("Ode", "Abara", "Quist", "Varga", "Nakamura", "Okafor", "Lindqvist", "Moreau", "Castellan", "Brandt", "Iyer",
          "Sorensen", "Petrov", "Haddad", "Winslow", "Tamura", "Eriksen", "Delgado", "Kowalski", "Farrow", "Mbeki",
          "Rossi", "Yilmaz", "Ngata")  # fmt: skip
NAMES = (*FAMILY, *(f"{one}{end}" for one in FAMILY[:20] for end in ("sen", "ova")))
GIVEN = ("Marit", "Juno", "Elif", "Tomas", "Aiko", "Idris", "Greta", "Hugo", "Leila", "Owen", "Priya", "Sami")


@dataclass(frozen=True)
class Shape:
    """What a class is like: how many, how able, how far a score lies from the ability, how often work is missing or
    exempt."""

    people: tuple[int, int]
    ability: Callable[[random.Random], float]
    noise: float = 0.08
    gone: tuple[int, int] = (2, 1)


SHAPES: dict[str, Shape] = {
    "even": Shape((12, 22), lambda rng: rng.uniform(0.62, 0.95)),
    "wide": Shape((34, 60), lambda rng: rng.uniform(0.45, 1.0), 0.04),
    # What the limits were not tuned on.
    "skewed": Shape((20, 40), lambda rng: 1 - abs(rng.gauss(0, 0.16)), 0.07),
    "bimodal": Shape((20, 40), lambda rng: rng.choice((rng.gauss(0.55, 0.04), rng.gauss(0.9, 0.04))), 0.09),
    "six": Shape((6, 6), lambda rng: rng.uniform(0.5, 1.0), 0.12),
    "mastery": Shape((15, 30), lambda rng: rng.choice((1.0, 1.0, 1.0, rng.uniform(0.6, 1.0))), 0.05),
    "studio": Shape((8, 16), lambda rng: rng.uniform(0.7, 0.95), 0.15, (8, 4)),
    "careless": Shape((25, 45), lambda rng: rng.uniform(0.5, 0.95), 0.14, (7, 2)),
}


@lru_cache(maxsize=200)
def clean(seed: int, records: bool = True, settled: bool = True, shape: str = "even") -> Course:
    """A course as a careful instructor leaves it: full scores that hang together, everyone settled as computed."""
    rng, of = random.Random(seed), SHAPES[shape]
    plan = _plan(rng)
    people = _people(rng, of)
    scores = {s.id: _scores(rng, plan, of, of.ability(rng)) for s in people}
    course = Course(TERM, SectionName("HYDR 230", "Watershed Field Methods", "01"), plan, people, scores)
    if records:
        entries = [RosterEntry(s.id, s.family_name, s.given_name, basis="pass" if n % 7 == 3 else "letter")
                   for n, s in enumerate(people)]  # fmt: skip
        course = replace(course, records=Records(tuple(entries), CODES, incomplete_limit_days=365))
    return replace(course, settled={s.id: as_computed(course, s.id) for s in people}) if settled else course


def as_computed(course: Course, student: str) -> Settled:
    """A student's grade settled as computed, with what the registrar needs beside it."""
    code = computed_code(course, student, grade_of(course, student, AS_OF)) or "F"
    work = last_work(course, student, AS_OF)
    return Settled(code, last_attended=work.due if work and "last_attended" in needs_of(course, code) else None)


def _plan(rng: random.Random) -> Plan:
    kinds = rng.sample(KINDS, rng.randint(3, 5))
    weights = [Fraction(100, len(kinds))] * len(kinds) if rng.random() < 0.3 else _weights(rng, len(kinds))
    made = []
    for place, ((name, item, points), weight) in enumerate(zip(kinds, weights, strict=True)):
        count = rng.randint(4, 8)
        step = timedelta(days=100 // count)
        items = tuple(
            Item(f"k{place}i{n}", f"{item} {n + 1}", Fraction(points), due=TERM.starts + timedelta(days=7) + n * step)
            for n in range(count)
        )
        drop = rng.choice((0, 0, 1, 2 if count > 4 else 1))
        split = rng.choice(("by_points", "even"))
        made.append(Category(f"k{place}", name, weight, split=split, drop_lowest=drop, blanks="zero", items=items))  # type: ignore[arg-type]
    if rng.random() < 0.4:
        bonus = Item("x0", "Bonus field day", Fraction(10))
        made.append(Category("kx", "Extra credit", Fraction(2), extra=True, items=(bonus,)))
    rounding = rng.choice((None, Rounding(0), Rounding(2), Rounding(1, "exact")))
    return Plan("weighted", tuple(made), TENS, rounding)


def _weights(rng: random.Random, count: int) -> list[Fraction]:
    parts = [rng.choice((10, 15, 20)) for _ in range(count - 1)]
    return [*map(Fraction, parts), Fraction(100 - sum(parts))]


def _people(rng: random.Random, of: Shape) -> tuple[Student, ...]:
    families = rng.sample(NAMES, rng.randint(*of.people))
    return tuple(
        Student(f"L{100 + n}", family, rng.choice(GIVEN), f"{family.lower()}{n}@larkmoor.example")
        for n, family in enumerate(families)
    )


def _scores(rng: random.Random, plan: Plan, of: Shape, ability: float) -> dict[str, Cell]:
    row: dict[str, Cell] = {}
    for category, item in plan.items():
        if category.extra:
            row[item.id] = Fraction(rng.randint(4, 10)) if rng.random() < 0.4 else None
            continue
        share = min(1.0, max(0.3, rng.gauss(ability, of.noise)))
        half_points = round(share * int(item.points) * 2)
        row[item.id] = rng.choices((Fraction(half_points, 2), "missing", "exempt"), (96, *of.gone))[0]
    return row


@dataclass(frozen=True)
class Planted:
    """A course with one mistake in it, and where the audit must find it."""

    course: Course
    student: str | None = None
    category: str | None = None
    item: str | None = None
    as_of: date = AS_OF


Planter = Callable[[random.Random, Course], Planted]
PLANTERS: dict[str, Planter] = {}


def planter(code: str) -> Callable[[Planter], Planter]:
    def keep(function: Planter) -> Planter:
        PLANTERS[code] = function
        return function

    return keep


def with_plan(course: Course, **changes: Any) -> Course:
    return replace(course, plan=replace(course.plan, **changes))


def with_category(course: Course, category: Category) -> Course:
    made = tuple(category if c.id == category.id else c for c in course.plan.categories)
    return with_plan(course, categories=made)


def ordinary(rng: random.Random, course: Course) -> Category:
    return rng.choice([c for c in course.plan.categories if not c.extra])


def with_item(course: Course, category: Category, item: Item) -> Course:
    items = tuple(item if i.id == item.id else i for i in category.items)
    return with_category(course, replace(category, items=items))


def with_cells(course: Course, student: str, cells: Mapping[str, Cell]) -> Course:
    return replace(course, scores={**course.scores, student: {**course.scores[student], **cells}})


def with_settled(course: Course, student: str, settled: Settled | None) -> Course:
    kept = {s: g for s, g in course.settled.items() if s != student}
    return replace(course, settled=kept if settled is None else {**kept, student: settled})


def with_entry(course: Course, student: str, **changes: Any) -> Course:
    assert course.records is not None
    roster = tuple(replace(e, **changes) if e.id == student else e for e in course.records.roster)
    return replace(course, records=replace(course.records, roster=roster))


def somebody(rng: random.Random, course: Course, basis: str = "letter") -> str:
    return rng.choice([s.id for s in course.students if course.grading_basis(s.id) == basis])


def rows(course: Course) -> list[str]:
    return [s.id for s in course.students]


@planter("weights-off")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(
        with_category(course, replace(category, weight=(category.weight or Fraction(0)) + rng.choice((-5, 5, 1))))
    )


@planter("weight-zero")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = [c for c in course.plan.categories if not c.extra][:2]
    course = with_category(course, replace(other, weight=(one.weight or Fraction(0)) + (other.weight or 0)))
    return Planted(with_category(course, replace(one, weight=Fraction(0))), category=one.id)


@planter("category-empty")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, items=())), category=category.id)


@planter("shares-off")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    items = tuple(replace(i, share=Fraction(100, len(category.items)) + 1) for i in category.items)
    return Planted(with_category(course, replace(category, split="own_shares", items=items)), category=category.id)


@planter("extra-unmarked")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    name = rng.choice(("Bonus {}", "{} (extra credit)", "Extra-credit {}", "{}: extra points"))
    course = with_item(course, category, replace(item, name=name.format(item.name)))
    return Planted(course, category=category.id, item=item.id)


@planter("misfiled")
def _(rng: random.Random, course: Course) -> Planted:
    home, away = rng.sample([c for c in course.plan.categories if not c.extra], 2)
    moved = home.items[-1]
    course = with_category(course, replace(home, items=home.items[:-1]))
    return Planted(with_category(course, replace(away, items=(*away.items, moved))), category=away.id, item=moved.id)


@planter("drop-too-many")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    count = len(category.items)
    made = rng.choice((replace(category, drop_lowest=count), replace(category, drop_lowest=count - 1),
                       replace(category, drop_lowest=0, keep_best=count)))  # fmt: skip
    return Planted(with_category(course, made), category=category.id)


@planter("drop-unfair")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    items = tuple(replace(i, points=i.points * (1 if n else 10)) for n, i in enumerate(category.items))
    made = replace(category, items=items, split="by_points", drop_by="lowest_percent", drop_lowest=1)
    for student in rows(course):
        low = {i.id: i.points * (Fraction(6, 10) if not n else Fraction(9, 10)) for n, i in enumerate(items)}
        course = with_cells(course, student, {**low, items[1].id: items[1].points * Fraction(5, 10)})
    return Planted(with_category(course, made), category=category.id)


@planter("item-planned")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    return Planted(with_item(course, category, replace(item, counts=False)), category=category.id, item=item.id)


@planter("same-name")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    first, second = category.items[:2]
    course = with_item(course, category, replace(second, name=first.name.upper().replace(" ", "  ")))
    return Planted(course, category=category.id, item=second.id)


@planter("scale-hole")
def _(rng: random.Random, course: Course) -> Planted:
    scale = list(course.plan.scale)
    made = rng.choice(
        (scale[:-1], [*scale, ScaleRow("A-", scale[0].cutoff)], [*scale[:-1], ScaleRow("A", Fraction(0))], [])
    )
    return Planted(with_plan(course, scale=tuple(made)))


@planter("plan-differs")
def _(rng: random.Random, course: Course) -> Planted:
    category = next(c for c in course.plan.categories if not c.extra)
    said = replace(category, weight=(category.weight or Fraction(0)) + 5)
    lines = [f"{c.name}: {float(c.weight or 0):g}%" for c in (said, *course.plan.categories[1:])]
    return Planted(replace(course, syllabus="Grading\n\n" + "\n".join(lines) + "\n"), category=category.id)


@planter("over-points")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item, student = rng.choice(category.items), rng.choice(rows(course))
    course = with_cells(course, student, {item.id: item.points + rng.choice((1, 2, 5))})
    return Planted(course, student, category.id, item.id)


@planter("slipped-key")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item, student = rng.choice(category.items), rng.choice(rows(course))
    share = Fraction(rng.randint(75, 90), 100) * item.points
    score = share / 10 if rng.random() < 0.5 else share * 10
    return Planted(with_cells(course, student, {item.id: score}), student, category.id, item.id)


@planter("column-blank")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    for student in rows(course):
        course = with_cells(course, student, {item.id: None})
    return Planted(course, category=category.id, item=item.id)


@planter("column-same")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    for student in rows(course):
        course = with_cells(course, student, {item.id: item.points})
    return Planted(course, category=category.id, item=item.id)


@planter("blank-waits")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    student = rng.choice(rows(course))
    course = with_category(course, replace(category, blanks="wait"))
    return Planted(with_cells(course, student, {category.items[0].id: None}), student)


@planter("no-work")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    return Planted(replace(course, scores={**course.scores, student: {}}), student)


@planter("stopped")
def _(rng: random.Random, course: Course) -> Planted:
    student, after = rng.choice(rows(course)), date(2026, 10, 10)
    gone: Cell = rng.choice(("missing", None, Fraction(0)))
    late = {i.id: gone for c, i in course.plan.items() if c.extra or (i.due and i.due > after)}
    early = next(i for _, i in course.plan.items() if i.due and i.due <= after)
    return Planted(with_cells(course, student, {**late, early.id: early.points / 2}), student)


@planter("not-enrolled")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    assert course.records is not None
    roster = tuple(e for e in course.records.roster if e.id != student)
    return Planted(replace(course, records=replace(course.records, roster=roster)), student)


@planter("not-in-section")
def _(rng: random.Random, course: Course) -> Planted:
    assert course.records is not None
    roster = (*course.records.roster, RosterEntry("L999", "Newcomer", "Late"))
    return Planted(replace(course, records=replace(course.records, roster=roster)), "L999")


@planter("withdrawn-graded")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    return Planted(with_entry(course, student, status="withdrawn"), student)


@planter("name-differs")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    return Planted(with_entry(course, student, family_name="Overhill"), student)


@planter("twin")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = rng.sample(range(len(course.students)), 2)
    people = list(course.students)
    long_name = "Sandoval"
    people[one] = replace(people[one], family_name=long_name, given_name="Rui")
    alike: dict[str, Any] = rng.choice(
        (
            {"family_name": long_name, "given_name": "Rui"},
            {"family_name": "Rui", "given_name": long_name},
            {"family_name": "Sandovar", "given_name": "Rui"},
            {"email": people[one].email},
        )
    )
    people[other] = replace(people[other], **alike)
    for student in (people[one], people[other]):
        course = with_entry(course, student.id, family_name=student.family_name, given_name=student.given_name)
    return Planted(replace(course, students=tuple(people)), people[max(one, other)].id)


def aimed_at(course: Course, student: str, percent: Fraction) -> Course:
    """A student's every score the same share of its points, so that the course percent is this one."""
    made = {i.id: None if c.extra else i.points * percent / 100 for c, i in course.plan.items()}
    return with_cells(course, student, made)


@planter("near-cutoff")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    course = aimed_at(with_plan(course, rounding=Rounding(2)), student, Fraction(rng.choice((797, 896, 698)), 10))
    return Planted(with_settled(course, student, as_computed(course, student)), student)


@planter("rounding-decides")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    course = aimed_at(with_plan(course, rounding=Rounding(0)), student, Fraction(rng.choice((796, 897, 698)), 10))
    return Planted(with_settled(course, student, as_computed(course, student)), student)


@planter("unsettled")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    return Planted(with_settled(course, student, None), student)


@planter("settled-differs")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    grade = rng.choice([x for x in "ABCD" if x != course.settled[student].grade])
    return Planted(with_settled(course, student, Settled(grade, reason=rng.choice((None, "  ")))), student)


@planter("order-broken")
def _(rng: random.Random, course: Course) -> Planted:
    high, low = rng.sample([s.id for s in course.students if course.grading_basis(s.id) == "letter"], 2)
    course = aimed_at(aimed_at(course, high, Fraction(95)), low, Fraction(85))
    course = with_settled(course, low, as_computed(course, low))
    return Planted(with_settled(course, high, Settled("C")), high)


@planter("code-refused")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    return Planted(with_settled(course, student, Settled(rng.choice(("W", "P", "Z", "a")), reason="said so")), student)


@planter("needs-last-attended")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course, rng.choice(("letter", "pass")))
    code = "F" if course.grading_basis(student) == "letter" else "NP"
    return Planted(with_settled(course, student, Settled(code, reason="left")), student)


@planter("attended-contradicts")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    return Planted(with_settled(course, student, Settled("F", reason="left", never_attended=True)), student)


@planter("grade-without-work")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    course = replace(course, scores={**course.scores, student: {}})
    return Planted(with_settled(course, student, Settled(rng.choice("ABC"))), student)


@planter("attended-outside")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    day = rng.choice((TERM.starts - timedelta(days=1), TERM.ends + timedelta(days=1), date(2025, 10, 1)))
    return Planted(with_settled(course, student, Settled("F", reason="left", last_attended=day)), student)


@planter("needs-fallback")
def _(rng: random.Random, course: Course) -> Planted:
    student, day = somebody(rng, course), date(2027, 3, 1)
    made = rng.choice(
        (
            Settled("I", finish_by=day),
            Settled("I", fallback_grade="C"),
            Settled("I", fallback_grade="I", finish_by=day),
            Settled("I", fallback_grade="P", finish_by=day),
        )
    )
    return Planted(with_settled(course, student, made), student)


@planter("finish-by-outside")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    day = rng.choice((TERM.ends, date(2026, 11, 1), TERM.ends + timedelta(days=366)))
    return Planted(with_settled(course, student, Settled("I", fallback_grade="C", finish_by=day)), student)


@planter("late-unruled")
def _(rng: random.Random, course: Course) -> Planted:
    category, student = ordinary(rng, course), somebody(rng, course)
    cell = DetailedScore(Fraction(4), None, rng.randint(1, 5))
    return Planted(with_cells(course, student, {rng.choice(category.items).id: cell}), category=category.id)


@planter("adjusted-bare")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    amount = Adjustment(Fraction(rng.choice(("-1.5", "2", "0.25"))), rng.choice(("", " ")))
    return Planted(replace(course, adjustments={student: amount}), student=student)


@planter("requirement-lowers")
def _(rng: random.Random, course: Course) -> Planted:
    student, category = somebody(rng, course), ordinary(rng, course)
    course = with_cells(course, student, {item.id: item.points * Fraction(9, 10) for _, item in course.plan.items()})
    course = with_cells(course, student, {item.id: "missing" for item in category.items[-2:]})
    missed = Condition("missed_at_least", Fraction(2), category.id)
    course = with_plan(course, requirements=(Requirement("r1", missed, Consequence("letter_at_most", letter="F")),))
    return Planted(course, student=student)


@planter("requirement-blind")
def _(rng: random.Random, course: Course) -> Planted:
    effect = Consequence("letters_down", Fraction(1), for_each=True)
    above = Requirement("r1", Condition("value_above", Fraction(rng.randint(2, 5)), item="absences"), effect)
    course = with_plan(course, recorded=(RecordedItem("absences", "Absences"),), requirements=(above,))
    return Planted(course, item="absences")


@planter("promise-open")
def _(rng: random.Random, course: Course) -> Planted:
    promise = rng.choice(
        (
            "Late work loses 10% per day.",
            "You must pass the final exam to pass the course.",
            "If your last score is better, it replaces your lowest one.",
            "From the fourth absence on, I lower the course grade by one third of a letter.",
        )
    )
    return Planted(replace(course, syllabus=f"Grading\n\n{promise}\n"))


def column(course: Course, item: Item) -> list[Cell]:
    return [course.cell(student, item.id) for student in rows(course)]


def same(cell: Cell, count: int) -> list[Cell]:
    return [cell] * count


def with_column(course: Course, item: Item, cells: list[Cell]) -> Course:
    for student, cell in zip(rows(course), cells, strict=True):
        course = with_cells(course, student, {item.id: cell})
    return course


def parts_of(course: Course, student: str) -> list[Fraction]:
    """A student's scores above 0 as fractions of their points, rising."""
    pairs = ((item, course.cell(student, item.id)) for c, item in course.plan.items() if not c.extra)
    return sorted(cell / item.points for item, cell in pairs if isinstance(cell, Fraction) and cell)


@planter("column-shifted")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    cells = column(course, item)
    if rng.random() < 0.4:
        return _exchanged(rng, course)
    if rng.random() < 0.5:
        row = rng.randint(1, len(cells) // 3)
        moved = [*cells[:row], None, *cells[row:-1]]
    else:
        row = rng.randint(0, len(cells) // 3)
        moved = [*cells[:row], *cells[row + 1 :], None]
    return Planted(with_column(course, item, moved), category=category.id, item=item.id)


def _exchanged(rng: random.Random, course: Course) -> Planted:
    """Two neighbours, one of them able and one not, with each other's score."""
    people, able = rows(course), {s: parts_of(course, s) for s in rows(course)}
    middle = {s: parts[len(parts) // 2] for s, parts in able.items()}
    pairs = [n for n in range(len(people) - 1) if abs(middle[people[n]] - middle[people[n + 1]]) > Fraction(35, 100)]
    category = ordinary(rng, course)
    for n in rng.sample(pairs, len(pairs)):
        for item in rng.sample(category.items, len(category.items)):
            cells = column(course, item)
            if all(isinstance(cell, Fraction) for cell in cells[n : n + 2]):
                cells[n], cells[n + 1] = cells[n + 1], cells[n]
                return Planted(with_column(course, item, cells), people[n], category.id, item.id)
    return _exchanged(rng, clean(rng.randint(0, 10**6), shape="wide"))


@planter("column-copied")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    first, later = sorted(rng.sample(range(len(category.items)), 2))
    return Planted(
        with_column(course, category.items[later], column(course, category.items[first])),
        category=category.id, item=category.items[later].id,
    )  # fmt: skip


@planter("half-entered")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item, cells = rng.choice(category.items), list[Cell]()
    cells = column(course, item)
    keep = rng.randint(2, len(cells) * 2 // 3)
    cells = [Fraction(4), *cells[1:keep], *[None] * (len(cells) - keep)]
    return Planted(with_column(course, item, cells), category=category.id, item=item.id)


@planter("exempt-many")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    if rng.random() < 0.5:
        student = rng.choice(rows(course))
        gone = category.items[: len(category.items) // 2 + 1]
        return Planted(with_cells(course, student, {i.id: "exempt" for i in gone}), student, category.id)
    item = rng.choice(category.items)
    cells = column(course, item)
    few = len(cells) // 5
    return Planted(with_column(course, item, [*cells[:few], *same("exempt", len(cells) - few)]),
                   category=category.id, item=item.id)  # fmt: skip


@planter("all-missing")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    cells = column(course, item)
    return Planted(with_column(course, item, [*cells[:2], *same("missing", len(cells) - 2)]),
                   category=category.id, item=item.id)  # fmt: skip


@planter("zeros-many")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    cells = column(course, item)
    some = rng.randint(len(cells) // 3 + 2, len(cells))
    return Planted(with_column(course, item, [*[Fraction(0)] * some, *cells[some:]]),
                   category=category.id, item=item.id)  # fmt: skip


@planter("code-as-number")
def _(rng: random.Random, course: Course) -> Planted:
    places = [(c, i) for c, i in course.plan.items() if not c.extra and i.points >= 20]
    code = rng.choice((Fraction(99), Fraction(999), Fraction(1)))
    places = [place for place in places if place[1].points != 100 or code != 99] or places
    code = code if any(i.points != 100 for _, i in places) else Fraction(1)
    chosen = [(rng.choice(rows(course)), *rng.choice(places)) for _ in range(4)]
    for student, _, item in chosen:
        course = with_cells(course, student, {item.id: code})
    student, category, item = chosen[0]
    return Planted(course, student, category.id, item.id)


@planter("outlier")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    student = rng.choice([s for s in rows(course) if parts_of(course, s)[1] > Fraction(3, 4)])
    category = rng.choice([c for c in course.plan.categories if not c.extra])
    item = rng.choice(category.items)
    return Planted(with_cells(course, student, {item.id: item.points / 8}), student, category.id, item.id)


@planter("percent-high")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    return Planted(aimed_at(course, student, Fraction(rng.randint(101, 130))), student)


@planter("cap-odd")
def _(rng: random.Random, course: Course) -> Planted:
    cap = Fraction(rng.choice((10, 49, 201, 1000)))
    if rng.random() < 0.5:
        return Planted(with_plan(course, cap=cap))
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, cap=cap)), category=category.id)


@planter("due-outside")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = rng.choice(category.items)
    day = rng.choice((TERM.starts - timedelta(days=1), TERM.ends + timedelta(days=1), date(2025, 10, 9)))
    return Planted(with_item(course, category, replace(item, due=day)), category=category.id, item=item.id)


@planter("scale-odd")
def _(rng: random.Random, course: Course) -> Planted:
    letters, cutoffs = list("ABCDF"), [90, 80, 70, 60, 0]
    if rng.random() < 0.5:
        cutoffs = [225, 200, 175, 150, 0]
    else:
        one = rng.randint(0, 3)
        letters[one], letters[one + 1] = letters[one + 1], letters[one]
    return Planted(with_plan(course, scale=tuple(map(ScaleRow, letters, map(Fraction, cutoffs)))))


@planter("attended-early")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    last = max(i.due for c, i in course.plan.items() if i.due and isinstance(course.cell(student, i.id), Fraction))
    day = last - timedelta(days=rng.randint(9, 20))
    return Planted(with_settled(course, student, Settled("F", reason="left", last_attended=day)), student)


def incomplete(course: Course, student: str, fallback: str, owed: str | None = None) -> Course:
    day = TERM.ends + timedelta(days=60)
    return with_settled(course, student, Settled("I", fallback_grade=fallback, finish_by=day, owed=owed))


@planter("fallback-above")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    course = aimed_at(course, student, Fraction(rng.randint(20, 78)))
    return Planted(incomplete(course, student, "B"), student)


@planter("owes-nothing")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    return Planted(incomplete(aimed_at(course, student, Fraction(85)), student, "C", rng.choice((None, " "))), student)


@planter("lowered")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    course = aimed_at(course, student, Fraction(rng.randint(81, 99)))
    return Planted(with_settled(course, student, Settled("C", reason="plagiarism")), student)
