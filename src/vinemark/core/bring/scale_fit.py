"""The letter scale that a file's own percents and letters speak for."""

from collections.abc import Sequence
from fractions import Fraction

from vinemark.core.plan.plan import ScaleRow

_TENS = (("A", 90), ("B", 80), ("C", 70), ("D", 60), ("F", 0))
_THIRDS = (
    ("A", 93), ("A-", 90), ("B+", 87), ("B", 83), ("B-", 80), ("C+", 77), ("C", 73), ("C-", 70), ("D+", 67), ("D", 63),
    ("D-", 60), ("F", 0),
)  # fmt: skip
COMMON_SCALES = (_TENS, _THIRDS, (("A+", 97), *_THIRDS))
"""Scales as syllabuses commonly have them (common practice, no source)."""


def fitted_scale(pairs: Sequence[tuple[Fraction, str]]) -> tuple[ScaleRow, ...] | None:
    """The common scale whose letters agree with most of some percents; None where none agrees with nine in ten."""
    best: tuple[int, tuple[ScaleRow, ...]] | None = None
    for rows in COMMON_SCALES:
        scale = tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in rows)
        agree = sum(_letter(scale, percent) == letter for percent, letter in pairs)
        if best is None or agree > best[0]:
            best = agree, scale
    return best[1] if best and pairs and 10 * best[0] >= 9 * len(pairs) else None


def _letter(scale: Sequence[ScaleRow], percent: Fraction) -> str:
    return next((row.letter for row in scale if percent >= row.cutoff), "")
