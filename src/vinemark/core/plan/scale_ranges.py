"""Ranges of a pasted scale that leave a gap or lie over one another, as they are said when it is taken."""

import re
from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from typing import NamedTuple

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import ScaleRow
from vinemark.core.plan.scale_text import rows_with_ends


class LetterRange(NamedTuple):
    """A letter with its lowest and highest value as they stand there."""

    letter: str
    lowest: Fraction
    highest: Fraction


class RangeFault(NamedTuple):
    """What is wrong between two ranges, and the letter that a value there gets."""

    letter: str
    words: str


def range_faults(text: str) -> list[RangeFault]:
    """What neighbouring ranges leave open or say twice: '92 is in no range: it is a B here'.

    '80-89' under '90-100' leaves nothing open: whole numbers, or places, meet where one step is between them.
    """
    ranges = [LetterRange(row.letter, row.cutoff, top) for row, top in rows_with_ends(text) if top is not None]
    ranges.sort(key=lambda one: -one.lowest)
    step = Fraction(1, 10 ** max((len(places) for places in re.findall(r"\d\.(\d{1,6})", text)), default=0))
    found = list[RangeFault]()
    for upper, lower in pairwise(ranges):
        between = upper.lowest - lower.highest
        if between > step:
            low, high = exact_text(lower.highest + step), exact_text(upper.lowest - step)
            what = low if low == high else f"{low} to {high}"
            found.append(RangeFault(lower.letter, f"{what} is in no range: it is {_with_article(lower.letter)} here"))
        elif between <= 0:
            what = exact_text(upper.lowest)
            if between < 0:
                what = f"{what} to {exact_text(lower.highest)}"
            words = f"{what} is in two ranges: it is {_with_article(upper.letter)} here"
            found.append(RangeFault(upper.letter, words))
    return found


def _with_article(letter: str) -> str:
    return f"{'an' if letter[0] in 'AEFHILMNORSX' else 'a'} {letter}"


def said_of_ranges(text: str) -> str:
    """The same as an addition to a sentence; empty where the ranges meet."""
    faults = range_faults(text)
    return f"; {'; '.join(fault.words for fault in faults)}" if faults else ""


def range_faults_of_rows(text: str, scale: Sequence[ScaleRow]) -> dict[int, str]:
    """The same at the rows of the scale that was made of the text, by their place."""
    places = {row.letter: place for place, row in enumerate(scale)}
    return {places[fault.letter]: fault.words for fault in range_faults(text) if fault.letter in places}
