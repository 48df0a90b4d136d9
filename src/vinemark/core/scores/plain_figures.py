"""A student's scores without the plan's rules: points earned of possible, and the plain average of all percents."""

from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import ZERO, trimmed
from vinemark.core.grade.calculation import Grade

IN_PLAY = frozenset({"kept", "dropped_lowest", "dropped_highest", "replaced"})


@dataclass(frozen=True)
class PlainFigures:
    """Points earned of those possible over all that is scored or counts as 0, nothing dropped, weighted or capped;
    extra credit is earned and is not possible. `average` is the mean of the regular items' percents, each counting
    the same (None without any)."""

    earned: Fraction
    possible: Fraction
    average: Fraction | None

    @property
    def points(self) -> str:
        """'84.5/100', or a dash."""
        return f"{trimmed(self.earned, 2)}/{trimmed(self.possible, 2)}" if self.possible or self.earned else "–"


def plain_figures(grade: Grade) -> PlainFigures:
    """The figures of a student's grade."""
    earned, possible, parts = ZERO, ZERO, list[Fraction]()
    for category in grade.categories:
        for item, _, state in category.states():
            value = category.counts_as(item.id)
            number = value if isinstance(value, Fraction) else ZERO
            if state == "extra" or (category.category.extra and state in IN_PLAY):
                earned += number
            elif state in IN_PLAY:
                earned, possible = earned + number, possible + item.points
                parts.append(number / item.points)
    return PlainFigures(earned, possible, 100 * sum(parts, ZERO) / len(parts) if parts else None)
