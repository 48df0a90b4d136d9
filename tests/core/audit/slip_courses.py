"""One slip for each of our own codes: what typing, sorting, filling down, pasting and copying a plan leave behind."""

import random
from dataclasses import replace
from datetime import timedelta
from fractions import Fraction

from tests.builders import TERM
from tests.core.audit.audit_courses import (
    Planted,
    clean,
    column,
    ordinary,
    planter,
    rows,
    somebody,
    with_category,
    with_cells,
    with_column,
    with_item,
    with_plan,
    with_settled,
)
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Adjustment, Course, Settled, Student
from vinemark.core.plan.plan import Category, Item, ScaleRow
from vinemark.core.plan.rules import (
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    Symbol,
)


def series(count: int = 6) -> tuple[Item, ...]:
    """Items of one name, a week apart."""
    days = [TERM.starts + timedelta(days=7 * n) for n in range(1, count + 1)]
    return tuple(Item(f"z{n}", f"Traverse {n + 1}", Fraction(10), due=day) for n, day in enumerate(days))


def with_series(course: Course, *items: Item) -> tuple[Course, Category]:
    """A category of its own weight for a series, with scores in line with what everybody has elsewhere."""
    last = next(c for c in reversed(course.plan.categories) if not c.extra)
    made = replace(last, items=items)
    course = with_category(course, made)
    for place, student in enumerate(rows(course)):
        draw = random.Random(place)
        shares = [Fraction(60 + place * 7 % 30 + draw.randint(-4, 4), 100) for _ in items]
        cells = {i.id: Fraction(round(2 * share * i.points), 2) for i, share in zip(items, shares, strict=True)}
        course = with_cells(course, student, cells)
    return course, made


def numbers_of(course: Course, item: Item) -> list[Cell]:
    return [cell if isinstance(cell, Fraction) else item.points / 2 for cell in column(course, item)]


def places_of(course: Course, least: int) -> list[tuple[Category, Item]]:
    """Items of ordinary categories with so many points or more."""
    return [(c, i) for c in course.plan.categories if not c.extra for i in c.items if i.points >= least]


def an_item(rng: random.Random, course: Course) -> tuple[Category, Item]:
    category = ordinary(rng, course)
    return category, rng.choice(category.items)


@planter("points-off")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    places = [(c, i) for c in course.plan.categories if not c.extra for i in c.items if i.points < 100]
    category, item = rng.choice(places)
    if rng.random() < 0.5:
        cells = [cell * 100 / item.points for cell in numbers_of(course, item) if isinstance(cell, Fraction)]
        return Planted(with_column(course, item, [*cells]), category=category.id, item=item.id)
    made = with_item(course, category, replace(item, points=item.points * 10))
    return Planted(made, category=category.id, item=item.id)


@planter("column-sorted")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = rng.choice(places_of(course, 10))
    cells = sorted((c for c in numbers_of(course, item) if isinstance(c, Fraction)), reverse=rng.random() < 0.5)
    return Planted(with_column(course, item, [*cells]), category=category.id, item=item.id)


@planter("column-unlike")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = an_item(rng, course)
    cells = numbers_of(course, item)
    rng.shuffle(cells)
    return Planted(with_column(course, item, cells), category=category.id, item=item.id)


