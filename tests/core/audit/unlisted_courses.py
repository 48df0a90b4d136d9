"""Mistakes that stand on no list, written down after the checks were: what an instructor in a hurry does.

The checks named 18 of the 31 kinds of UNLISTED when it was written, 5 of the 15 of LATER and 6 of the 12 of LAST: about
half, which is what to believe. After each set some checks were added, so that what is found of them now says less.
"""

import random
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from tests.core.audit.audit_courses import (
    Planted,
    column,
    incomplete,
    ordinary,
    rows,
    with_category,
    with_cells,
    with_column,
    with_item,
    with_plan,
    with_settled,
)
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Adjustment, Course, Settled
from vinemark.core.plan.plan import Category, Item, ScaleRow
from vinemark.core.plan.rules import Alternative, Condition, Consequence, LateRule, Replacement, Requirement

Mistake = Callable[[random.Random, Course], Planted]
UNLISTED: dict[str, Mistake] = {}
LATER: dict[str, Mistake] = {}
LAST: dict[str, Mistake] = {}


def mistake(what: str, into: dict[str, Mistake] = UNLISTED) -> Callable[[Mistake], Mistake]:
    def keep(function: Mistake) -> Mistake:
        into[what] = function
        return function

    return keep


def somewhere(rng: random.Random, course: Course, least: int = 10) -> tuple[Category, Item]:
    return rng.choice([(c, i) for c in course.plan.categories if not c.extra for i in c.items if i.points >= least])


def mapped(course: Course, item: Item, change: Callable[[Fraction], Fraction]) -> Course:
    cells = [change(cell) if isinstance(cell, Fraction) else cell for cell in column(course, item)]
    return with_column(course, item, [*cells])


def said(course: Course, category: Category, item: Item) -> Planted:
    return Planted(course, category=category.id, item=item.id)


@mistake("one student's category typed as percents")
def _(rng: random.Random, course: Course) -> Planted:
    category = next(c for c in course.plan.categories if not c.extra and c.items[0].points < 100)
    student = rng.choice(rows(course))
    own = course.scores[student]
    cells = {i.id: n * 100 / i.points for i in category.items if isinstance(n := own.get(i.id), Fraction)}
    return Planted(with_cells(course, student, {**cells}), student)


@mistake("two students' rows exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = rng.sample(rows(course), 2)
    scores = {**course.scores, one: course.scores[other], other: course.scores[one]}
    return Planted(replace(course, scores=scores), one)


@mistake("decimal point lost down a column")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: n * 10), category, item)


@mistake("two columns of different points exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    one, first = somewhere(rng, course)
    others = [(c, i) for c in course.plan.categories if not c.extra for i in c.items if i.points > first.points]
    _, second = rng.choice(others or [somewhere(rng, course)])
    cells, others_cells = column(course, first), column(course, second)
    return said(with_column(with_column(course, first, others_cells), second, cells), one, first)


@mistake("points lost typed instead of points earned")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: max(item.points - n, Fraction(0))), category, item)


@mistake("grade points of a four-point scale in a column")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course, 20)
    return said(mapped(course, item, lambda n: Fraction(round(4 * n / item.points))), category, item)


