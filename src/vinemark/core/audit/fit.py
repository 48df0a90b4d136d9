"""What is expected of each score: levels of items and standings of students, by medians (after J. W. Tukey,
Exploratory Data Analysis, 1977; from memory), and columns that fit better a row higher or lower.

f is a score above 0 as a fraction of its points. The level of an item is the median of its f; the standing b of a
student for an item is the median of f - level over the student's other items; expected is level + b within 0 and 1,
and r is f less that. All of them are whole numbers of 1 / `unit`. Correlations are compared in numpy's doubles, after
R. A. Fisher (Metron 1, 1921): no grade depends on them.
"""

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vinemark.core.audit.score_table import ScoreTable
from vinemark.core.grade.class_columns import Ints, Mask

FEWEST_OF_ITEM: Final = 5
FEWEST_OF_STUDENT: Final = 4
FEWEST_ROWS: Final = 12
FEWEST_RESTS: Final = 6
FOUR_SPREADS: Final = 29652
"""4 times 1.4826, of half of what is taken twice, in parts of ten thousand."""
LEAST_FIT: Final = 60
"""The least correlation of a displaced column, in hundredths."""
LEAST_GAIN: Final = 5
NEARLY: Final = LEAST_FIT * LEAST_FIT / 10_001
"""A little below the square of the least fit: what is below it is looked at no further."""
CELLS_AT_ONCE: Final = 8000
_PAST_ALL: Final = 2**60
_SOME_SPREAD: Final = 10**9
"""With less than a part of so many as variance there is nothing to correlate."""
Reals = NDArray[Any]


class Displacement(NamedTuple):
    """A column that fits the students `step` rows on better, from a row on: both by the place in the table."""

    row: int
    step: int
    gain: Any


