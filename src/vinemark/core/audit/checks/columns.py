"""Checks of whole columns: displaced, copied, half entered, mostly exempt or missing, full of zeros."""

from collections.abc import Iterator, Sequence
from datetime import timedelta
from fractions import Fraction
from typing import Final

import numpy as np

from vinemark.core.audit.finding import Facts, FixFacts, Found
from vinemark.core.audit.fit import Displacement
from vinemark.core.audit.score_table import IS_BLANK, IS_EXEMPT, IS_MISSING, ItemColumn, ScoreTable
from vinemark.core.base.dates import day_words, short_day_words
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Student
from vinemark.core.plan.amounts import blank_counts
from vinemark.core.plan.plan import HUNDRED, Category, Item
from vinemark.core.plan.worth import item_share

SHOWN: Final = 6
OVERDUE: Final = timedelta(days=14)
FEW_BLANKS: Final = 3
CLASS_MOST: Final = 5
"""Fewer than so many exempt, missing or 0 are nothing of note."""
SAME_IN: Final = 8
SEVERAL_ITEMS: Final = 4
"""In a smaller category a student's exempt items are no pattern."""


def column_shifted(facts: Facts) -> Iterator[Found]:
    """Scores that fit the students far better a row higher or lower, or two neighbours' exchanged."""
    fit = facts.fit
    for place, column in enumerate(fit.places):
        displaced = fit.displaced.get(place)
        if displaced is not None:
            yield _displaced(facts, fit.table.columns[column], displaced)
        whole = displaced is not None or place in facts.order.in_order | facts.order.unlike
        for row, following in () if whole else fit.exchanged.get(place, ()):
            yield _exchange(facts, fit.table.columns[column], fit.table.students[row], fit.table.students[following])


def _displaced(facts: Facts, one: ItemColumn, found: Displacement) -> Found:
    students, item = facts.table.students, one.item
    to = students[found.row + found.step] if 0 <= found.row + found.step < len(students) else None
    where = "higher" if found.step < 0 else "lower"
    first = students[found.row]
    whole = found.row <= 1 and first.id == _first_with(facts, item)
    which = "The scores" if whole else f"From {first.plain_name} on, the scores"
    rows = [f"{s.plain_name}: {cell_text(facts.course.cell(s.id, item.id)) or 'blank'}"
            for s in students[found.row : found.row + SHOWN]]  # fmt: skip
    return Found(
        f"{which} of {item.name} fit the students far better one row {where}.",
        category=one.category.id,
        item=item.id,
        evidence=[*rows, *([f"The first of them would be {to.plain_name}’s."] if to else [])],
        facts=FixFacts(target=first.id, amount=Fraction(found.step)),
    )


def _first_with(facts: Facts, item: Item) -> str:
    """The first student with a number on an item."""
    return next((s.id for s in facts.table.students if facts.number(s, item) is not None), "")


def _exchange(facts: Facts, one: ItemColumn, first: Student, second: Student) -> Found:
    item = one.item
    cells = [cell_text(facts.course.cell(student.id, item.id)) for student in (first, second)]
    return Found(
        f"{first.plain_name} has {cells[0]} and {second.plain_name} {cells[1]} of {exact_text(item.points)} on"
        f" {item.name}: exchanged, both would be in line with their other scores.",
        student=first.id,
        category=one.category.id,
        item=item.id,
        evidence=[f"{student.plain_name}: {elsewhere(facts, student, item)}" for student in (first, second)],
        facts=FixFacts(target=second.id),
    )


def elsewhere(facts: Facts, student: Student, item: Item) -> str:
    """What a student has on the other regular items, in percent."""
    found = facts.table.others(student.id, item.id)
    return (
        f"elsewhere {fixed(HUNDRED * found[0], 0)}% to {fixed(HUNDRED * found[1], 0)}%" if found else "no other score"
    )