@planter("column-parted")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = an_item(rng, course)
    cells = numbers_of(course, item)
    row = rng.randint(len(cells) // 3, len(cells) * 2 // 3)
    lower = [max(Fraction(0), c - item.points / 4) if isinstance(c, Fraction) else c for c in cells[row:]]
    return Planted(with_column(course, item, [*cells[:row], *lower]), category=category.id, item=item.id)


@planter("filled-down")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = rng.choice(places_of(course, 10))
    cells, row = column(course, item), rng.randint(0, 20)
    value: Cell = rng.choice(("missing", "exempt", item.points * 3 / 4, item.points / 2))
    cells[row : row + 9] = [value] * 9
    return Planted(with_column(course, item, cells), category=category.id, item=item.id)


@planter("row-copied")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    first, later = sorted(rng.sample(range(len(course.students)), 2))
    students = rows(course)
    return Planted(with_cells(course, students[later], course.scores[students[first]]), students[later])


@planter("row-moved")
def _(rng: random.Random, course: Course) -> Planted:
    items = [replace(item, points=Fraction((20, 50, 10, 100)[n % 4])) for n, item in enumerate(series(8))]
    course, made = with_series(clean(rng.randint(0, 10**6), shape="wide"), *items)
    others = [c for c in course.plan.categories if c.extra or c.id == made.id]
    course = with_plan(course, categories=tuple(c if c.extra else replace(c, weight=Fraction(100)) for c in others))
    student = rng.choice(rows(course))
    cells = [course.cell(student, item.id) for item in items]
    return Planted(
        with_cells(course, student, {i.id: c for i, c in zip(items, [*cells[1:], None], strict=True)}), student
    )


@planter("points-odd")
def _(rng: random.Random, course: Course) -> Planted:
    course, made = with_series(course, *series())
    item = rng.choice(made.items)
    course = with_column(course, item, [None] * len(course.students))
    odd = replace(item, points=Fraction(rng.choice((1, 100))))
    return Planted(with_item(course, made, odd), category=made.id, item=item.id)


@planter("due-unordered")
def _(rng: random.Random, course: Course) -> Planted:
    course, made = with_series(course, *series())
    item = rng.choice(made.items[:3])
    day = (item.due or TERM.starts) + timedelta(days=70)
    return Planted(with_item(course, made, replace(item, due=day)), category=made.id, item=item.id)


@planter("number-missing")
def _(rng: random.Random, course: Course) -> Planted:
    course, made = with_series(course, *series(7))
    gone = rng.randint(1, 5)
    left = tuple(item for n, item in enumerate(made.items) if n != gone)
    return Planted(with_category(course, replace(made, items=left)), category=made.id)


@planter("name-left")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    name = rng.choice((f"Copy of {item.name}", f"{item.name} (copy)", "Untitled", "New item", "do not use"))
    return Planted(with_item(course, category, replace(item, name=name)), category=category.id, item=item.id)


@planter("share-zero")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    none = rng.randrange(len(category.items))
    parts = [Fraction(100, len(category.items) - 1) if n != none else Fraction(0) for n in range(len(category.items))]
    items = tuple(replace(i, share=part) for i, part in zip(category.items, parts, strict=True))
    made = replace(category, split="own_shares", items=items)
    return Planted(with_category(course, made), category=category.id, item=items[none].id)


@planter("extra-heavy")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    whole = sum((i.points for i in category.items), Fraction(0))
    extra = Item("zx", "Field day", whole * 40 / (category.weight or 1), extra=True)
    made = with_category(course, replace(category, items=(*category.items, extra)))
    return Planted(made, category=category.id, item="zx")


@planter("scale-gap")
def _(rng: random.Random, course: Course) -> Planted:
    cutoffs = rng.choice(("90 80 70 7 0", "95 90 85 53 0", "90 80 79.5 60 0")).split()
    return Planted(with_plan(course, scale=tuple(map(ScaleRow, "ABCDF", map(Fraction, cutoffs)))))


@planter("symbols-odd")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    worth = rng.choice((("check+", 10), ("check-", 90), ("full", 1000)))
    symbols = (Symbol("check", Fraction(85)), Symbol(worth[0], Fraction(worth[1])))
    return Planted(with_category(course, replace(category, symbols=symbols)), category=category.id)


@planter("rule-idle")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    kind = rng.randrange(4)
    if kind == 0:
        rule = LateRule(Fraction(0))
        return Planted(with_category(course, replace(category, late=rule)), category=category.id)
    if kind == 1:
        course = with_item(course, category, replace(item, counts=False))
        return Planted(with_plan(course, replacements=(Replacement(item.id, category.id),)), category=category.id)
    condition = rng.choice((
        Condition("percent_below", Fraction(rng.choice((0, 1, 600))), item=item.id),
        Condition("missed_at_least", Fraction(99), category=category.id),
    ))  # fmt: skip
    one = Requirement("zr", condition, Consequence("letter_at_most", letter="C"))
    return Planted(with_plan(course, requirements=(one,)))


@planter("lowered-many")
def _(rng: random.Random, course: Course) -> Planted:
    category, _ = an_item(rng, course)
    one = Requirement("zr", Condition("percent_below", Fraction(99), category=category.id),
                      Consequence("letter_at_most", letter="C"))  # fmt: skip
    return Planted(with_plan(course, requirements=(one,)))


@planter("adjusted-far")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    given = Adjustment(Fraction(rng.choice((15, -25, 30))), "rounding of the old scheme")
    return Planted(replace(course, adjustments={**course.adjustments, student: given}), student)


@planter("late-odd")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    course = with_item(course, category, replace(item, due=TERM.ends - timedelta(days=rng.randint(3, 20))))
    student = rng.choice(rows(course))
    cell = DetailedScore(item.points / 2, None, rng.choice((40, 120)))
    return Planted(with_cells(course, student, {item.id: cell}), student, category.id, item.id)


@planter("due-later")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    day, later = TERM.starts + timedelta(days=30), TERM.starts + timedelta(days=rng.randint(40, 100))
    made = with_item(course, category, replace(item, due=later))
    return Planted(made, category=category.id, item=item.id, as_of=day)


@planter("extension-odd")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    student, day = rng.choice(rows(course)), TERM.starts + timedelta(days=40)
    course = with_item(course, category, replace(item, due=day))
    own = day + timedelta(days=rng.choice((-10, 3000)))
    return Planted(replace(course, extensions={(student, item.id): own}), student, category.id, item.id)


@planter("count-odd")
def _(rng: random.Random, course: Course) -> Planted:
    course = with_plan(course, recorded=(RecordedItem("za", "Absences"),))
    for student in rows(course):
        course = with_cells(course, student, {"za": Fraction(rng.randint(0, 4))})
    student = rng.choice(rows(course))
    return Planted(with_cells(course, student, {"za": Fraction(30)}), student, None, "za")


@planter("id-odd")
def _(rng: random.Random, course: Course) -> Planted:
    place = rng.randrange(len(course.students))
    old = course.students[place]
    new = replace(old, id=rng.choice((old.id[1:], f"{old.id}0", old.id.replace("L1", "Ll"))))
    students = (*course.students[:place], new, *course.students[place + 1 :])
    scores = {new.id if s == old.id else s: row for s, row in course.scores.items()}
    settled = {new.id if s == old.id else s: grade for s, grade in course.settled.items()}
    return Planted(replace(course, students=students, scores=scores, settled=settled, records=None), new.id)


@planter("settled-moved")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), records=False, shape="wide")
    people = rows(course)
    first = rng.randint(1, 6)
    grades = [course.settled[student] for student in people]
    moved = dict(zip(people, [*grades[:first], *grades[first + 1 :], grades[-1]], strict=True))
    wrong = next(s for s in people if moved[s].grade != course.settled[s].grade)
    return Planted(replace(course, settled=moved), wrong)


