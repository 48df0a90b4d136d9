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
LEAST_FIT: Final = 60
"""The least correlation of a displaced column, in hundredths."""
LEAST_GAIN: Final = 5
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
        """The median of each row without the cell itself, read from the row in order."""
        rows, across = self.valid.shape
        above = np.where(self.valid, self.f - self.level, _PAST_ALL)
        order = np.argsort(above, axis=1, kind="stable")
        rising, place = np.take_along_axis(above, order, axis=1), np.empty_like(order)
        np.put_along_axis(place, order, np.arange(across)[None, :].repeat(rows, axis=0), axis=1)
        others = self.valid.sum(axis=1, keepdims=True) - self.valid
        self.has_standing: Mask = others >= FEWEST_OF_STUDENT
        if not across:
            self.standing: Ints = np.zeros((rows, across), dtype=np.int64)
            return
        middle = np.zeros((rows, across), dtype=np.int64)
        for half in (np.maximum(others - 1, 0) // 2, others // 2):
            at = np.minimum(half + (self.valid & (half >= place)), across - 1)
            middle += np.where(self.has_standing, np.take_along_axis(rising, at, axis=1), 0)
        self.standing = middle // 2

    @cached_property
    def displaced(self) -> Mapping[int, Displacement]:
        """The columns that fit better when displaced, by their place among the regular items."""
        found: dict[int, Displacement] = {}
        for rows, columns in self._alike():
            for step in (-1, 1):
                for column, one in _displacements(self, rows, columns, step):
                    if column not in found or one.gain > found[column].gain:
                        found[column] = one
        return found

    def rows_of(self, column: int) -> list[int]:
        """The rows of students with a standing for an item."""
        return [int(row) for row in np.flatnonzero(self.has_standing[:, column])]

    def _alike(self) -> Iterator[tuple[Ints, Sequence[int]]]:
        """Columns with a level by the rows that have a standing for them."""
        groups: dict[bytes, list[int]] = {}
        for column in np.flatnonzero(self.has_level):
            groups.setdefault(self.has_standing[:, column].tobytes(), []).append(int(column))
        for columns in groups.values():
            rows = np.flatnonzero(self.has_standing[:, columns[0]])
            if len(rows) > FEWEST_ROWS:
                yield rows, columns


def _displacements(fit: Fit, rows: Ints, columns: Sequence[int], step: int) -> Iterator[tuple[int, Displacement]]:
    """For each column the row from which on it fits best a row on, where it fits well enough."""
    grid = np.ix_(rows, np.asarray(columns))
    f, own, valid = fit.f[grid] / fit.unit, fit.standing[grid] / fit.unit, fit.valid[grid].copy()
    other = np.roll(own, -step, axis=0)
    valid[-1 if step > 0 else 0] = False
    sums = _Suffixes(f, own, other, valid)
    with np.errstate(all="ignore"):
        q, p = sums.correlation("other"), sums.correlation("own")
        gain = (np.arctanh(np.minimum(q, 1)) - np.arctanh(p)) * np.sqrt(np.maximum(sums.count - 3, 0))
        due = (sums.count >= FEWEST_ROWS) & (100 * q >= LEAST_FIT) & (gain >= LEAST_GAIN) & valid
    for place in np.flatnonzero(due.any(axis=0)):
        row = int(np.argmax(np.where(due[:, place], gain[:, place], -1)))
        yield columns[int(place)], Displacement(int(rows[row]), step, gain[row, place])


class _Suffixes:
    """Sums from each row to the last."""

    def __init__(self, f: Reals, own: Reals, other: Reals, valid: Mask) -> None:
        self.count = _from_here_on(valid)
        parts = {"f": f * valid, "own": own * valid, "other": other * valid}
        self._sums = {name: _from_here_on(part) for name, part in parts.items()}
        self._squares = {name: _from_here_on(part * part) for name, part in parts.items()}
        self._products = {name: _from_here_on(parts["f"] * parts[name]) for name in ("own", "other")}

    def correlation(self, name: str) -> Reals:
        """Of f with the standings of a kind."""
        above = self.count * self._products[name] - self._sums["f"] * self._sums[name]
        spread = [self.count * self._squares[one] - self._sums[one] ** 2 for one in ("f", name)]
        some = (_SOME_SPREAD * spread[0] > self.count**2) & (_SOME_SPREAD * spread[1] > self.count**2)
        found: Reals = np.where(some, above / np.sqrt(spread[0] * spread[1]), 0)
        return found


def _from_here_on(part: Any) -> Reals:
    found: Reals = np.cumsum(part[::-1], axis=0)[::-1]
    return found
