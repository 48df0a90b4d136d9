"""Checks of the scores."""

from bisect import bisect_left, bisect_right
from collections.abc import Collection, Iterator
from fractions import Fraction
from statistics import median

from vinemark.core.audit.checks.columns import half_entered_items
from vinemark.core.audit.finding import Facts, FixFacts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text, fixed, percent_text
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import NO_VALUES, Risen, Student
from vinemark.core.plan.plan import HUNDRED, Category, Item

ALIKE = 10
STOPPED = 3
SOME = 5
"""Beside fewer scores nothing stands apart."""
OTHERS = 4
"""Beside fewer of their own a student's score does not stand apart."""
WITHIN = Fraction(3, 10)


def over_points(facts: Facts) -> Iterator[Found]:
    """A regular item's score above its points."""
    for category, item in facts.columns():
        points, rows, (whole, unit) = item.points, facts.course.values, facts.course.risen(item.id)
        # Where the highest of the enrolled is within the points, only those apart are looked at one by one.
        over = bool(whole) and whole[-1] * points.denominator > points.numerator * unit
        for student in facts.taking_part if over else facts.apart:
            cell = rows.get(student.id, NO_VALUES).get(item.id)
            if isinstance(cell, Fraction) and _exceeds(cell, points):
                yield Found(
                    f"{student.plain_name} has {exact_text(cell)} of {exact_text(item.points)} on {item.name}.",
                    student=student.id,
                    category=category.id,
                    item=item.id,
                    evidence=_others(facts, item, student),
                    facts=FixFacts(amount=item.points),
                )


def _exceeds(number: Fraction, points: Fraction) -> bool:
    """number > points, in whole numbers."""
    return number.numerator * points.denominator > points.numerator * number.denominator


def _others(facts: Facts, item: Item, student: Student) -> list[str]:
    """What the class has on an item, for comparison."""
    cells = [facts.course.value(s.id, item.id) for s in facts.enrolled if s.id != student.id]
    numbers = [c for c in cells if isinstance(c, Fraction)]
    if not numbers:
        return ["Nobody else has a score on this item."]
    return [f"Everyone else has between {exact_text(min(numbers))} and {exact_text(max(numbers))} here."]


def blank_waits(facts: Facts) -> Iterator[Found]:
    """After the term's end, a blank of an enrolled student that is still left out."""
    if not facts.term_ended:
        return
    no_ones = {*blank_columns(facts), *half_entered_items(facts)}
    waiting = [(c, i) for c, i in facts.regular_items() if _left_out(c, i) and i.id not in no_ones]
    for student in facts.rows:
        items = [item for _, item in waiting if facts.course.cell(student.id, item.id) is None]
        items = [item for item in items if not facts.has_time(student, item)]
        if items and not _incomplete(facts, student):
            yield _waits(facts, student, items)


def _waits(facts: Facts, student: Student, items: list[Item]) -> Found:
    grade = facts.grades[student.id]
    now = grade.letter or "no letter"
    zeros = None if grade.blanks_zero is None else facts.letters.of_exact(grade.blanks_zero)
    names = ", ".join(item.name for item in items)
    count = "1 blank" if len(items) == 1 else f"{len(items)} blanks"
    return Found(
        f"{student.plain_name} has {count} not counted yet: {names}."
        f" Now {now}, with blanks as 0 {zeros or 'no letter'}.",
        student=student.id,
        opens=items[0].id,
        evidence=[
            f"So far {percent_text(grade.percent) or 'no grade yet'} ({now})",
            f"Blanks as 0 {percent_text(grade.blanks_zero) or 'no grade yet'} ({zeros or 'no letter'})",
            f"Blanks full {percent_text(grade.blanks_full) or 'no grade yet'}",
        ],
        facts=FixFacts(items=[item.id for item in items]),
    )


def _left_out(category: Category, item: Item) -> bool:
    return category.blanks == "wait" or (category.blanks == "zero_when_due" and item.due is None)


def column_blank(facts: Facts, item: Item) -> bool:
    """A due item with nothing recorded for any enrolled student."""
    return bool(facts.enrolled) and facts.is_past(item) and not facts.recorded(item)


def blank_columns(facts: Facts) -> list[str]:
    """The items whose whole column is blank: a blank there is no student's."""
    return [item.id for _, item in facts.regular_items() if column_blank(facts, item)]


