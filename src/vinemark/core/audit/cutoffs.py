"""The class against the cutoffs: figures of the whole class, and cutoffs moved to see who would change letter."""

import itertools
from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from statistics import median

from vinemark.core.base.number import NotANumber, exact_text, fixed, parse_ratio
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.plan import Plan, ScaleRow
from vinemark.core.plan.scale import scale_faults, sorted_scale


@dataclass(frozen=True)
class ClassFigures:
    """Mean and median of the percents ('–' where there is none), and how many have each letter, best first."""

    mean: str
    median: str
    letters: tuple[tuple[str, int], ...]
    without: int


def class_figures(course: Course, grades: Mapping[str, Grade]) -> ClassFigures:
    """Figures of everyone given, as so far."""
    percents = [grade.percent for grade in grades.values() if grade.percent is not None]
    letters = [row.letter for row in sorted_scale(course.plan.scale)]
    return ClassFigures(
        fixed(sum(percents, Fraction(0)) / len(percents), 2) if percents else "–",
        fixed(Fraction(median(percents)), 2) if percents else "–",
        tuple((letter, sum(g.letter == letter for g in grades.values())) for letter in letters),
        len(grades) - len(percents),
    )


def moved_cutoffs(plan: Plan, typed: Mapping[str, str]) -> Plan:
    """The plan with cutoffs as typed under 'from-A', 'from-A-' …; letters keep their order.

    Raises Refused at the field of a cutoff that is no number, above 100, or not between its neighbours.
    """
    rows = [ScaleRow(row.letter, _typed(row, typed)) for row in sorted_scale(plan.scale)]
    for above, below in itertools.pairwise(rows):
        if below.cutoff >= above.cutoff:
            said = f"{exact_text(below.cutoff)} is not below {above.letter}’s {exact_text(above.cutoff)}"
            raise Refused(f"from-{below.letter}", f"{below.letter} from {said}")
    if scale_faults(rows):
        raise Refused("from", scale_faults(rows)[0])
    return replace(plan, scale=tuple(rows))


def _typed(row: ScaleRow, typed: Mapping[str, str]) -> Fraction:
    field = f"from-{row.letter}"
    if row.cutoff == 0 or field not in typed:
        return row.cutoff
    try:
        value = parse_ratio(typed[field].strip().replace(",", "."))
    except NotANumber as error:
        raise Refused(field, f"{row.letter}: {error}") from None
    if not 0 < value <= 100:
        raise Refused(field, f"{row.letter} must be from above 0 to 100")
    return value
