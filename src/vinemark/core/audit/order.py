"""Scores in the order of the class: columns in order of size, runs of one value, columns that go with nothing else, a
class in two parts, rows that fit an item on.

Columns and rows are places among the regular items of ordinary categories and among the enrolled students, as in the
fit. Correlations are compared as there (R. A. Fisher, Metron 1, 1921; from memory); the two parts of a class by the
difference of their means over its standard error (W. S. Gosset, Biometrika 6, 1908; from memory).
"""

from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property, lru_cache
from math import lcm
from typing import Final, NamedTuple

import numpy as np

from vinemark.core.audit.fit import Fit, Reals
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
ROW_ITEMS, ROWS_MOVED = 6, 3
FIRST_ROWS: Final = 40
SHARED_ROWS, SHARED_VALUES, BLOCK = 8, 5, 4
MIXED: Final = (0x9E3779B97F4A7C15 - 2**64, 0x2545F4914F6CDD1D, 0x369DEA0F31A53F85, 0x27BB2EE687B0B0FD)
"""Odd factors that make four scores in a row one number."""


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
        self.cells: Ints = np.ascontiguousarray(fit.table.cells[:, fit.places])

    @cached_property
    def in_order(self) -> frozenset[int]:
        """Columns whose scores rise or fall from row to row, while those of most other columns do not."""
        if len(self.cells) < SORTED_NUMBERS:
            return frozenset()
        # What goes up and down three times among the first rows does so in all of them.
        perhaps = np.flatnonzero(_against_order(self.cells[:FIRST_ROWS]) <= 2)
        perhaps = perhaps[_against_order(self.cells[:, perhaps]) <= 2]
        found = [int(place) for place in perhaps if _is_in_order(self.cells[:, place])]
        return frozenset(found) if 4 * len(found) <= self.cells.shape[1] else frozenset()

    @cached_property
    def runs(self) -> Mapping[int, EqualRun]:
        """Columns with one run of a value that chance hardly makes."""
        same = (self.cells[1:] == self.cells[:-1]) & (self.cells[1:] != IS_BLANK)
        inside = len(same) - RUN_OF_WORDS + 2
        if inside <= 0:
            return {}
        long = np.logical_and.reduce([same[n : n + inside] for n in range(RUN_OF_WORDS - 1)]).any(axis=0)
        found = {int(place): _run(self.cells[:, place], self.fit.table.unit) for place in np.flatnonzero(long)}
        return {place: run for place, run in found.items() if run is not None}

    @cached_property
    def unlike(self) -> frozenset[int]:
        """Columns that go with no student's other scores, while every other column does."""
        places = np.flatnonzero(self.fit.has_rest.sum(axis=0) >= UNLIKE_ROWS)
        if len(places) < UNLIKE_COLUMNS:
            return frozenset()
        together, counts, tells = self._together(places)
        order = np.argsort(together, kind="stable")
        lowest, second, middle = (int(order[n]) for n in (0, 1, 1 + (len(places) - 1) // 2))
        value, usual = together[lowest], together[middle]
        if not tells or 4 * value > 1 or 10 * together[second] < 4 or 10 * usual < 6:
            return frozenset()
        gain = (np.arctanh(np.minimum(usual, 1)) - np.arctanh(value)) * np.sqrt(counts[lowest] - 3)
        return frozenset({int(places[lowest])} if gain >= PART_ERRORS else ())

    def _together(self, places: Ints) -> tuple[Reals, Ints, bool]:
        """By column the correlation of the scores with the standings, of how many, and whether all of them vary."""
        there = self.fit.has_rest[:, places]
        counts = there.sum(axis=0)
        own, other = (np.where(there, part[:, places], 0) / self.fit.unit for part in (self.fit.f, self.fit.standing))
        own = np.where(there, own - own.sum(axis=0) / counts, 0)
        other = np.where(there, other - other.sum(axis=0) / counts, 0)
        spread = np.sqrt((own * own).sum(axis=0) * (other * other).sum(axis=0))
        tells = bool((spread * 1000 >= 1).all())
        return (own * other).sum(axis=0) / np.where(spread > 0, spread, 1), counts, tells

    @cached_property
    def parted(self) -> Mapping[int, Parts]:
        """Columns of which one part of the class, from a row on, is far from the other."""
        there = self.fit.has_rest
        counts = there.sum(axis=0)
        if not len(there) or int(counts.max(initial=0)) < PART_ROWS:
            return {}
        rest = np.where(there, self.fit.rest, 0) / self.fit.unit
        # A part far from the other shows in some quarter of the class already.
        quarters = np.linspace(0, len(rest), 5).astype(np.int64)[:-1]
        of_quarter = np.maximum(np.add.reduceat(there, quarters, axis=0), 1)
        means = np.add.reduceat(rest, quarters, axis=0) / of_quarter
        apart = 100 * (means.max(axis=0) - means.min(axis=0)) >= 7
        found = {int(n): self._parts(int(n)) for n in np.flatnonzero(apart & (counts >= PART_ROWS))}
        return {place: parts for place, parts in found.items() if parts is not None}

    def _parts(self, place: int) -> Parts | None:
        rows = np.flatnonzero(self.fit.has_rest[:, place])
        count = len(rows)
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
        if not self._may_have_same_rows():
            return []
        texts, width = self.cells.tobytes(), self.cells.shape[1] * self.cells.itemsize
        half = self.cells.shape[1] // 2 * self.cells.itemsize
        firsts: dict[tuple[int, bytes], int] = {}
        found: list[tuple[int, int]] = []
        for row in range(len(self.cells)):
            at = row * width
            parts = ((0, texts[at : at + half]), (1, texts[at + half : at + width]))
            alike = {firsts[part] for part in parts if part in firsts}
            same = [first for first in sorted(alike) if int((self.cells[first] != self.cells[row]).sum()) <= 1]
            found.extend((row, first) for first in same[:1])
            for part in parts:
                firsts.setdefault(part, row)
        return found

    def _may_have_same_rows(self) -> bool:
        """Whether any two rows have the same first or the same second half, told by one number for each."""
        with np.errstate(over="ignore"):
            mixed = self.cells * _mixers(self.cells.shape[1])
        half = self.cells.shape[1] // 2
        parts = (mixed[:, :half].sum(axis=1), mixed[:, half:].sum(axis=1))
        return any(len(np.unique(part)) < len(part) for part in parts)

    @cached_property
    def shared(self) -> Mapping[int, tuple[int, EqualRun]]:
        """Columns that have the same as an earlier one over a long run of rows, hardly by chance; and that column.

        Five rows or more of the run are unlike its commonest value. It is looked for where four rows from every fourth
        on are the same.
        """
        found: dict[int, tuple[int, EqualRun]] = {}
        for earlier, place in sorted(self._perhaps_shared()):
            run = self._shared_run(earlier, place) if place not in found else None
            if run is not None:
                found[place] = earlier, run
        return found

    def _perhaps_shared(self) -> set[tuple[int, int]]:
        many, width = len(self.cells) // BLOCK, self.cells.shape[1]
        blocks = self.cells[: many * BLOCK].reshape(many, BLOCK, width)
        known = (blocks >= 0).all(axis=1) & (blocks != blocks[:, :1]).any(axis=1)
        with np.errstate(over="ignore"):
            mixed = sum(blocks[:, n] * np.int64(factor) for n, factor in enumerate(MIXED))
        keys = np.where(known, mixed, -1 - np.arange(width)[None, :])
        order = np.argsort(keys, axis=1, kind="stable")
        rising = np.take_along_axis(keys, order, axis=1)
        pairs = np.argwhere(rising[:, 1:] == rising[:, :-1])
        return {(int(order[row, at]), int(order[row, at + 1])) for row, at in pairs}

    def _shared_run(self, earlier: int, place: int) -> EqualRun | None:
        now, before = self.cells[:, place], self.cells[:, earlier]
        equal, both = (now == before) & (now >= 0), (now >= 0) & (before >= 0)
        run = _longest(equal) if equal.any() else EqualRun(0, 0, 0)
        if run.length < SHARED_ROWS:
            return None
        _, counts = np.unique(now[run.row : run.row + run.length], return_counts=True)
        by_chance = _chance(int(equal.sum()) - run.length, int(both.sum()) - run.length, run.length, len(now))
        return run if run.length - int(counts.max()) >= SHARED_VALUES and not by_chance else None

    def often(self, least: int) -> Iterator[tuple[int, int, int, int]]:
        """Columns in which so many have one number above 0, the number, how many have it, and how many the next."""
        rising = np.sort(self.cells, axis=0)
        if len(rising) < least:
            return
        many = ((rising[least - 1 :] == rising[: len(rising) - least + 1]) & (rising[least - 1 :] > 0)).any(axis=0)
        for place in np.flatnonzero(many):
            values, counts = np.unique(rising[rising[:, place] >= 0, place], return_counts=True)
            most = np.sort(counts)
            following = int(most[-2]) if len(most) > 1 else 0
            yield int(place), int(values[counts.argmax()]), int(most[-1]), following

    @cached_property
    def moved_rows(self) -> Mapping[int, Move]:
        """Rows that fit far better when their scores, from an item on, are moved by one item.

        Where more rows than a few are far off, the class is, and no hand slipped."""
        fit = self.fit
        counts = fit.has_rest.sum(axis=1)
        off = np.where(fit.has_rest, np.abs(fit.rest), 0).sum(axis=1)
        due = np.flatnonzero((counts >= ROW_ITEMS) & (100 * off >= 12 * counts * fit.unit))
        if len(due) > max(ROWS_MOVED, len(self.cells) // 20):
            return {}
        found = {int(row): self._move(int(row)) for row in due}
        return {row: move for row, move in found.items() if move is not None}

    def _move(self, row: int) -> Move | None:
        points = self._points
        numbers = [4 * int(cell) * one if cell > 0 else None for cell, one in zip(self.cells[row], points, strict=True)]
        levels = [int(level) if has else None for level, has in zip(self.fit.level, self.fit.has_level, strict=True)]

        def misfit(moved: Sequence[int | None]) -> int:
            parts = [
                number // one - level
                for number, one, level in zip(moved, points, levels, strict=True)
                if number is not None and level is not None
            ]
            middle = sorted(parts)[len(parts) // 2] if parts else 0
            return sum(abs(part - middle) for part in parts) // max(1, len(parts))

        now, unit = misfit(numbers), self.fit.unit
        tries = [(misfit(moved), place, step) for place, step, moved in _moves(numbers)]
        best, place, step = min(tries, default=(now, 0, 0))
        return Move(place, step) if 100 * now >= 15 * unit and 100 * best <= 8 * unit and 4 * best <= now else None

    @cached_property
    def _points(self) -> Sequence[int]:
        """The points of the items as whole numbers of one unit."""
        points = [self.fit.table.columns[place].item.points for place in self.fit.places]
        unit = lcm(*(one.denominator for one in points))
        return [int(one * unit) for one in points]


@lru_cache(maxsize=64)
def _mixers(count: int) -> Ints:
    """As many odd factors."""
    return np.asarray([pow(MIXED[0], 2 * n + 1, 2**63) - 2**62 | 1 for n in range(count)], dtype=np.int64)


def _longest(there: Mask) -> EqualRun:
    """The longest run of rows in which something holds."""
    ends = np.flatnonzero(np.diff(np.concatenate(([False], there, [False])).astype(np.int8)))
    starts, lengths = ends[::2], ends[1::2] - ends[::2]
    best = int(lengths.argmax())
    return EqualRun(int(starts[best]), int(lengths[best]), 1)


def _moves(numbers: Sequence[int | None]) -> list[tuple[int, int, Sequence[int | None]]]:
    """A row with its scores from a place on one item later or earlier, where nothing is pushed out."""
    found: list[tuple[int, int, Sequence[int | None]]] = []
    for place in range(len(numbers) - ROW_ITEMS + 1):
        if numbers[-1] is None:
            found.append((place, 1, [*numbers[:place], None, *numbers[place:-1]]))
        if numbers[place] is None:
            found.append((place, -1, [*numbers[:place], *numbers[place + 1 :], None]))
    return found


def _against_order(cells: Ints) -> Ints:
    """For each column how often it goes the way that it goes less often, from number to number."""
    rows = np.arange(len(cells))[:, None]
    last = np.maximum.accumulate(np.where(cells >= 0, rows, -1), axis=0)
    filled = np.take_along_axis(cells, np.maximum(last, 0), axis=0)
    steps = np.where(last[:-1] >= 0, np.diff(filled, axis=0), 0)
    found: Ints = np.minimum((steps < 0).sum(axis=0), (steps > 0).sum(axis=0))
    return found


def _is_in_order(cells: Ints) -> bool:
    numbers = cells[cells >= 0]
    if len(numbers) < SORTED_NUMBERS or len(np.unique(numbers)) < SORTED_VALUES:
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
