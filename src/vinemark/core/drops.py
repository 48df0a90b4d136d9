"""Which items are dropped: the highest first, then the lowest, at least one regular item always staying.

Amounts are whole numbers in one unit of the category, so that every comparison is exact and quick.
"""

from collections.abc import Sequence
from typing import NamedTuple

from vinemark.core.plan import Category


class Play(NamedTuple):
    """A regular item in play: e and m in the category's unit, and a whole number that orders v / points."""

    place: int
    earned: int
    size: int
    ratio: int
    droppable: bool


class Dropped(NamedTuple):
    """Places of the items dropped as highest and as lowest."""

    highest: Sequence[int] = ()
    lowest: Sequence[int] = ()


NONE = Dropped()


def drops_anything(category: Category) -> bool:
    """Whether a category's rules can drop an item at all."""
    return not category.extra and bool(category.drop_highest or category.drop_lowest or category.keep_best is not None)


def dropped(category: Category, plays: Sequence[Play], extra_earned: int, equal_sizes: bool = False) -> Dropped:
    """The items dropped, by the category's rules.

    `extra_earned` is the e of its extra items together; `equal_sizes` says that every m is the same.
    """
    if not plays:
        return NONE
    free = [p for p in plays if p.droppable]
    top: list[Play] = []
    if category.drop_highest:
        h = min(category.drop_highest, len(free), len(plays) - 1)
        top = sorted(free, key=lambda p: (-p.ratio, p.place))[:h]
        gone = {p.place for p in top}
        free = [p for p in free if p.place not in gone]
        plays = [p for p in plays if p.place not in gone]
    wanted = category.drop_lowest if category.keep_best is None else len(plays) + len(top) - category.keep_best
    n = min(wanted, len(free), len(plays) - 1)
    if n <= 0:
        return Dropped([p.place for p in top])
    if category.drop_by == "lowest_percent":
        return Dropped([p.place for p in top], _smallest([(p.ratio, p.place) for p in free], n))
    if equal_sizes:
        return Dropped([p.place for p in top], _smallest([(p.earned, p.place) for p in free], n))
    return Dropped([p.place for p in top], _helps_most(plays, free, n, extra_earned))


def _smallest(keyed: list[tuple[int, int]], n: int) -> list[int]:
    """The places of the n smallest, ties going to the item that stands first."""
    keyed.sort()
    return [place for _, place in keyed[:n]]


def _helps_most(plays: Sequence[Play], free: Sequence[Play], n: int, extra_earned: int) -> list[int]:
    """The n of `free` whose removal leaves the largest (sum of e) / (sum of m).

    A parametric search over the ratio (W. Dinkelbach, "On nonlinear fractional programming",
    Management Science 13, 1967): with a trial ratio q = E / M the best n are those with the smallest
    e - q * m, that is e * M - E * m; their removal gives the next trial, until it stands still.
    Example: 80/100, 20/100, 1/20 with one dropped: 101/220, then 81/120 by dropping 20/100.
    """
    all_earned = sum(p.earned for p in plays) + extra_earned
    all_size = sum(p.size for p in plays)
    earned, size = all_earned, all_size
    while True:
        e, m = earned, size
        order = sorted([(p.earned * m - e * p.size, p.place, p) for p in free])
        chosen = [entry[2] for entry in order[:n]]
        earned = all_earned - sum([p.earned for p in chosen])
        size = all_size - sum([p.size for p in chosen])
        if earned * m == e * size:
            return [p.place for p in chosen]
