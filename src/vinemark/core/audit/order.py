"""Scores in the order of the class: columns in order of size, runs of one value, columns that go with nothing else, a
class in two parts, rows that fit an item on.

Columns and rows are places among the regular items of ordinary categories and among the enrolled students, as in the
fit. Correlations are compared as there (R. A. Fisher, Metron 1, 1921; from memory); the two parts of a class by the
difference of their means over its standard error (W. S. Gosset, Biometrika 6, 1908; from memory).
"""

from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, Final, NamedTuple

import numpy as np

from vinemark.core.audit.fit import Fit
from vinemark.core.audit.score_table import IS_BLANK
from vinemark.core.grade.class_columns import Ints, Mask

SORTED_NUMBERS, SORTED_VALUES, ONE_APART_FROM = 10, 8, 14
"""A column in order of size has so many numbers, so many different ones; from so many on one may be out of order."""
RUN_OF_NUMBERS, RUN_OF_WORDS, OTHER_RUN = 7, 5, 3
"""The least length of a run of a number, of a word, and the most of any other run."""
RARE: Final = 100_000
"""A run that chance makes once in so many columns."""
UNLIKE_ROWS, UNLIKE_COLUMNS = 15, 5
PART_ROWS, LEAST_PART = 16, 6
PART_ERRORS = 7
ROW_ITEMS = 6
SHARED_ROWS, SHARED_VALUES = 8, 5


class EqualRun(NamedTuple):
    """So many rows from one on with the same value, as the table has it."""

    row: int
    length: int
    value: int


class Parts(NamedTuple):
    """From a row on the scores lie so many parts of the fit's unit higher (or lower) than before."""

    row: int
    by: int


class Move(NamedTuple):
    """From a place in the plan on, a student's scores fit `step` items on."""

    place: int
    step: int


