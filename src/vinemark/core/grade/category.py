"""One category made ready for many students: every amount a whole number in one unit of the category.

A score v is held as v * D, where D is a common denominator of all scores and points in sight. With F, a
common denominator of the split's factors, e * D * F and m * D * F are whole as well, and p is a ratio of two
whole numbers. This is what makes exact grades quick.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction
from math import lcm
from operator import mul
from typing import Literal, NamedTuple

from vinemark.core.base.number import rounded_quotient
from vinemark.core.course.cell import PlainCell
from vinemark.core.grade.drops import Dropped, InPlay, drop_rule, dropped
from vinemark.core.plan.amounts import blank_counts, factor, size_of
from vinemark.core.plan.plan import Category, Item, Split
from vinemark.core.plan.rules import RoundTo

BlanksAs = Literal["plan", "zero", "full"]
"""How blanks are read: by the plan's rules, all as 0, or all as full points."""

ItemKind = Literal["planned", "extra", "regular"]
EXEMPT = -1
NOTHING = Dropped()
Numbers = Mapping[str, int]
"""A student's scores as whole numbers of 1 / D by item id: EXEMPT for exempt, blanks absent."""


def numbers_of(cells: Mapping[str, PlainCell], denominator: int) -> dict[str, int]:
    """A student's cells as Numbers; `missing` is 0, whatever item it stands in."""
    return {
        item: (EXEMPT if cell == "exempt" else 0)
        if isinstance(cell, str)
        else cell.numerator * (denominator // cell.denominator)
        for item, cell in cells.items()
        if cell is not None
    }


class Replaced(NamedTuple):
    """A regular item (by its place) that a better score replaces: s is `value` / `full`, of the item `source`."""

    place: int
    value: int
    full: int
    source: str


class CategorySums(NamedTuple):
    """Sums over what is kept, in the category's unit: `earned` with extra items, `size` without."""

    earned: int
    size: int
    drops: Dropped
    has_blank: bool
    replaced: tuple[Replaced, ...] = ()


class CategoryWork:
    """A category under one split on one day; `denominator` is D, `unit` is D * F."""

    def __init__(
        self, category: Category, split: Split, as_of: date, denominator: int, round_to: RoundTo | None = None
    ) -> None:
        self.category = category
        self.split = split
        self.as_of = as_of
        self.denominator = denominator
        regular = category.regular
        extra = [] if category.extra else [i for i in category.counting if i.extra]
        common = lcm(*(f(i, split).denominator for f in (factor, size_of) for i in (*regular, *extra)))
        self.unit = common * denominator
        self.ids = [i.id for i in regular]
        self.factors = [int(factor(i, split) * common) for i in regular]
        self.sizes = [int(size_of(i, split) * self.unit) for i in regular]
        self.full = [int(i.points * denominator) for i in regular]
        self.blank_counts = [blank_counts(category, i, as_of) for i in regular]
        self.indices = {item: index for index, item in enumerate(self.ids)}
        self.blanks = dict(zip(self.ids, self.blank_counts, strict=True))
        self.free = [index for index, i in enumerate(regular) if i.droppable]
        self.extra = [(i.id, int(factor(i, split) * common), int(i.points * denominator)) for i in extra]
        self._all_size = sum(self.sizes)
        self.widened = 1
        self.round_to = round_to
        self.marks = [self._mark(item) for item in category.items]
        self.rule = drop_rule(category, len(set(self.sizes)) <= 1)

    @property
    def whole(self) -> int:
        """What the sums of a category are divided by: its unit, widened for what may be replaced in it."""
        return self.unit * self.widened

    def ratio(self, earned: int, size: int) -> tuple[int, int]:
        """p as a numerator and a denominator, the ceiling applied, then rounded; only where `size` is not 0."""
        part, of = self.unrounded(earned, size)
        return (part, of) if self.round_to is None else rounded_ratio(part, of, self.round_to)

    def unrounded(self, earned: int, size: int) -> tuple[int, int]:
        """The same before the category's own rounding."""
        cap = self.category.cap
        if cap is not None and earned * 100 * cap.denominator > cap.numerator * size:
            return cap.numerator, 100 * cap.denominator
        return earned, size

    def values(self, numbers: Numbers, blanks: BlanksAs) -> list[int | None]:
        """The regular items' values: EXEMPT, None where a blank does not count."""
        found = [numbers.get(item) for item in self.ids]
        return self._filled(found, blanks) if None in found else found

    def value_at(self, index: int, numbers: Numbers, blanks: BlanksAs) -> int | None:
        """The value of one regular item."""
        found = numbers.get(self.ids[index])
        if found is not None:
            return found
        if blanks == "full":
            return self.full[index]
        return 0 if blanks == "zero" or self.blank_counts[index] else None

    def _mark(self, item: Item) -> tuple[Item, ItemKind, int, bool]:
        """An item, what it counts as, its place among the regular ones, and whether a blank of it counts."""
        if not item.counts:
            return item, "planned", -1, False
        if item.extra and not self.category.extra:
            return item, "extra", -1, False
        return item, "regular", self.indices[item.id], self.blanks[item.id]

    def outcome(self, numbers: Numbers, blanks: BlanksAs = "plan") -> CategorySums:
        """What a student's numbers come to, drops made and the ceiling not yet applied."""
        extra, has_blank = self._extra_earned(numbers, blanks) if self.extra else (0, False)
        values: list[int | None] = [numbers.get(item) for item in self.ids]
        if None in values:
            has_blank = True
            values = self._filled(values, blanks)
        if None in values or EXEMPT in values:
            return self._partly(values, extra, has_blank)
        earned = list(map(mul, values, self.factors))
        if self.rule is None:
            return CategorySums(sum(earned) + extra, self._all_size, NOTHING, has_blank)
        play = InPlay(earned, self.sizes, self.free, lambda: self._ratios(values, range(len(values))))
        return self._kept(play, range(len(values)), extra, has_blank)

    def _partly(self, values: Sequence[int | None], extra: int, has_blank: bool) -> CategorySums:
        """The same where some items are not in play."""
        indices = [index for index, value in enumerate(values) if value is not None and value != EXEMPT]
        earned = [values[index] * self.factors[index] for index in indices]  # type: ignore[operator]
        sizes = [self.sizes[index] for index in indices]
        if self.rule is None:
            return CategorySums(sum(earned) + extra, sum(sizes), NOTHING, has_blank)
        droppable = set(self.free)
        free = [n for n, index in enumerate(indices) if index in droppable]
        play = InPlay(earned, sizes, free, lambda: self._ratios(values, indices))
        return self._kept(play, indices, extra, has_blank)

    def _kept(self, play: InPlay, indices: Sequence[int], extra: int, has_blank: bool) -> CategorySums:
        assert self.rule is not None  # noqa: S101
        drops = dropped(self.rule, play, extra)
        gone = [*drops.highest, *drops.lowest]
        earned = sum(play.earned) - sum([play.earned[n] for n in gone]) + extra
        size = sum(play.sizes) - sum([play.sizes[n] for n in gone])
        return CategorySums(
            earned, size, Dropped([indices[n] for n in drops.highest], [indices[n] for n in drops.lowest]), has_blank
        )

    def _filled(self, values: Sequence[int | None], blanks: BlanksAs) -> list[int | None]:
        """Blanks as they count: by the plan's rule 0 or not in play (None), as 0, or as full points."""
        if blanks == "zero":
            return [0 if value is None else value for value in values]
        if blanks == "full":
            return [full if value is None else value for value, full in zip(values, self.full, strict=True)]
        return [
            0 if value is None and counts else value for value, counts in zip(values, self.blank_counts, strict=True)
        ]

    def _ratios(self, values: Sequence[int | None], indices: Sequence[int]) -> list[int]:
        """What orders items by v / points: v times the other points' common multiple over its own."""
        common = lcm(*self.full)
        return [(values[index] or 0) * (common // self.full[index]) for index in indices]

    def _extra_earned(self, numbers: Numbers, blanks: BlanksAs) -> tuple[int, bool]:
        """The e of extra items: only numbers count, and blanks in full where all blanks are full."""
        earned, has_blank = 0, False
        for item, times, full in self.extra:
            value = numbers.get(item)
            if value is None:
                has_blank = True
                earned += full * times if blanks == "full" else 0
            elif value != EXEMPT:
                earned += value * times
        return earned, has_blank


def rounded_ratio(part: int, of: int, to: RoundTo) -> tuple[int, int]:
    """A percentage of a category, part / of as 1 = 100 percent, rounded to decimals of a percent."""
    scale = 10**to.decimals
    return rounded_quotient(100 * part * scale, of, to.way), 100 * scale


def common_denominator(items: Sequence[Item], rows: Sequence[Mapping[str, PlainCell]]) -> int:
    """D: every score of the rows and every item's points is a whole number of 1 / D."""
    found = {item.points.denominator for item in items}
    for row in rows:
        found.update([cell.denominator for cell in row.values() if isinstance(cell, Fraction)])
    return lcm(*found)
