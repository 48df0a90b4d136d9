"""The class against the cutoffs: where every student's dot stands on a strip."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache

from vinemark.core.base.number import exact_text, fixed
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.plan import Plan, ScaleRow
from vinemark.core.plan.scale import scale_faults, sorted_scale

BIN = 13
"""Thousandths of the strip that one dot takes."""


@dataclass(frozen=True)
class Dot:
    """One student: `x` in thousandths of the strip, `level` its place in the pile, from 0."""

    student_id: str
    x: int
    level: int
    percent: str
    letter: str
    flagged: bool


@dataclass(frozen=True)
class Band:
    """One letter's stretch of the strip, with how many have it."""

    letter: str
    start: int
    width: int
    cutoff: str
    count: int


@dataclass(frozen=True)
class Strip:
    """The distribution strip."""

    dots: Sequence[Dot]
    bands: Sequence[Band]
    low: Fraction
    high: Fraction


def strip(plan: Plan, grades: Mapping[str, Grade], flagged: frozenset[str]) -> Strip:
    """Dots and bands from just below the lowest positive cutoff to the top; lower percents sit at the edge."""
    percents = {s: g.percent for s, g in grades.items() if g.percent is not None}
    cutoffs = [row.cutoff for row in plan.scale if row.cutoff > 0]
    low = max(Fraction(0), min([*cutoffs, *[Fraction(50)]]) - 10)
    high = max([Fraction(100), *percents.values()])
    return Strip(_dots(grades, percents, flagged, low, high), _bands(plan, grades, low, high), low, high)


def _place(value: Fraction, low: Fraction, high: Fraction) -> int:
    return int(1000 * (min(max(value, low), high) - low) / (high - low))


def _dots(
    grades: Mapping[str, Grade],
    percents: Mapping[str, Fraction],
    flagged: frozenset[str],
    low: Fraction,
    high: Fraction,
) -> list[Dot]:
    piles: dict[int, int] = {}
    dots = []
    for student, percent in sorted(percents.items(), key=lambda pair: pair[1]):
        spot = _place(percent, low, high) // BIN
        level = piles.get(spot, 0)
        piles[spot] = level + 1
        letter = grades[student].letter or ""
        dots.append(Dot(student, spot * BIN + BIN // 2, level, fixed(percent, 2), letter, student in flagged))
    return dots


def _bands(plan: Plan, grades: Mapping[str, Grade], low: Fraction, high: Fraction) -> list[Band]:
    counts = Counter([grade.letter for grade in grades.values()])
    return [replace(band, count=counts[band.letter]) for band in _empty_bands(plan.scale, low, high)]


@lru_cache(maxsize=256)
def _empty_bands(scale: tuple[ScaleRow, ...], low: Fraction, high: Fraction) -> list[Band]:
    """The stretches of a scale, the lowest first."""
    if not scale or scale_faults(scale):
        return []
    bands, end = [], 1000
    for row in sorted_scale(scale):
        start = _place(row.cutoff, low, high)
        bands.append(Band(row.letter, start, max(0, end - start), exact_text(row.cutoff), 0))
        end = start
    return bands[::-1]
