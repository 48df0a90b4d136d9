"""A fourth set of mistakes that stand on no list: 30 kinds, thought of from the acts of a term's end (spreadsheets,
rosters, late joiners, retakes, copied scales) and planted after all checks were written.

18 of the 30 were named when it was written, three of them (rows that are no person) by having no settled grade alone.
Four checks came after it, so that what is found of it now says less.
"""

import random
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Any

from tests.builders import TERM
from tests.core.audit.audit_courses import (
    Planted,
    column,
    ordinary,
    rows,
    somebody,
    with_category,
    with_cells,
    with_column,
    with_entry,
    with_item,
    with_plan,
    with_settled,
)
from tests.core.audit.unlisted_courses import Mistake, mapped, said, somewhere
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course, Settled, Student
from vinemark.core.plan.plan import Category, ScaleRow
from vinemark.core.plan.rules import LateRule

UNSEEN: dict[str, Mistake] = {}


def mistake(what: str) -> Callable[[Mistake], Mistake]:
    def keep(function: Mistake) -> Mistake:
        UNSEEN[what] = function
        return function

    return keep


def numbers(course: Course, student: str, category: Category) -> dict[str, Fraction]:
    own = course.scores[student]
    return {i.id: n for i in category.items if isinstance(n := own.get(i.id), Fraction)}


@mistake("a row put in, the rest of a column one too low")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = column(course, item)
    at = rng.randrange(len(cells) // 3, 2 * len(cells) // 3)
    return said(with_column(course, item, [*cells[:at], None, *cells[at:-1]]), category, item)


@mistake("two digits of a score exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    found = []
    for student in rows(course):
        for category, item in course.plan.items():
            n = course.scores[student].get(item.id)
            if isinstance(n, Fraction) and n.denominator == 1 and 10 <= n < 100 and not category.extra:
                turned = Fraction(int(str(n)[::-1]))
                if n - turned > item.points / 4:
                    found.append((student, category, item, turned))
    if not found:
        return Planted(course, rows(course)[0])
    student, category, item, turned = rng.choice(found)
    return Planted(with_cells(course, student, {item.id: turned}), student, category.id, item.id)


@mistake("two items of one student exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    small = min((i for c, i in course.plan.items() if not c.extra), key=lambda i: i.points)
    large = max((i for c, i in course.plan.items() if not c.extra), key=lambda i: i.points)
    own = course.scores[student]
    return Planted(with_cells(course, student, {small.id: own.get(large.id), large.id: own.get(small.id)}), student)


@mistake("the late deduction taken by hand and by the rule")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    course = with_category(course, replace(category, late=LateRule(Fraction(10))))
    late = set(rng.sample(range(len(course.students)), 6))
    cells: list[Cell] = [
        DetailedScore(cell * 7 / 10, None, 3) if n in late and isinstance(cell, Fraction) else cell
        for n, cell in enumerate(column(course, item))
    ]
    return said(with_column(course, item, cells), category, item)


@mistake("a retake kept as an item of its own")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    again = replace(item, id="again", name=f"{item.name} retake")
    course = with_category(course, replace(category, items=(*category.items, again)))
    taken = set(rng.sample(range(len(course.students)), 4))
    return said(
        with_column(course, again, [item.points * 9 / 10 if n in taken else None for n in range(len(course.students))]),
        category, again,
    )  # fmt: skip


@mistake("letters typed all down a column")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course, 20)
    cutoffs = [row.cutoff for row in course.plan.scale]

    def letter(n: Fraction) -> Fraction:
        return max(c for c in cutoffs if c <= 100 * n / item.points) * item.points / 100

    return said(mapped(course, item, letter), category, item)


@mistake("withdrawn on the roster, with scores to the last week")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    return Planted(with_settled(with_entry(course, student, status="withdrawn"), student, None), student)


@mistake("an item that everybody did, still only planned")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(with_item(course, category, replace(item, counts=False)), category, item)


@mistake("late days typed into the score, the score into the days")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    student = somebody(rng, course)
    course = with_category(course, replace(category, late=LateRule(Fraction(5))))
    swapped = DetailedScore(Fraction(2), None, int(item.points * 8 / 10))
    return Planted(with_cells(course, student, {item.id: swapped}), student, category.id, item.id)


@mistake("one category leaves blanks out where all others count them as 0")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, blanks="wait")), category=category.id)


@mistake("one last date of attendance filled down for everyone who fails")
def _(rng: random.Random, course: Course) -> Planted:
    failing = rng.sample(rows(course), 5)
    for student in failing:
        last = TERM.ends if course.grading_basis(student) == "letter" else None
        course = with_settled(course, student, Settled("F" if last else "NP", "did not finish", last or TERM.ends))
    return Planted(course)


@mistake("a row filled across with one score")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    cells: dict[str, Cell] = {i.id: i.points * 4 / 5 for c, i in course.plan.items() if not c.extra}
    return Planted(with_cells(course, student, cells), student)


@mistake("every item of a category marked extra credit")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    items = tuple(replace(item, extra=True) for item in category.items)
    return Planted(with_category(course, replace(category, items=items)), category=category.id)


