"""Points earned of points possible, under the points basis."""

from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import ZERO, exact_text, trimmed
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


def points_words(grade: Grade) -> str | None:
    """'215.5 of 250' under the points basis; None elsewhere, or without a grade."""
    found = earned_points(grade)
    return None if found is None else f"{trimmed(found.earned, 4)} of {exact_text(found.possible)}"