@mistake("blanks of a column filled with 0")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    gone = set(rng.sample(range(len(course.students)), len(course.students) // 3))
    cells: list[Cell] = [Fraction(0) if n in gone else cell for n, cell in enumerate(column(course, item))]
    return said(with_column(course, item, cells), category, item)


def with_syllabus(course: Course) -> Course:
    lines = [f"{c.name}: {c.weight}%" for c in course.plan.categories if not c.extra]
    return replace(course, syllabus="\n".join(["Grading", *lines, "A: 90-100, B: 80-89, C: 70-79, D: 60-69, F: 0-59"]))


@mistake("weights of two categories exchanged")
def _(rng: random.Random, course: Course) -> Planted:
    course = with_syllabus(course)
    pairs = [c for c in course.plan.categories if not c.extra]
    one = pairs[0]
    other = next((c for c in pairs if c.weight != one.weight), pairs[1])
    changed = with_category(with_category(course, replace(one, weight=other.weight)), replace(other, weight=one.weight))
    return Planted(changed, category=one.id)


@mistake("a drop set on the wrong category")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = [c for c in course.plan.categories if not c.extra][:2]
    text = f"Grading\nThe lowest score of {one.name} is dropped."
    made = with_category(replace(course, syllabus=text), replace(other, drop_lowest=1))
    return Planted(made, category=other.id)


@mistake("a regular item marked extra credit")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(with_item(course, category, replace(item, extra=True)), category, item)


@mistake("one person twice, the work split between both")
def _(rng: random.Random, course: Course) -> Planted:
    old = rng.choice(course.students)
    new = replace(old, id="L900")
    items = [item.id for _, item in course.plan.items()]
    first = {i: c for i, c in course.scores[old.id].items() if i in items[: len(items) // 2]}
    second = {i: c for i, c in course.scores[old.id].items() if i not in first}
    scores = {**course.scores, old.id: first, new.id: second}
    return Planted(replace(course, students=(*course.students, new), scores=scores, records=None), old.id)


@mistake("exempt typed for everything handed in late")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    items = [item.id for c, item in course.plan.items() if not c.extra]
    gone = rng.sample(items, len(items) * 2 // 5)
    return Planted(with_cells(course, student, dict.fromkeys(gone, "exempt")), student)


@mistake("blanks made to count as 0 in mid-term")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    for item in category.items[len(category.items) // 2 :]:
        course = with_column(course, item, [None] * len(course.students))
    day = max((i.due for i in category.items[: len(category.items) // 2] if i.due), default=course.term.starts)
    made = with_category(course, replace(category, blanks="zero"))
    return Planted(replace(made, settled={}), category=category.id, as_of=day)


@mistake("a curve given twice")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: n + item.points / 4), category, item)


@mistake("the scores of another section pasted")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = [Fraction(rng.randint(8, 20)) * item.points / 20 for _ in course.students]
    return said(with_column(course, item, [*cells]), category, item)


@mistake("the tail of the list forgotten in the heaviest item")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = column(course, item)
    few = max(3, len(cells) // 6)
    return said(with_column(course, item, [*cells[:-few], *[None] * few]), category, item)


@mistake("a column of totals pasted as an item")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    totals = [sum((c for i in category.items if isinstance(c := course.cell(s, i.id), Fraction)), Fraction(0))
              for s in rows(course)]  # fmt: skip
    return said(with_column(course, item, [*totals]), category, item)


@mistake("two neighbours' grades exchanged, with a reason")
def _(rng: random.Random, course: Course) -> Planted:
    people = [s for s in rows(course) if s in course.settled and course.settled[s].fallback_grade is None]
    pairs = [(a, b) for a, b in pairwise(people)
             if {course.settled[a].grade, course.settled[b].grade} in ({"A", "C"}, {"B", "D"}, {"A", "B"})]  # fmt: skip
    one, other = rng.choice(pairs)
    grades = [course.settled[s].grade for s in (one, other)]
    course = with_settled(course, one, Settled(grades[1], reason="see my notes"))
    return Planted(with_settled(course, other, Settled(grades[0], reason="see my notes")), one)


@mistake("one letter filled down over the list")
def _(rng: random.Random, course: Course) -> Planted:
    wrong = ""
    for student in rows(course)[:12]:
        wrong = wrong or (student if course.settled[student].grade != "B" else "")
        course = with_settled(course, student, Settled("B", reason="final review"))
    return Planted(course, wrong)


@mistake("a letter three steps above, with a reason")
def _(rng: random.Random, course: Course) -> Planted:
    weak = [s for s in rows(course) if course.settled[s].grade in {"D", "F"}]
    student = rng.choice(weak or rows(course))
    return Planted(with_settled(course, student, Settled("A", reason="good final presentation")), student)


@mistake("a cutoff with its digits turned round")
def _(rng: random.Random, course: Course) -> Planted:
    return Planted(with_plan(course, scale=tuple(map(ScaleRow, "ABCDF", map(Fraction, (90, 80, 70, 6, 0))))))


@mistake("the points of an item doubled")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(with_item(course, category, replace(item, points=item.points * 2)), category, item)


@mistake("done or not done typed as 1 and 0")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: Fraction(int(n * 2 > item.points))), category, item)


@mistake("student numbers pasted as scores")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = [Fraction(int(student[1:])) for student in rows(course)]
    return said(with_column(course, item, [*cells]), category, item)


@mistake("an item copied into a second category")
def _(rng: random.Random, course: Course) -> Planted:
    one, item = somewhere(rng, course)
    other = next(c for c in course.plan.categories if not c.extra and c.id != one.id)
    copy = replace(item, id="zcopy")
    made = with_category(course, replace(other, items=(*other.items, copy)))
    return said(with_column(made, copy, column(course, item)), other, copy)


@mistake("an extra category of 15 instead of 1.5")
def _(rng: random.Random, course: Course) -> Planted:
    items = (Item("ze", "Public lecture", Fraction(10)),)
    extra = Category("zx", "Extra credit", Fraction(15), extra=True, items=items)
    made = with_plan(course, categories=(*(c for c in course.plan.categories if not c.extra), extra))
    return Planted(made, category="zx")


@mistake("how many to drop typed as how many to keep")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, keep_best=1, drop_lowest=0)), category=category.id)


@mistake("a requirement of 6% instead of 60%")
def _(rng: random.Random, course: Course) -> Planted:
    _, item = somewhere(rng, course)
    one = Requirement("zr", Condition("percent_below", Fraction(6), item=item.id),
                      Consequence("letter_at_most", letter="D"))  # fmt: skip
    return Planted(with_plan(course, requirements=(one,)))


@mistake("three scores of one student with the point misplaced")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    items = [i for c, i in course.plan.items() if not c.extra and isinstance(course.cell(student, i.id), Fraction)]
    row = course.values[student]
    wrong = {i.id: cell / 10 for i in rng.sample(items, 3) if isinstance(cell := row[i.id], Fraction)}
    return Planted(with_cells(course, student, {**wrong}), student)


@mistake("a block of rows pasted upside down")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = column(course, item)
    return said(with_column(course, item, [*cells[:3], *reversed(cells[3:15]), *cells[15:]]), category, item)


@mistake("an incomplete for a student who did everything")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    full = {i.id: i.points * 3 / 4 for c, i in course.plan.items() if not c.extra}
    return Planted(incomplete(with_cells(course, student, {**full}), student, "C"), student)


@mistake("a column typed from a list in another order", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    people = sorted(course.students, key=lambda student: (student.given_name, student.id))
    return said(with_column(course, item, [course.cell(s.id, item.id) for s in people]), category, item)


@mistake("zeros for one student in a category instead of exempt", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, student = ordinary(rng, course), rng.choice(rows(course))
    return Planted(with_cells(course, student, {i.id: Fraction(0) for i in category.items}), student)


@mistake("the leading digit lost in five cells of a column", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course, 20)
    cells = column(course, item)
    long = [n for n, c in enumerate(cells) if isinstance(c, Fraction) and c >= 10]
    for n in rng.sample(long, min(5, len(long))):
        cells[n] = Fraction(str(int(cells[n]))[1:] or "0")  # type: ignore[arg-type]
    return said(with_column(course, item, cells), category, item)


@mistake("an item of 1 point instead of its own", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(with_item(course, category, replace(item, points=Fraction(1))), category, item)


@mistake("late work loses 100% a day instead of 10", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, late=LateRule(Fraction(100)))), category=category.id)


@mistake("30 days of grace instead of 3", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, rule = ordinary(rng, course), LateRule(Fraction(10), grace_days=30)
    return Planted(with_category(course, replace(category, late=rule)), category=category.id)


@mistake("the final replaces every item of a category", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    other = next(c for c in course.plan.categories if not c.extra and c.id != category.id)
    rule = Replacement(item.id, other.id, count=len(other.items))
    return Planted(with_plan(course, replacements=(rule,)), category=other.id)


@mistake("other weights that do not add to 100", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    weights = {c.id: c.weight or Fraction(0) for c in course.plan.categories if not c.extra}
    first = next(iter(weights))
    return Planted(with_plan(course, alternatives=(Alternative("za", "Final first", {**weights, first: Fraction(3)}),)))


@mistake("30 late days instead of 3", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    course = with_category(course, replace(category, late=LateRule(Fraction(10))))
    student = rng.choice(rows(course))
    return Planted(with_cells(course, student, {item.id: DetailedScore(item.points / 2, None, 30)}), student)


@mistake("half of a column overwritten with another item's scores", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    one, other = rng.sample(category.items, 2)
    cells, half = column(course, other), len(course.students) // 2
    return said(with_column(course, one, [*cells[:half], *column(course, one)[half:]]), category, one)


@mistake("zeros for one student from the middle of the term on", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    items = [item for c, item in course.plan.items() if not c.extra]
    cells = {item.id: Fraction(0) for item in items[len(items) // 2 :]}
    return Planted(with_cells(course, student, {**cells}), student)


@mistake("20 points for everyone instead of 2", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    return Planted(with_plan(course, added=Fraction(20)))


@mistake("a student aside whose work is all there", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    place = rng.randrange(len(course.students))
    gone = replace(course.students[place], set_aside="withdrew")
    people = (*course.students[:place], gone, *course.students[place + 1 :])
    return Planted(replace(course, students=people, records=None), gone.id)


@mistake("two categories with each other's items", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    one, other = [c for c in course.plan.categories if not c.extra][:2]
    made = with_category(with_category(course, replace(one, items=other.items)), replace(other, items=one.items))
    return said(made, one, other.items[0])


@mistake("an average typed into a blank cell of everybody", LATER)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells = column(course, item)
    gone = set(rng.sample(range(len(cells)), len(cells) // 3))
    filled: list[Cell] = [item.points * Fraction(78, 100) if n in gone else c for n, c in enumerate(cells)]
    return said(with_column(course, item, filled), category, item)


@mistake("an item of half a point instead of 50", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course, 50)
    return said(with_item(course, category, replace(item, points=Fraction(1, 2))), category, item)


@mistake("two due dates exchanged", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    one, other = category.items[0], category.items[-1]
    made = with_item(course, category, replace(one, due=other.due))
    category = made.plan.category_of(other.id)
    return said(with_item(made, category, replace(other, due=one.due)), category, one)


@mistake("a cap of 1 instead of 100", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, cap=Fraction(1))), category=category.id)


@mistake("a column of fractions of 1 instead of points", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course, 20)
    return said(mapped(course, item, lambda n: Fraction(round(100 * n / item.points), 100)), category, item)


@mistake("missing typed for one student where nobody has a score", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells: list[Cell] = [None] * len(course.students)
    cells[rng.randrange(len(cells))] = "missing"
    return said(with_column(course, item, cells), category, item)


@mistake("absences counted as a score", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    return said(mapped(course, item, lambda n: Fraction(round((item.points - n) / item.points * 10))), category, item)


@mistake("the highest dropped instead of the lowest", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    return Planted(with_category(course, replace(category, drop_highest=1)), category=category.id)


@mistake("a row copied over another but for one score", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    one, other = rng.sample(rows(course), 2)
    kept = {i: c for i, c in course.scores[other].items() if i != next(iter(course.scores[other]))}
    return Planted(with_cells(course, one, kept), one)


@mistake("every second row entered", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells: list[Cell] = [cell if n % 2 else None for n, cell in enumerate(column(course, item))]
    return said(with_column(course, item, cells), category, item)


@mistake("an adjustment for nearly everybody, by hand", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    given = {s: Adjustment(Fraction(2), "hard final") for s in rows(course)[:-2]}
    return Planted(replace(course, adjustments=given))


@mistake("exempt instead of missing for half of a class", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category, item = somewhere(rng, course)
    cells: list[Cell] = ["exempt" if n % 2 else cell for n, cell in enumerate(column(course, item))]
    return said(with_column(course, item, cells), category, item)


@mistake("the scores of two items added into one", LAST)
def _(rng: random.Random, course: Course) -> Planted:
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    one, other = rng.sample(category.items, 2)
    pairs = zip(column(course, one), column(course, other), strict=True)
    cells: list[Cell] = [a + b if isinstance(a, Fraction) and isinstance(b, Fraction) else a for a, b in pairs]
    return said(with_column(course, one, cells), category, one)