@planter("reason-bare")
def _(rng: random.Random, course: Course) -> Planted:
    student = somebody(rng, course)
    return Planted(with_settled(course, student, Settled("A", reason=rng.choice((".", "x", "ok", "-")))), student)


@planter("drop-unsaid")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = rng.sample([c for c in course.plan.categories if not c.extra], 2)
    lines = [f"{c.name}: {c.weight}%" for c in course.plan.categories if not c.extra]
    text = "\n".join(["Grading", *lines, f"The lowest score of {one.name} is dropped."])
    course = with_category(replace(course, syllabus=text), replace(one, drop_lowest=1))
    return Planted(with_category(course, replace(other, drop_lowest=1)), category=other.id)


@planter("extra-odd")
def _(rng: random.Random, course: Course) -> Planted:
    course, made = with_series(course, *series())
    item = rng.choice(made.items)
    return Planted(with_item(course, made, replace(item, extra=True)), category=made.id, item=item.id)


@planter("tail-blank")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = an_item(rng, course)
    few, cells = rng.randint(3, 7), column(course, item)
    return Planted(with_column(course, item, [*cells[:-few], *[None] * few]), category=category.id, item=item.id)


@planter("slips-many")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    able = [s for s in rows(course) if len(full := numbers_in(course, s)) >= 8 and min(full.values()) > Fraction(6, 10)]
    student = rng.choice(able)
    wrong = rng.sample(sorted(numbers_in(course, student)), 3)
    cells = {i: cell / 10 for i in wrong if isinstance(cell := course.cell(student, i), Fraction)}
    return Planted(with_cells(course, student, {**cells}), student)


def numbers_in(course: Course, student: str) -> dict[str, Fraction]:
    """What a student has on regular items, as parts of their points."""
    pairs = [(item, course.cell(student, item.id)) for c, item in course.plan.items() if not c.extra]
    return {item.id: cell / item.points for item, cell in pairs if isinstance(cell, Fraction)}


@planter("zero-early")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    item = category.items[-1]
    course = with_column(course, item, [None] * len(course.students))
    made = replace(category, blanks="zero", items=tuple(replace(i, due=None) for i in category.items))
    return Planted(with_category(course, made), category=category.id, as_of=TERM.ends - timedelta(days=60))


@planter("raised-far")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    low = {item.id: item.points * 3 / 5 for c, item in course.plan.items() if not c.extra}
    course = with_cells(course, student, {**low, **{i.id: None for c, i in course.plan.items() if c.extra}})
    return Planted(with_settled(course, student, Settled("A", reason="a fine last talk")), student)


@planter("items-elsewhere")
def _(rng: random.Random, course: Course) -> Planted:
    one, other = [c for c in course.plan.categories if not c.extra][:2]
    course = with_category(course, replace(one, name=other.name))
    return Planted(with_category(course, replace(other, name=one.name)), category=other.id)


