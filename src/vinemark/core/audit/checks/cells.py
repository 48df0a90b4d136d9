"""Checks of single scores against what the class and the student have elsewhere."""

from collections.abc import Iterator
from fractions import Fraction
from functools import lru_cache
from typing import Final

import numpy as np

from vinemark.core.audit.checks.columns import elsewhere
from vinemark.core.audit.finding import Facts, Found
from vinemark.core.audit.fit import Fit
from vinemark.core.audit.score_table import ItemColumn
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.course.course import Student
from vinemark.core.grade.class_columns import Ints, Mask
from vinemark.core.plan.plan import HUNDRED

CODES_TYPED: Final = tuple(Fraction(text) for text in ("0.01", "0.1", "1", "99", "999", "9999"))
"""Numbers that people type as a code."""
CODE_POINTS: Final = 10
CODE_CELLS: Final = 3
ROUNDED: Final = 4
"""What two roundings to the unit of the fit can make."""
NO_SHARE: Final = -(2**40)
CODES_SHOWN: Final = 50
"""For so many cells with one code it is said what their students have elsewhere."""
OUTLIER_POINTS: Final = 5
OUTLIER_OTHERS: Final = 5
OUTLIER_OF_ONE: Final = 2


def code_as_number(facts: Facts) -> Iterator[Found]:
    """A number that people type as a code, where it does not fit, three times or more."""
    fit = facts.fit
    found: dict[Fraction, list[tuple[Student, ItemColumn]]] = {}
    for place, row in np.argwhere(_like_codes(fit).T):
        student, one = fit.table.students[int(row)], fit.table.columns[fit.places[int(place)]]
        number = facts.number(student, one.item)
        if number in CODES_TYPED:
            found.setdefault(number, []).append((student, one))
    for number, cells in found.items():
        if len(cells) >= CODE_CELLS:
            for place, (student, one) in enumerate(cells):
                yield _code(facts, number, student, one, len(cells), place < CODES_SHOWN)


def _like_codes(fit: Fit) -> Mask:
    """Where a score does not fit and is, but for what the table rounds, one of these numbers."""
    found: Mask = fit.has_rest & (10 * np.abs(fit.rest) >= 3 * fit.unit)
    points = tuple(fit.table.columns[place].item.points for place in fit.places)
    rows, places = np.nonzero(found)
    far = fit.f[rows, places]
    marks = [np.abs(far - mark[places]) <= ROUNDED for mark in _marks(points, fit.unit)]
    found[rows, places] = np.logical_or.reduce(marks)
    return found


@lru_cache(maxsize=256)
def _marks(points: tuple[Fraction, ...], unit: int) -> list[Ints]:
    """For each code, what it is of the points of each item; of few points nothing."""
    return [
        np.asarray([round(code * unit / most) if most >= CODE_POINTS else NO_SHARE for most in points], dtype=np.int64)
        for code in CODES_TYPED
    ]


def _code(facts: Facts, number: Fraction, student: Student, one: ItemColumn, count: int, shown: bool) -> Found:
    return Found(
        f"{student.plain_name} has {exact_text(number)} of {exact_text(one.item.points)} on {one.item.name},"
        f" as {count} cells have where it does not fit: perhaps a code for something else.",
        student=student.id,
        category=one.category.id,
        item=one.item.id,
        evidence=[f"{student.plain_name}: {elsewhere(facts, student, one.item)}"] if shown else (),
        part=exact_text(number),
    )


def outlier(facts: Facts) -> Iterator[Found]:
    """One or two scores of a student far from what the student's other scores and the item's level say."""
    fit = facts.fit
    found: dict[int, list[tuple[int, bool]]] = {}
    for row, place in fit.far:
        if fit.table.columns[fit.places[place]].item.points >= OUTLIER_POINTS:
            low = _is_low(fit, row, place)
            if low is not None:
                found.setdefault(row, []).append((place, low))
    for row, places in sorted(found.items()):
        if len(places) <= OUTLIER_OF_ONE:
            for place, low in places:
                yield _outlier(facts, row, place, low)


def _is_low(fit: Fit, row: int, place: int) -> bool | None:
    """Whether a score far from what is expected is a low outlier, or a high one; None where it is none."""
    value, off = int(fit.f[row, place]), int(fit.rest[row, place])
    rising = np.sort(fit.f[fit.there[:, place], place])
    mine = fit.valid[row].copy()
    mine[place] = False
    others = np.sort(fit.f[row, mine])
    if len(others) < OUTLIER_OTHERS:
        return None
    if 100 * off <= -55 * fit.unit and 10 * (others[1] - value) >= 4 * fit.unit and value <= rising[1]:
        return True
    high = off > 0 and fit.standing[row, place] <= 0 and value >= rising[-2]
    return False if high and 10 * (value - others[-2]) >= 3 * fit.unit else None


def _outlier(facts: Facts, row: int, place: int, low: bool) -> Found:
    fit = facts.fit
    student, one = fit.table.students[row], fit.table.columns[fit.places[place]]
    number = facts.number(student, one.item) or Fraction(0)
    expected = Fraction(int(fit.f[row, place] - fit.rest[row, place]), fit.unit)
    return Found(
        f"{student.plain_name} has {exact_text(number)} of {exact_text(one.item.points)} on {one.item.name}, far"
        f" {'below' if low else 'above'} what the other scores say (about {fixed(expected * one.item.points, 1)}).",
        student=student.id,
        category=one.category.id,
        item=one.item.id,
        evidence=[
            f"{student.plain_name}: {elsewhere(facts, student, one.item)}",
            f"The class has {fixed(HUNDRED * Fraction(int(fit.level[place]), fit.unit), 0)}% here at the median.",
        ],
    )
