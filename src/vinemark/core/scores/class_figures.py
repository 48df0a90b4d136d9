"""Figures of the class below the sheet: of each category's percent, the plain average, and the grade."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import fixed
from vinemark.core.course.course import Course, risen_of
from vinemark.core.grade.calculation import Grade


@dataclass(frozen=True)
class ClassFigure:
    """Average and median in percent, and of how many students; empty texts where nobody has it."""

    average: str
    median: str
    scored: int


NO_FIGURE = ClassFigure("", "", 0)


def percents_of_class(course: Course, grades: Mapping[str, Grade]) -> dict[str, ClassFigure]:
    """Over the enrolled students, by the name of the sheet's column: a category's place, 'so-far', 'zero', 'full'."""
    of = [grades[student.id] for student in course.enrolled() if student.id in grades]
    found = {
        str(place): _figure(None if part is None else 100 * part for part in parts)
        for place, parts in enumerate(zip(*([c.fraction for c in grade.categories] for grade in of), strict=True))
    }
    return found | {
        "so-far": _figure(grade.percent for grade in of),
        "zero": _figure(grade.blanks_zero for grade in of),
        "full": _figure(grade.blanks_full for grade in of),
    }


def _figure(percents: Iterable[Fraction | None]) -> ClassFigure:
    known = [percent for percent in percents if percent is not None]
    if not known:
        return NO_FIGURE
    whole, unit = risen_of(known)
    twice = whole[(len(whole) - 1) // 2] + whole[len(whole) // 2]
    return ClassFigure(
        fixed(Fraction(sum(whole), len(whole) * unit), 1), fixed(Fraction(twice, 2 * unit), 1), len(whole)
    )