@planter("late-rule-odd")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    rule = rng.choice((
        LateRule(Fraction(10), grace_days=20), LateRule(Fraction(10), free_days=30), LateRule(Fraction(100))
    ))  # fmt: skip
    return Planted(with_category(course, replace(category, late=rule)), category=category.id)


@planter("replaces-all")
def _(rng: random.Random, course: Course) -> Planted:
    category, item = an_item(rng, course)
    into = next(c for c in course.plan.categories if not c.extra and c.id != category.id)
    rule = Replacement(item.id, into.id, count=len(into.items))
    return Planted(with_plan(course, replacements=(rule,)), category=into.id)


@planter("part-copied")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    places = [c for c in course.plan.categories if not c.extra and c.items[0].points >= 50 and len(c.items) > 1]
    category = rng.choice(places or [ordinary(rng, course)])
    first, later = sorted(rng.sample(range(len(category.items)), 2))
    one, other, row = category.items[later], category.items[first], rng.randint(0, 10)
    cells = column(course, one)
    cells[row : row + 14] = [c if isinstance(c, Fraction) else one.points / 2 for c in column(course, other)][
        row : row + 14
    ]
    course = with_column(course, other, numbers_of(course, other))
    return Planted(with_column(course, one, cells), category=category.id, item=one.id)


@planter("value-often")
def _(rng: random.Random, course: Course) -> Planted:
    course = clean(rng.randint(0, 10**6), shape="wide")
    category, item = rng.choice(places_of(course, 20))
    cells = column(course, item)
    for n in range(0, len(cells), 2):
        cells[n] = item.points * Fraction(78, 100)
    return Planted(with_column(course, item, cells), category=category.id, item=item.id)


@planter("zeros-of-one")
def _(rng: random.Random, course: Course) -> Planted:
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    student = max(rows(course), key=lambda s: len([v for v in numbers_in(course, s).values() if v > Fraction(1, 2)]))
    return Planted(with_cells(course, student, {i.id: Fraction(0) for i in category.items}), student, category.id)


@planter("aside-working")
def _(rng: random.Random, course: Course) -> Planted:
    place = max(range(len(course.students)), key=lambda n: len(numbers_in(course, course.students[n].id)))
    gone = replace(course.students[place], set_aside="withdrew")
    people = (*course.students[:place], gone, *course.students[place + 1 :])
    return Planted(replace(course, students=people), gone.id)


@planter("adjusted-most")
def _(rng: random.Random, course: Course) -> Planted:
    by = Fraction(rng.choice((1, 2, 3)))
    few = rng.randint(0, 3)
    return Planted(replace(course, adjustments={s: Adjustment(by, "a hard final") for s in rows(course)[few:]}))


@planter("drops-highest")
def _(rng: random.Random, course: Course) -> Planted:
    category = ordinary(rng, course)
    return Planted(with_category(course, replace(category, drop_lowest=0, drop_highest=1)), category=category.id)


@planter("scale-base")
def _(rng: random.Random, course: Course) -> Planted:
    of = rng.choice((1, 25))
    scale = tuple(ScaleRow(row.letter, row.cutoff / 25 / of) for row in course.plan.scale)
    return Planted(with_plan(course, scale=scale))


@planter("row-even")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    if rng.random() < 0.5:
        part = Fraction(rng.randint(60, 95), 100)
        cells: dict[str, Cell] = {i.id: i.points * part for c, i in course.plan.items() if not c.extra}
        return Planted(with_cells(course, student, cells), student)
    category = max((c for c in course.plan.categories if not c.extra), key=lambda c: len(c.items))
    mean = category.items[0].points * Fraction(781, 1000) + Fraction(1, 100)
    return Planted(with_cells(course, student, {i.id: mean for i in category.items}), student, category.id)


@planter("zeros-first")
def _(rng: random.Random, course: Course) -> Planted:
    student = rng.choice(rows(course))
    dated = sorted((i.due, i.id) for c, i in course.plan.items() if not c.extra and i.due)
    early = [item for _, item in dated[: rng.randint(3, 5)]]
    return Planted(with_cells(course, student, {item: Fraction(0) for item in early}), student)


@planter("row-no-person")
def _(rng: random.Random, course: Course) -> Planted:
    name = rng.choice((("Average", ""), ("Points", "Possible"), ("Student", "Test"), ("Median", ""), ("Total", "")))
    cells: dict[str, Cell] = {i.id: i.points * Fraction(4, 5) for c, i in course.plan.items() if not c.extra}
    person = Student("L999", *name)
    course = replace(course, students=(*course.students, person), scores={**course.scores, "L999": cells}, records=None)
    return Planted(course, "L999")