def columns_of_no_student(facts: Facts) -> tuple[list[str], list[str]]:
    """The items that are blank or half entered as a whole: their blanks are no single student's."""
    return blank_columns(facts), half_entered_items(facts)


def columns_blank(facts: Facts) -> Iterator[Found]:
    """A counting item whose day is over, with not one score."""
    for category, item in facts.columns():
        if column_blank(facts, item):
            when = f"due {day_words(item.due)}" if item.due else "without a date, at the term’s end"
            yield Found(
                f"{item.name} ({when}) has no scores.",
                category=category.id,
                item=item.id,
                evidence=[
                    f"All {len(facts.enrolled)} cells are blank.",
                    f"Blanks of {category.name}: {category.blanks}.",
                ],
            )


def column_same(facts: Facts) -> Iterator[Found]:
    """A counting item on which ten students or more all have the same score."""
    for category, item in facts.plan.items():
        if not item.counts or not facts.looks_down(item) or facts.scored(item) < ALIKE:
            continue
        risen = facts.course.risen(item.id)
        if risen.whole[0] == risen.whole[-1]:
            numbers = risen.numbers(slice(None))
            yield Found(
                f"All {len(numbers)} scores on {item.name} are {exact_text(numbers[0])}.",
                category=category.id,
                item=item.id,
                evidence=[f"Of {exact_text(item.points)} points."],
            )


def slipped_key(facts: Facts) -> Iterator[Found]:
    """A score that looks like a slip of the key: ten times it, or a tenth of it, would fit student and item.

    Low: 0.9 of 10 from a student with 8.5 to 9.5 elsewhere, on an item where nobody else is below 6. Extra items are
    looked at too; a student's own scores are those on regular ones.
    """
    items = [(category, item) for category, item in facts.plan.items() if item.counts]
    suspects = {item.id: found for _, item in items if (found := _suspects(facts, item))}
    touched = [(category, item) for category, item in items if item.id in suspects and facts.looks_down(item)]
    for student in facts.enrolled:
        others: list[tuple[str, Fraction]] | None = None
        row = facts.course.values.get(student.id, NO_VALUES)
        for category, item in items if facts.looks_along(student) else touched:
            number = row.get(item.id)
            if number is None or number not in suspects.get(item.id, ()):
                continue
            others = _own_fractions(facts, student) if others is None else others
            rest = [fraction for name, fraction in others if name != item.id]
            meant = _meant(facts, student, item, rest) if len(rest) >= OTHERS else None
            if meant is not None:
                yield _slipped(facts, student, category, item, meant * item.points)


def _suspects(facts: Facts, item: Item) -> Collection[Fraction]:
    """Which numbers on an item are far too low or high for it and stand apart from all others there: at most the
    lowest above 0 and the highest."""
    found = facts.suspects.get(item.id)
    if found is None:
        found = facts.suspects[item.id] = _apart_on(facts.course.risen(item.id), item.points)
    return found


def _apart_on(risen: Risen, points: Fraction) -> set[Fraction]:
    whole, count = risen.whole, len(risen.whole)
    first = bisect_right(whole, 0)
    if count <= SOME or first == count:
        return set()
    # The two lowest above 0 and the two highest decide.
    places = sorted({first, min(first + 1, count - 1), count - 2, count - 1})
    values = [Fraction(whole[place], risen.unit) for place in places]
    ends = {Fraction(whole[first], risen.unit), values[-1]}
    return {end for end in ends if not _is_usual(end, points) and _stands_apart(end, points, _but_one(values, end))}


def _is_usual(number: Fraction, points: Fraction) -> bool:
    """Whether a score lies above a tenth of the points and below four times as much; in whole numbers."""
    tens, of = 10 * number.numerator * points.denominator, points.numerator * number.denominator
    return of < tens < 40 * of


def _own_fractions(facts: Facts, student: Student) -> list[tuple[str, Fraction]]:
    """A student's scores on regular items as fractions of their points, rising."""
    pairs = ((item, facts.number(student, item)) for _, item in facts.regular_items())
    return sorted(((i.id, n / i.points) for i, n in pairs if n is not None), key=lambda pair: pair[1])


