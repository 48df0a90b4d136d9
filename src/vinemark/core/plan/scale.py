"""The letter scale: its order and its faults."""

from collections.abc import Sequence
from typing import TypeVar

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import ScaleRow

_T = TypeVar("_T")


def scale_faults(scale: Sequence[ScaleRow]) -> list[str]:
    """What is wrong with a scale, in words; empty for a sound one (and for none at all)."""
    faults: list[str] = []
    if not scale:
        return faults
    letters = [row.letter for row in scale]
    cutoffs = [row.cutoff for row in scale]
    if 0 not in cutoffs:
        faults.append("the lowest letter must start at 0")
    faults += [f"the letter {x} is there twice" for x in _twice(letters)]
    faults += [f"the cutoff {exact_text(x)} is there twice" for x in _twice(cutoffs)]
    return faults


def row_faults(scale: Sequence[ScaleRow]) -> dict[int, str]:
    """What is wrong at each row (by its place), in words: repeats, rows out of order, a hole at the bottom."""
    faults: dict[int, str] = {}
    letters, cutoffs = [row.letter for row in scale], [row.cutoff for row in scale]
    falling = len(cutoffs) < 2 or cutoffs[0] >= cutoffs[-1]
    for index, row in enumerate(scale):
        if row.letter in letters[:index]:
            faults[index] = f"{row.letter} is already above"
        elif row.cutoff in cutoffs[:index]:
            faults[index] = f"overlaps {letters[cutoffs.index(row.cutoff)]}: the same cutoff"
        elif index and (row.cutoff > cutoffs[index - 1]) == falling:
            faults[index] = f"out of order: {'above' if falling else 'below'} {letters[index - 1]}"
    if scale and 0 not in cutoffs:
        lowest = cutoffs.index(min(cutoffs))
        faults.setdefault(lowest, f"a gap: no letter below {exact_text(min(cutoffs))}")
    return faults


def _twice(values: Sequence[_T]) -> list[_T]:
    return [v for i, v in enumerate(values) if values.index(v) < i]


def sorted_scale(scale: Sequence[ScaleRow]) -> list[ScaleRow]:
    """Rows from the highest cutoff down."""
    return sorted(scale, key=lambda row: row.cutoff, reverse=True)