@mistake("weights typed as parts of 1")
def _(rng: random.Random, course: Course) -> Planted:
    made = tuple(
        c if c.extra else replace(c, weight=(c.weight or Fraction(0)) / 100) for c in course.plan.categories
    )  # fmt: skip
    return Planted(with_plan(course, categories=made))


@mistake("three of four dropped")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    count = len(category.items) - 1
    return Planted(with_category(course, replace(category, drop_lowest=count)), category=category.id)


@mistake("one category of two students exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    one, other = rng.sample(rows(course), 2)
    first, second = (
        {i.id: course.scores[s].get(i.id) for i in category.items} for s in (one, other)
    )  # fmt: skip
    return Planted(with_cells(with_cells(course, one, second), other, first), one)


@mistake("percents typed for the second half of a column")
def _(rng: random.Random, course: Course) -> Planted:
    found = [(c, i) for c, i in course.plan.items() if not c.extra and i.points != 100]
    category, item = rng.choice(found)
    half = len(course.students) // 2
    cells = [
        cell * 100 / item.points if n >= half and isinstance(cell, Fraction) else cell
        for n, cell in enumerate(column(course, item))
    ]
    return said(with_column(course, item, cells), category, item)


@mistake("a student's sum typed into the last item")
def _(rng: random.Random, course: Course) -> Planted:
    student, category = somebody(rng, course), ordinary(rng, course)
    total = sum(numbers(course, student, category).values(), Fraction(0))
    last = category.items[-1]
    return Planted(with_cells(course, student, {last.id: total}), student, category.id, last.id)


@mistake("0 on the heaviest item of somebody who has no other")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    category, item = max(((c, i) for c, i in course.plan.items() if not c.extra), key=lambda one: one[1].points)
    return Planted(with_cells(course, student, {item.id: Fraction(0)}), student, category.id, item.id)


@mistake("one due date for a whole category")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    items = tuple(replace(item, due=category.items[0].due) for item in category.items)
    return Planted(with_category(course, replace(category, items=items)), category=category.id)


@mistake("a scale of grade points in place of percents")
def _(rng: random.Random, course: Course) -> Planted:
    scale = tuple(ScaleRow(letter, Fraction(n)) for letter, n in zip("ABCDF", (4, 3, 2, 1, 0), strict=True))
    return Planted(with_plan(course, scale=scale))


def with_row(course: Course, student: Student, cells: dict[str, Any]) -> Course:
    return replace(
        course, students=(*course.students, student), scores={**course.scores, student.id: cells}, records=None
    )


@mistake("the row of averages taken for a student")
def _(rng: random.Random, course: Course) -> Planted:
    cells: dict[str, Cell] = {}
    for category, item in course.plan.items():
        there = [n for n in column(course, item) if isinstance(n, Fraction)]
        if there and not category.extra:
            cells[item.id] = Fraction(round(100 * sum(there) / len(there)), 100)
    return Planted(with_row(course, Student("L999", "Average", "", None), cells), "L999")


@mistake("the row of points possible taken for a student")
def _(rng: random.Random, course: Course) -> Planted:
    cells: dict[str, Cell] = {item.id: item.points for _, item in course.plan.items()}
    return Planted(with_row(course, Student("L999", "Points Possible", "", None), cells), "L999")


@mistake("a student made to try things, left in the class")
def _(rng: random.Random, course: Course) -> Planted:
    items = [item for c, item in course.plan.items() if not c.extra][:3]
    cells: dict[str, Cell] = {item.id: item.points for item in items}
    return Planted(with_row(course, Student("L999", "Test", "Student", None), cells), "L999")


@mistake("a heading of the spreadsheet's own as an item's name")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    name = rng.choice(("Unnamed: 7", "Column1", "Sheet1", "F7"))
    return said(with_item(course, category, replace(item, name=name)), category, item)


@mistake("a student's average typed into every item of a category")
def _(rng: random.Random, course: Course) -> Planted:
    student, category = somebody(rng, course), ordinary(rng, course)
    there = numbers(course, student, category)
    mean = Fraction(round(100 * sum(there.values(), Fraction(0)) / max(1, len(there))), 100)
    return Planted(with_cells(course, student, {i.id: mean for i in category.items}), student)


@mistake("decimal commas lost, 8,5 read as 85")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: n if n.denominator == 1 else n * 10), category, item)


@mistake("scores that a spreadsheet took for dates")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    few = set(rng.sample(range(len(course.students)), 3))
    cells: list[Cell] = [
        Fraction(46000 + rng.randrange(300)) if n in few else cell for n, cell in enumerate(column(course, item))
    ]
    return said(with_column(course, item, cells), category, item)


@mistake("a category's columns sorted apart from the names")
def _(rng: random.Random, course: Course) -> Planted:
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    order = rng.sample(range(len(course.students)), len(course.students))
    for item in category.items:
        cells = column(course, item)
        course = with_column(course, item, [cells[n] for n in order])
    return said(course, category, category.items[0])


@mistake("zeros before the first week of somebody who joined late")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    dated = sorted(((i.due or TERM.starts, i.id) for c, i in course.plan.items() if not c.extra))
    early = [item for _, item in dated[: len(dated) // 3]]
    return Planted(with_cells(course, student, dict.fromkeys(early, Fraction(0))), student)
