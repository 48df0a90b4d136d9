"""Figures of the class below the sheet: of each category's percent, and of the grade."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from operator import itemgetter
from weakref import WeakKeyDictionary

from vinemark.core.base.number import fixed
from vinemark.core.course.course import Course, risen_of
from vinemark.core.grade.calculation import Grade

PLACES = 1
FINE = 10**12
"""Percents are added as whole numbers of this part, and exactly where that could round otherwise."""


@dataclass(frozen=True)
class ClassFigure:
    """Average and median in percent, and of how many students; empty texts where nobody has it."""

    average: str
    median: str
    scored: int


NO_FIGURE = ClassFigure("", "", 0)

_Percent = tuple[int, Fraction]
_known: "WeakKeyDictionary[Grade, Sequence[_Percent | None]]" = WeakKeyDictionary()
"""The percents of a grade, as long as it lives: after an edit those of all others are the same."""


def percents_of_class(course: Course, grades: Mapping[str, Grade]) -> dict[str, ClassFigure]:
    """Over the enrolled students, by the name of the sheet's column: a category's place, 'so-far', 'zero', 'full'."""
    rows = [_percents(grades[student.id]) for student in course.enrolled() if student.id in grades]
    columns = list(zip(*rows, strict=True)) or [()] * (len(course.plan.categories) + 3)
    names = [*map(str, range(len(columns) - 3)), "so-far", "zero", "full"]
    return {name: _figure([one for one in column if one]) for name, column in zip(names, columns, strict=True)}


def _percents(grade: Grade) -> Sequence[_Percent | None]:
    """Of every category, so far, with blanks as 0 and in full; each as a whole number of 1 / FINE and exactly."""
    found = _known.get(grade)
    if found is None:
        parts = [None if one.fraction is None else 100 * one.fraction for one in grade.categories]
        percents = [*parts, grade.percent, grade.blanks_zero, grade.blanks_full]
        found = _known[grade] = [None if p is None else (p.numerator * FINE // p.denominator, p) for p in percents]
    return found


def _figure(percents: Sequence[_Percent]) -> ClassFigure:
    if not percents:
        return NO_FIGURE
    count, rising = len(percents), sorted(percents, key=itemgetter(0))
    middle = rising[(count - 1) // 2][1] + rising[count // 2][1]
    return ClassFigure(_average([one for one, _ in percents], percents), fixed(middle / 2, PLACES), count)


def _average(whole: Sequence[int], percents: Sequence[_Percent]) -> str:
    """The mean. Each whole number is short by less than 1: where that could matter it is made exactly."""
    least = Fraction(sum(whole), len(whole) * FINE)
    said = fixed(least, PLACES)
    if said == fixed(least + Fraction(1, FINE), PLACES):
        return said
    exact, unit = risen_of([percent for _, percent in percents])
    return fixed(Fraction(sum(exact), len(exact) * unit), PLACES)
