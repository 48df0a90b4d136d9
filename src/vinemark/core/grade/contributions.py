"""The picture of a grade: what each category contributes, against what it could."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import fixed
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.plan import HUNDRED


@dataclass(frozen=True)
class Bar:
    """A category's stretch in thousandths of 100 percent: where it starts, what it could fill, what it fills."""

    name: str
    color: int
    start: int
    could: int
    filled: int
    words: str


def bars(grade: Grade) -> Sequence[Bar]:
    """One bar a category that has a percentage, one after the other; extra credit fills on top."""
    found, at = [], Fraction(0)
    for color, result in enumerate(grade.categories):
        got = result.contributes
        if got is None:
            continue
        could = result.weight_now
        if could is None:
            could = got if result.fraction in {None, 0} else got / result.fraction
        if result.category.extra:
            could = got
        words = f"{result.category.name}: {fixed(got, 2)} of {fixed(could, 2)}"
        found.append(
            Bar(result.category.name, color % 6, _thousandths(at), _thousandths(could), _thousandths(got), words)
        )
        at += could
    return found


def _thousandths(percent: Fraction) -> int:
    return int(1000 * percent / HUNDRED)
