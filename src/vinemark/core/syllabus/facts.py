"""What a syllabus says about grading, each fact with its place in the text."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal, NamedTuple

from vinemark.core.base.number import RoundingWay

FactKind = Literal["weight", "count", "drop", "extra", "scale", "rounding", "blanks"]


class Clause(NamedTuple):
    """The stretch [start, end) of the text from which a fact was read."""

    start: int
    end: int
    kind: FactKind
    category: str | None
    text: str


About = Literal["late", "replacement", "alternative", "requirement", "attendance", "curve"]
"""What a rule that no fact can hold is about."""


class Unread(NamedTuple):
    """A sentence about grades that could not be turned into a rule; what it is about, where that can be told."""

    start: int
    end: int
    text: str
    about: About | None = None


@dataclass
class SaidCategory:
    """A category as the text states it; what it does not state is None. `weight` and `points` are the whole's."""

    name: str
    weight: Fraction | None = None
    points: Fraction | None = None
    count: int | None = None
    points_each: Fraction | None = None
    drop_lowest: int = 0
    keep_best: int | None = None
    extra: bool = False
    split: Literal["even", "by_points"] | None = None
    start: int = 0
    end: int = 0


class SaidRow(NamedTuple):
    """A letter and the lowest value that gets it, in the scale's unit."""

    letter: str
    cutoff: Fraction


class SaidRounding(NamedTuple):
    """Decimals of the final percentage; None where it says that nothing is rounded. `way` as a text says 'always'."""

    decimals: int | None
    way: RoundingWay = "nearest"


@dataclass
class Reading:
    """Everything that was read."""

    basis: Literal["weighted", "points"] | None = None
    categories: list[SaidCategory] = field(default_factory=list)
    scale: Sequence[SaidRow] = ()
    scale_unit: Literal["percent", "points"] | None = None
    rounding: SaidRounding | None = None
    blanks: Literal["zero"] | None = None
    clauses: list[Clause] = field(default_factory=list)
    unread: list[Unread] = field(default_factory=list)