class Fit:
    """Everything worked out once for a class, over the regular items of ordinary categories."""

    def __init__(self, table: ScoreTable) -> None:
        self.table = table
        self.places = table.regular
        self.unit = 4 * table.unit
        cells = table.cells[:, self.places]
        self.there: Mask = cells > 0
        self.f: Ints = 4 * cells
        self._find_levels()
        self._find_standings()
        expected = np.clip(self.level + self.standing, 0, self.unit)
        self.has_rest: Mask = self.valid & self.has_standing
        self.rest: Ints = self.f - expected

    def _find_levels(self) -> None:
        rising = np.sort(np.where(self.there, self.f, _PAST_ALL), axis=0)
        counts = self.there.sum(axis=0)
        self.has_level: Mask = counts >= FEWEST_OF_ITEM
        if len(rising):
            across = np.arange(rising.shape[1])
            middle = rising[np.maximum(counts - 1, 0) // 2, across] + rising[np.minimum(counts // 2, len(rising) - 1),
                                                                             across]  # fmt: skip
            self.level: Ints = np.where(self.has_level, middle // 2, 0)
        else:
            self.level = np.zeros(rising.shape[1], dtype=np.int64)
        self.valid: Mask = self.there & self.has_level

    def _find_standings(self) -> None:
        """The median of each row without the cell itself, read from the row in order: where the cell is not above the
        value in the middle, the next one is in the middle of the others."""
        rows, across = self.valid.shape
        counts = self.valid.sum(axis=1, keepdims=True)
        self.has_standing: Mask = counts - self.valid >= FEWEST_OF_STUDENT
        if not across:
            self.standing: Ints = np.zeros((rows, across), dtype=np.int64)
            return
        above = np.where(self.valid, self.f - self.level, _PAST_ALL)
        rising = np.sort(above, axis=1)

        def at(place: Ints) -> Ints:
            return np.take_along_axis(rising, np.clip(place, 0, across - 1), axis=1)

        whole = (at((counts - 1) // 2) + at(counts // 2)) // 2
        lower, upper = (counts - 2) // 2, (counts - 1) // 2
        without = np.where(above > at(lower), at(lower), at(lower + 1))
        without += np.where(above > at(upper), at(upper), at(upper + 1))
        self.standing = np.where(self.has_standing, np.where(self.valid, without // 2, whole), 0)

    @cached_property
    def displaced(self) -> Mapping[int, Displacement]:
        """The columns that fit better when displaced, by their place among the regular items."""
        found: dict[int, Displacement] = {}
        for rows, columns in self._alike():
            # In parts that stay in the processor's cache.
            some = max(1, CELLS_AT_ONCE // len(rows))
            for first in range(0, len(columns), some):
                for column, one in _displacements(self, rows, columns[first : first + some]):
                    if column not in found or one.gain > found[column].gain:
                        found[column] = one
        return found

    @cached_property
    def exchanged(self) -> Mapping[int, Sequence[tuple[int, int]]]:
        """Neighbours, each a quarter or more from what is expected on opposite sides, and a tenth at most with the
        other's score: by the place among the regular items, both rows."""
        found: dict[int, list[tuple[int, int]]] = {}
        bare = self.f - self.level
        off = bare - self.standing
        far_off = self.has_rest & (4 * np.abs(off) >= self.unit)
        for rows, columns in self._alike(1):
            both = far_off[np.ix_(rows, np.asarray(columns))]
            at, place = np.nonzero(both[:-1] & both[1:])
            column = np.asarray(columns)[place]
            one, other = (rows[at], column), (rows[at + 1], column)
            crossed = np.maximum(np.abs(bare[other] - self.standing[one]), np.abs(bare[one] - self.standing[other]))
            due = ((off[one] > 0) != (off[other] > 0)) & (10 * crossed <= self.unit)
            for n in np.flatnonzero(due):
                found.setdefault(int(column[n]), []).append((int(one[0][n]), int(other[0][n])))
        return found

    @cached_property
    def far(self) -> Sequence[tuple[int, int]]:
        """Rows and places of what is left over at least 4 times the spread of its item in size, and 45% or more.

        The spread is 1.4826 times the median of the sizes, which makes it agree with the standard deviation of a normal
        law (F. R. Hampel, JASA 69, 1974; from memory), and 3% at least; six sizes or more make one.
        """
        sizes = np.where(self.has_rest, np.abs(self.rest), _PAST_ALL)
        counts = self.has_rest.sum(axis=0)
        rising, across = np.sort(sizes, axis=0), np.arange(sizes.shape[1])
        if len(rising) < FEWEST_RESTS:
            return ()
        twice = (
            rising[np.maximum(counts - 1, 0) // 2, across] + rising[np.minimum(counts // 2, len(rising) - 1), across]
        )
        twice = np.where(counts >= FEWEST_RESTS, twice, 0)
        due = self.has_rest & (counts >= FEWEST_RESTS) & (100 * sizes >= 45 * self.unit)
        due &= 10_000 * np.where(due, sizes, 0) >= FOUR_SPREADS * twice
        return [(int(row), int(place)) for row, place in np.argwhere(due)]

    def _alike(self, more_than: int = FEWEST_ROWS) -> Iterator[tuple[Ints, Sequence[int]]]:
        """Columns with a level by the rows that have a standing for them."""
        groups: dict[bytes, list[int]] = {}
        for column in np.flatnonzero(self.has_level):
            groups.setdefault(self.has_standing[:, column].tobytes(), []).append(int(column))
        for columns in groups.values():
            rows = np.flatnonzero(self.has_standing[:, columns[0]])
            if len(rows) > more_than:
                yield rows, columns


def _displacements(fit: Fit, rows: Ints, columns: Sequence[int]) -> Iterator[tuple[int, Displacement]]:
    """For each column the row from which on it fits best a row on, where it fits well enough."""
    sums = _FromHereOn(fit, rows, columns)
    last = len(rows) - 1
    for step in (-1, 1):
        places, at, q, p, count = sums.correlations(step)
        with np.errstate(all="ignore"):
            due = (100 * q >= LEAST_FIT) & (q > p)
            gain = (np.arctanh(np.minimum(q, 1)) - np.arctanh(p)) * np.sqrt(np.maximum(count - 3, 0))
            due &= gain >= LEAST_GAIN
        for place in np.unique(places[due]):
            mine = due & (places == place)
            most = gain[mine].max()
            # Rows stand in reverse: of equal gains the first row of the class counts.
            row = int(at[mine][gain[mine] == most][-1])
            yield columns[int(place)], Displacement(int(rows[last - row]), step, most)


class _FromHereOn:
    """Sums from each row to the last, a column a line, the last row first."""

    def __init__(self, fit: Fit, rows: Ints, columns: Sequence[int]) -> None:
        grid = np.ix_(rows[::-1], np.asarray(columns))
        self.valid: Mask = np.ascontiguousarray(fit.valid[grid].T)
        self._f: Reals = np.where(self.valid, np.ascontiguousarray(fit.f[grid].T) / fit.unit, 0)
        self._own: Reals = np.ascontiguousarray(fit.standing[grid].T) / fit.unit
        own = np.where(self.valid, self._own, 0)
        self._sums = [np.cumsum(part, axis=1) for part in (
            self.valid, self._f, self._f * self._f, own, own * own, self._f * own,
        )]  # fmt: skip

    def correlations(self, step: int) -> tuple[Ints, Ints, Reals, Reals, Reals]:
        """Lines and rows where f may fit the standings `step` rows on, with the correlations from there on, with a
        student's own over the same rows, and how many they are."""
        other = np.zeros_like(self._own)
        there = self.valid.copy()
        if step > 0:
            other[:, 1:], there[:, 0] = self._own[:, :-1], False
        else:
            other[:, :-1], there[:, -1] = self._own[:, 1:], False
        other *= there
        count, f, f_f, own, own_own, f_own = self._sums
        if step > 0:
            # The last row has nobody a row on.
            count, f, f_f, own, own_own, f_own = (part - part[:, :1] for part in self._sums)
        o, o_o, f_o = (np.cumsum(part, axis=1) for part in (other, other * other, self._f * other))
        spread, mine, above = count * f_f - f * f, count * o_o - o * o, count * f_o - f * o
        perhaps = self.valid & (count >= FEWEST_ROWS) & (above > 0) & (above * above >= NEARLY * spread * mine)
        if step < 0:
            perhaps[:, -1] = False
        line, row = np.nonzero(perhaps)
        at = (line, row)
        count, spread, needed = count[at], spread[at], count[at] * count[at]
        own_mine = count * own_own[at] - own[at] * own[at]
        own_above = count * f_own[at] - f[at] * own[at]
        with np.errstate(all="ignore"):
            q, p = (
                np.where(_SOME_SPREAD * np.minimum(spread, each) > needed, over / np.sqrt(spread * each), 0)
                for each, over in ((mine[at], above[at]), (own_mine, own_above))
            )
        return line, row, q, p, count