def column_copied(facts: Facts) -> Iterator[Found]:
    """Two items with the same scores, as parts of their points."""
    table = facts.table
    numbers = table.numbers
    for place in _perhaps_copied(table):
        both = numbers[:, :place] & numbers[:, [place]]
        shared = both.sum(axis=0)
        either = (numbers[:, :place] | numbers[:, [place]]).sum(axis=0)
        same = both & (table.cells[:, :place] == table.cells[:, [place]])
        equal = same.sum(axis=0)
        spared = np.where(shared >= 40, shared // 20, 1)
        due = (equal >= shared - spared) & (shared >= SAME_IN) & (10 * shared >= 9 * either)
        first = next((int(n) for n in np.flatnonzero(due) if _differ(table.cells[same[:, n], place])), None)
        if first is not None:
            yield _copied(table.columns[first], table.columns[place], int(equal[first]), int(shared[first]))


def _perhaps_copied(table: ScoreTable) -> list[int]:
    """The later of each two columns that do not differ too often among the first students."""
    spared = max(1, len(table.students) // 20)
    places = np.arange(table.cells.shape[1])
    for rows in (2 * spared + 6, 4 * spared + 6):
        cells = table.cells[:rows, places]
        numbers = cells >= 0
        unlike = (cells[:, :, None] != cells[:, None, :]) & numbers[:, :, None] & numbers[:, None, :]
        alike = np.triu(unlike.sum(axis=0) <= spared, 1)
        later = places[alike.any(axis=0)]
        places = places[alike.any(axis=0) | alike.any(axis=1)]
    return [int(place) for place in later]


def _differ(values: Sequence[int]) -> bool:
    """Whether five or more are another than the commonest of them."""
    _, counts = np.unique(values, return_counts=True)
    return bool(counts.sum() - counts.max() >= CLASS_MOST)


def _copied(first: ItemColumn, later: ItemColumn, equal: int, shared: int) -> Found:
    return Found(
        f"{later.item.name} has the same scores as {first.item.name}.",
        category=later.category.id,
        item=later.item.id,
        evidence=[f"{equal} of {shared} students with both have the same part of the points."],
    )


def half_entered(facts: Facts) -> Iterator[Found]:
    """Scores for a part of the class, and many blanks that count as 0 or are long overdue."""
    blanks = facts.table.count(IS_BLANK)
    for place, column in _regular(facts):
        category, item = column.category, column.item
        if is_half_entered(facts, category, item):
            why = f"was due {day_words(item.due)}" if item.due else "has no date"
            yield Found(
                f"{item.name} has scores for {facts.scored(item)} of {len(facts.enrolled)} students;"
                f" {blanks[place]} are blank.",
                category=category.id,
                item=item.id,
                evidence=[f"It {why}.", f"Blanks of {category.name}: {category.blanks}."],
            )


def is_half_entered(facts: Facts, category: Category, item: Item) -> bool:
    """Whether an item is due under `half-entered`."""
    size, recorded = len(facts.enrolled), facts.recorded(item)
    blank = size - recorded
    if not facts.scored(item) or blank < FEW_BLANKS or 4 * blank < size:
        return False
    overdue = item.due is not None and item.due + OVERDUE < facts.as_of
    return overdue or facts.term_ended or blank_counts(category, item, facts.as_of)


def half_entered_items(facts: Facts) -> list[str]:
    """The items that are half entered: a blank there is no student's."""
    return [item.id for category, item in facts.regular_items() if is_half_entered(facts, category, item)]


def exempt_many(facts: Facts) -> Iterator[Found]:
    """Most of the class exempt from an item; one student from most of a category, or from the heaviest item."""
    size, of_class = len(facts.enrolled), set[str]()
    for (_, column), count in zip(_regular(facts), _counts(facts, IS_EXEMPT), strict=True):
        if count >= CLASS_MOST and 4 * count >= 3 * size:
            of_class.add(column.item.id)
            yield _many(column, f"{count} of {size} students are exempt from {column.item.name}.")
    yield from _exempt_students(facts, of_class)


def _exempt_students(facts: Facts, of_class: set[str]) -> Iterator[Found]:
    exempt = facts.table.cells == IS_EXEMPT
    heaviest = facts.heaviest
    places: dict[str, list[int]] = {}
    for place, column in _regular(facts):
        places.setdefault(column.category.id, []).append(place)
        exempt[:, place] &= column.item.id not in of_class
    found: list[tuple[int, int, Found]] = []
    for number, columns in enumerate(places.values()):
        mine = [facts.table.columns[place] for place in columns]
        count = exempt[:, columns].sum(axis=1)
        of_most = count >= (len(columns) // 2 + 1 if len(columns) >= SEVERAL_ITEMS else len(columns) + 1)
        for row in map(int, np.flatnonzero(of_most)):
            student = facts.table.students[row]
            found.append((row, number, _exempt_of_category(student, mine[0].category, int(count[row]), len(columns))))
        for place, one in zip(columns, mine, strict=True):
            if heaviest is not None and one.item.id == heaviest.id:
                found += [
                    (row, number, _exempt_of_heaviest(facts, facts.table.students[row], one))
                    for row in map(int, np.flatnonzero(exempt[:, place]))
                ]
    yield from (one for _, _, one in sorted(found, key=lambda one: one[:2]))


def _exempt_of_category(student: Student, category: Category, count: int, whole: int) -> Found:
    return Found(
        f"{student.plain_name} is exempt from {count} of {whole} items of {category.name}.",
        student=student.id,
        category=category.id,
        evidence=["The others alone make the category."],
    )


def _exempt_of_heaviest(facts: Facts, student: Student, one: ItemColumn) -> Found:
    share = fixed(item_share(facts.plan, one.category, one.item), 0)
    return Found(
        f"{student.plain_name} is exempt from {one.item.name}, {share}% of the course.",
        student=student.id,
        category=one.category.id,
        item=one.item.id,
        evidence=["It is the heaviest item of the course."],
    )


def all_missing(facts: Facts) -> Iterator[Found]:
    """An item that is missing for nearly everybody."""
    size = len(facts.enrolled)
    for (_, column), count in zip(_regular(facts), _counts(facts, IS_MISSING), strict=True):
        if count >= CLASS_MOST and 5 * count >= 4 * size:
            yield _many(column, f"{column.item.name} is missing for {count} of {size} students.")


def zeros_many(facts: Facts) -> Iterator[Found]:
    """An item with many zeros, while zeros are rare elsewhere."""
    zeros, numbers = _counts(facts, 0), [facts.scored(column.item) for _, column in _regular(facts)]
    for (_, column), zero, number in zip(_regular(facts), zeros, numbers, strict=True):
        others, zeros_there = sum(numbers) - number, sum(zeros) - zero
        rare = zero == number or (others and zero * others >= 4 * zeros_there * number)
        if zero >= CLASS_MOST and 4 * zero >= number and rare:
            said = f"{zero} of {number} scores on {column.item.name} are 0."
            part = f"Elsewhere {zeros_there} of {others} are." if others else "There are no other scores."
            yield _many(column, said, part)


def _many(column: ItemColumn, message: str, *evidence: str) -> Found:
    return Found(message, category=column.category.id, item=column.item.id, evidence=evidence)


def _regular(facts: Facts) -> list[tuple[int, ItemColumn]]:
    return [(place, facts.table.columns[place]) for place in facts.table.regular]


def _counts(facts: Facts, kind: int) -> list[int]:
    found = facts.table.count(kind)
    return [found[place] for place in facts.table.regular]


def adjusted_twice(facts: Facts) -> Iterator[Found]:
    """A column that was adjusted twice by the same rule, as the history tells."""
    for _, item in facts.plan.items():
        twice = facts.section_records.adjusted.get(item.id)
        if twice is not None:
            days = [short_day_words(day) for day in (twice.first, twice.second)]
            on = f"twice on {days[0]}" if days[0] == days[1] else f"on {days[0]} and again on {days[1]}"
            yield Found(
                f"{item.name} was adjusted {on} by the same rule: {twice.words}.",
                item=item.id,
                evidence=["Where once was meant, undo the second one in the history."],
            )