def _meant(facts: Facts, student: Student, item: Item, rest: list[Fraction]) -> Fraction | None:
    """The fraction of the points that was probably meant; None where what stands there is plausible beside the
    student's others, which rise."""
    fraction = (facts.number(student, item) or Fraction(0)) / item.points
    if not _stands_apart(fraction, Fraction(1), rest):
        return None
    if fraction >= 4:
        return fraction / 10 if fraction / 10 <= 1 else None
    return 10 * fraction if abs(10 * fraction - median(rest)) <= WITHIN else None


def _stands_apart(number: Fraction, points: Fraction, rest: list[Fraction]) -> bool:
    """Whether a number that is far too high or low for the points is so beside the other values, too, which rise."""
    if number >= 4 * points:
        return number > 3 * rest[-1]
    lowest = next((value for value in rest if value > 0), None)
    return lowest is not None and 2 * number < lowest


def _but_one(values: list[Fraction], one: Fraction) -> list[Fraction]:
    """The values without one of those equal to this one."""
    place = bisect_left(values, one)
    return values[:place] + values[place + 1 :]


def _slipped(facts: Facts, student: Student, category: Category, item: Item, meant: Fraction) -> Found:
    score = facts.number(student, item) or Fraction(0)
    return Found(
        f"{student.plain_name} has {exact_text(score)} of {exact_text(item.points)} on {item.name};"
        f" {exact_text(meant)} would be in line with the other scores.",
        student=student.id,
        category=category.id,
        item=item.id,
        evidence=[*_others(facts, item, student), _elsewhere(facts, student, item)],
        facts=FixFacts(amount=meant),
    )


def _elsewhere(facts: Facts, student: Student, item: Item) -> str:
    """What a student has on everything else, in percent."""
    low, high = facts.table.others(student.id, item.id) or (Fraction(0), Fraction(0))
    return f"Elsewhere this student has between {fixed(HUNDRED * low, 0)}% and {fixed(HUNDRED * high, 0)}%."


def no_work(facts: Facts) -> Iterator[Found]:
    """An enrolled student with not one number above 0, once half the class has one."""
    if not half_at_work(facts):
        return
    for student in facts.rows:
        settled = facts.course.settled.get(student.id)
        if student.id not in facts.at_work and not (settled and settled.never_attended):
            cells = [c for c in facts.course.scores.get(student.id, {}).values() if c is not None]
            yield Found(
                f"{student.plain_name} has no score above 0.",
                student=student.id,
                evidence=[f"{len(cells)} cells are recorded, {sum(c == 'missing' for c in cells)} of them missing."],
            )


def half_at_work(facts: Facts) -> bool:
    """Whether half of the enrolled have a number above 0."""
    return 2 * len(facts.course.enrolled_ids & facts.at_work) >= len(facts.enrolled)


def given_items(facts: Facts) -> list[Item]:
    """Items due before today on which half of the enrolled have a number, in the order of their days."""
    dated = [i for _, i in facts.regular_items() if i.due is not None and i.due < facts.as_of]
    given = [i for i in dated if 2 * facts.scored(i) >= len(facts.enrolled)]
    return sorted(given, key=lambda item: item.due or facts.as_of)


def stopped(facts: Facts) -> Iterator[Found]:
    """A student with scores early on, and nothing in the last three dated items or more."""
    given = given_items(facts)
    for student in facts.rows:
        mine = [i for i in given if facts.course.cell(student.id, i.id) != "exempt"]
        last = next((n for n, i in reversed(list(enumerate(mine))) if facts.number(student, i)), None)
        if last is not None and len(mine) - last > STOPPED:
            work, rest = mine[last], mine[last + 1 :]
            assert work.due is not None  # noqa: S101
            yield Found(
                f"{student.plain_name} has turned in nothing since {work.name}, due {day_words(work.due)}:"
                f" {len(rest)} items blank, missing or 0.",
                student=student.id,
                evidence=[f"{i.name}: {cell_text(facts.course.cell(student.id, i.id)) or 'blank'}" for i in rest],
                opens=rest[0].id,
            )


def _incomplete(facts: Facts, student: Student) -> bool:
    settled, records = facts.course.settled.get(student.id), facts.course.records
    rule = records.rule(settled.grade) if settled and records else None
    return rule is not None and "fallback_grade" in rule.needs
