"""Which items are dropped: the highest first, then the lowest, at least one regular item always staying.

Amounts are whole numbers in one unit of the category, so that every comparison is exact and quick. Items are
given as parallel lists in plan order; what is dropped comes back as places in these lists. Sorting is stable,
which sends ties to the item that stands first in the plan.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from vinemark.core.plan.plan import Category


class DropRule(NamedTuple):
    """A category's drop rules; `equal_sizes` says that every m of the category is the same."""

    highest: int
    lowest: int
    keep_best: int | None
    by_percent: bool
    equal_sizes: bool


class Dropped(NamedTuple):
    """Places of the items dropped as highest and as lowest."""

    highest: Sequence[int] = ()
    lowest: Sequence[int] = ()


def drop_rule(category: Category, equal_sizes: bool) -> DropRule | None:
    """The category's drop rules; None where nothing can be dropped."""
    drops = category.drop_highest or category.drop_lowest or category.keep_best is not None
    if category.extra or not drops:
        return None
    by_percent = category.drop_by == "lowest_percent"
    return DropRule(category.drop_highest, category.drop_lowest, category.keep_best, by_percent, equal_sizes)


class InPlay(NamedTuple):
    """The regular items in play: e, m, which may be dropped, and what orders them by v / points when asked."""

    earned: Sequence[int]
    sizes: Sequence[int]
    free: Sequence[int]
    ratios: Callable[[], Sequence[int]]


def dropped(rule: DropRule, play: InPlay, extra_earned: int) -> Dropped:
    """The items dropped; `extra_earned` is the e of the category's extra items together."""
    count, free, top = len(play.earned), play.free, ()  # type: tuple[int, Sequence[int], Sequence[int]]
    if not count:
        return Dropped()
    if rule.highest:
        ratios = play.ratios()
        top = sorted(free, key=lambda index: -ratios[index])[: min(rule.highest, len(free), count - 1)]
        free = [index for index in free if index not in top]
    wanted = rule.lowest if rule.keep_best is None else count - rule.keep_best
    n = min(wanted, len(free), count - 1 - len(top))
    if n <= 0:
        return Dropped(top)
    if rule.by_percent:
        return Dropped(top, sorted(free, key=play.ratios().__getitem__)[:n])
    if rule.equal_sizes:
        return Dropped(top, sorted(free, key=play.earned.__getitem__)[:n])
    return Dropped(top, _helps_most(play, free, top, n, extra_earned))


def _helps_most(play: InPlay, free: Sequence[int], top: Sequence[int], n: int, extra_earned: int) -> Sequence[int]:
    """The n of `free` whose removal leaves the largest (sum of e) / (sum of m).

    A parametric search over the ratio (W. Dinkelbach, "On nonlinear fractional programming",
    Management Science 13, 1967): with a trial ratio q = E / M the best n are those with the smallest
    e - q * m, that is e * M - E * m; their removal gives the next trial, until it stands still.
    Example: 80/100, 20/100, 1/20 with one dropped: 101/220, then 81/120 by dropping 20/100.
    """
    e, m = play.earned, play.sizes
    all_earned = sum(e) - sum([e[index] for index in top]) + extra_earned
    all_size = sum(m) - sum([m[index] for index in top])
    earned, size = all_earned, all_size
    while True:
        q, over = earned, size
        worth = {index: e[index] * over - q * m[index] for index in free}
        chosen = sorted(free, key=worth.__getitem__)[:n]
        earned = all_earned - sum([e[index] for index in chosen])
        size = all_size - sum([m[index] for index in chosen])
        if earned * over == q * size:
            return chosen
