"""Points earned of points possible, under the points basis."""

from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import ZERO
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.plan import HUNDRED


@dataclass(frozen=True)
class EarnedPoints:
    """What a student has earned of what was possible so far, in points of the course."""

    earned: Fraction
    possible: Fraction


def earned_points(grade: Grade) -> EarnedPoints | None:
    """The points of a grade before anything is added or capped; None without a grade, or where weights count."""
    if grade.uncapped is None or not grade.categories:
        return None
    first = grade.categories[0]
    if first.whole is None or not first.by_points:
        return None
    contributed = sum((one.contributes or ZERO for one in grade.categories), ZERO)
    return EarnedPoints(contributed * first.whole / HUNDRED, first.whole)