class ScoreOrder:
    """Everything that is found in the order of rows and columns, each worked out when it is asked for."""

    def __init__(self, fit: Fit) -> None:
        self.fit = fit
        self.cells: Ints = fit.table.cells[:, fit.places]

    @cached_property
    def in_order(self) -> frozenset[int]:
        """Columns whose scores rise or fall from row to row, while those of most other columns do not."""
        found = [place for place in range(self.cells.shape[1]) if _is_in_order(self.cells[:, place])]
        return frozenset(found) if 4 * len(found) <= self.cells.shape[1] else frozenset()

    @cached_property
    def runs(self) -> Mapping[int, EqualRun]:
        """Columns with one run of a value that chance hardly makes."""
        found = {place: _run(self.cells[:, place], self.fit.table.unit) for place in range(self.cells.shape[1])}
        return {place: run for place, run in found.items() if run is not None}

    @cached_property
    def unlike(self) -> frozenset[int]:
        """Columns that go with no student's other scores, while every other column does."""
        together = self._together()
        if together is None or len(together) < UNLIKE_COLUMNS:
            return frozenset()
        lowest = min(together, key=lambda place: together[place][0])
        others = sorted(value for place, (value, _) in together.items() if place != lowest)
        middle, (value, count) = others[len(others) // 2], together[lowest]
        if not (4 * value <= 1 and 10 * others[0] >= 4 and 10 * middle >= 6):
            return frozenset()
        gain = (np.arctanh(min(middle, 1)) - np.arctanh(value)) * np.sqrt(count - 3)
        return frozenset({lowest} if gain >= PART_ERRORS else ())

    def _together(self) -> Mapping[int, tuple[Any, int]] | None:
        """By column the correlation of the scores with the standings, and of how many."""
        fit, found = self.fit, {}
        for place in range(self.cells.shape[1]):
            rows = fit.has_rest[:, place]
            count = int(rows.sum())
            if count < UNLIKE_ROWS:
                continue
            own, other = (part[rows, place] / fit.unit for part in (fit.f, fit.standing))
            own, other = own - own.mean(), other - other.mean()
            spread = np.sqrt((own * own).sum() * (other * other).sum())
            if spread * 1000 < 1:
                return None
            found[place] = ((own * other).sum() / spread, count)
        return found

    @cached_property
    def parted(self) -> Mapping[int, Parts]:
        """Columns of which one part of the class, from a row on, is far from the other."""
        found = {place: self._parts(place) for place in range(self.cells.shape[1])}
        return {place: parts for place, parts in found.items() if parts is not None}

    def _parts(self, place: int) -> Parts | None:
        rows = np.flatnonzero(self.fit.has_rest[:, place])
        count = len(rows)
        if count < PART_ROWS:
            return None
        rest = self.fit.rest[rows, place] / self.fit.unit
        before = np.arange(LEAST_PART, count - LEAST_PART + 1)
        sums, squares = np.cumsum(rest), np.cumsum(rest * rest)
        first, second = sums[before - 1] / before, (sums[-1] - sums[before - 1]) / (count - before)
        left = squares[-1] - before * first * first - (count - before) * second * second
        error = np.sqrt(np.maximum(left, 0) / (count - 2) * count / (before * (count - before))) + 1 / (1000 * count)
        far = (np.abs(second - first) >= PART_ERRORS * error) & (100 * np.abs(second - first) >= 15)
        if not far.any():
            return None
        best = int(np.argmax(np.where(far, np.abs(second - first) / error, 0)))
        by = int((second[best] - first[best]) * self.fit.unit)
        return Parts(int(rows[before[best]]), by)

    @cached_property
    def same_rows(self) -> Sequence[tuple[int, int]]:
        """Each row that is another, an earlier one, but for one cell at most; and that one."""
        half = self.cells.shape[1] // 2
        firsts: dict[tuple[int, bytes], int] = {}
        found: list[tuple[int, int]] = []
        for row, cells in enumerate(self.cells):
            parts = [(0, cells[:half].tobytes()), (1, cells[half:].tobytes())]
            alike = {firsts[part] for part in parts if part in firsts}
            same = [first for first in sorted(alike) if int((self.cells[first] != cells).sum()) <= 1]
            found.extend((row, first) for first in same[:1])
            for part in parts:
                firsts.setdefault(part, row)
        return found

    def shared_runs(self, place: int) -> Iterator[tuple[int, EqualRun]]:
        """Earlier columns with a long run of rows in which both have the same, and what the runs are: five rows of one
        or more are unlike its commonest value."""
        now = self.cells[:, [place]]
        equal = (self.cells[:, :place] == now) & (now >= 0)
        for earlier in np.flatnonzero(equal.sum(axis=0) >= SHARED_ROWS):
            run = _longest(equal[:, earlier])
            values = self.cells[run.row : run.row + run.length, place]
            _, counts = np.unique(values, return_counts=True)
            both = int(((now[:, 0] >= 0) & (self.cells[:, earlier] >= 0)).sum())
            by_chance = _chance(int(equal[:, earlier].sum()) - run.length, both - run.length, run.length, len(now))
            if run.length >= SHARED_ROWS and run.length - int(counts.max()) >= SHARED_VALUES and not by_chance:
                yield int(earlier), run

    def commonest(self, place: int) -> tuple[int, int, int]:
        """The commonest number of a column, how many have it, and how many the next."""
        numbers = self.cells[:, place]
        values, counts = np.unique(numbers[numbers >= 0], return_counts=True)
        if not len(values):
            return 0, 0, 0
        rising = np.sort(counts)
        return int(values[counts.argmax()]), int(rising[-1]), int(rising[-2]) if len(rising) > 1 else 0

    @cached_property
    def moved_rows(self) -> Mapping[int, Move]:
        """Rows that fit far better when their scores, from an item on, are moved by one item."""
        fit = self.fit
        counts = fit.has_rest.sum(axis=1)
        off = np.where(fit.has_rest, np.abs(fit.rest), 0).sum(axis=1)
        due = np.flatnonzero((counts >= ROW_ITEMS) & (100 * off >= 12 * counts * fit.unit))
        found = {int(row): self._move(int(row)) for row in due}
        return {row: move for row, move in found.items() if move is not None}

    def _move(self, row: int) -> Move | None:
        points = [self.fit.table.columns[place].item.points for place in self.fit.places]
        numbers = [int(cell) * one if cell > 0 else None for cell, one in zip(self.cells[row], points, strict=True)]
        levels = [int(level) if has else None for level, has in zip(self.fit.level, self.fit.has_level, strict=True)]

        def misfit(moved: Sequence[Any]) -> Any:
            parts = [
                4 * number / one - level
                for number, one, level in zip(moved, points, levels, strict=True)
                if number is not None and level is not None
            ]
            middle = sorted(parts)[len(parts) // 2] if parts else 0
            return sum(abs(part - middle) for part in parts) / max(1, len(parts))

        now = misfit(numbers)
        tries = [(misfit(moved), place, step) for place, step, moved in _moves(numbers)]
        best, place, step = min(tries, default=(now, 0, 0))
        unit = self.fit.unit
        return Move(place, step) if 100 * now >= 15 * unit and 100 * best <= 8 * unit and 4 * best <= now else None


def _longest(there: Mask) -> EqualRun:
    """The longest run of rows in which something holds."""
    ends = np.flatnonzero(np.diff(np.concatenate(([False], there, [False])).astype(np.int8)))
    starts, lengths = ends[::2], ends[1::2] - ends[::2]
    best = int(lengths.argmax())
    return EqualRun(int(starts[best]), int(lengths[best]), 1)


def _moves(numbers: Sequence[Any]) -> list[tuple[int, int, Sequence[Any]]]:
    """A row with its scores from a place on one item later or earlier, where nothing is pushed out."""
    found: list[tuple[int, int, Sequence[Any]]] = []
    for place in range(len(numbers) - ROW_ITEMS + 1):
        if numbers[-1] is None:
            found.append((place, 1, [*numbers[:place], None, *numbers[place:-1]]))
        if numbers[place] is None:
            found.append((place, -1, [*numbers[:place], *numbers[place + 1 :], None]))
    return found


def _is_in_order(cells: Ints) -> bool:
    numbers = cells[cells >= 0]
    if len(numbers) < SORTED_NUMBERS:
        return False
    steps = np.diff(numbers)
    few = 2 if len(numbers) >= ONE_APART_FROM else 0
    if min(int((steps < 0).sum()), int((steps > 0).sum())) > few or len(np.unique(numbers)) < SORTED_VALUES:
        return False
    apart = 1 if len(numbers) >= ONE_APART_FROM else 0
    return any(len(numbers) - _longest_rising(one) <= apart for one in (numbers, -numbers))


def _longest_rising(numbers: Ints) -> int:
    """The length of the longest part that never falls, by the lowest end of each length."""
    ends: list[int] = []
    for number in map(int, numbers):
        at = bisect_right(ends, number)
        ends[at : at + 1] = [number]
    return len(ends)


def _run(cells: Ints, full: int) -> EqualRun | None:
    """The one long run of a column: full marks are none, and what is usual in the column is none."""
    changes = np.flatnonzero(np.diff(cells)) + 1
    if len(cells) - len(changes) < RUN_OF_WORDS:
        return None
    starts, ends = [0, *map(int, changes)], [*map(int, changes), len(cells)]
    runs = [EqualRun(start, end - start, int(cells[start])) for start, end in zip(starts, ends, strict=True)]
    runs = sorted((run for run in runs if run.value != IS_BLANK), key=lambda run: -run.length)
    if not runs or runs[0].length < (RUN_OF_NUMBERS if runs[0].value >= 0 else RUN_OF_WORDS):
        return None
    run, others = runs[0], sum(one.length for one in runs[1:])
    same = sum(one.length for one in runs[1:] if one.value == run.value)
    if run.value == full or any(one.length > OTHER_RUN for one in runs[1:]) or 2 * others < run.length:
        return None
    return None if _chance(same, others, run.length, len(cells)) else run


def _chance(same: int, others: int, length: int, rows: int) -> bool:
    """Whether chance makes such a run more than once in so many columns. The other rows say how usual it is: (same + 1)
    of (others + 2), after P. S. Laplace's rule of succession (Essai philosophique sur les probabilités, 1814)."""
    return bool(rows * (same + 1) ** (length - 1) * RARE >= (others + 2) ** (length - 1))
