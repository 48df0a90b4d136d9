"""One category made ready for many students: every amount a whole number in one unit of the category.

A score v is held as v * D, where D is a common denominator of all scores and points in sight. With F, a
common denominator of the split's factors, e * D * F and m * D * F are whole as well, and p is a ratio of two
whole numbers. This is what makes exact grades as quick as floating-point ones.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction
from math import lcm
from typing import Literal, NamedTuple

from vinemark.core.course import Cell
from vinemark.core.drops import NONE, Dropped, Play, dropped, drops_anything
from vinemark.core.plan import Category, Item, Split

BlanksAs = Literal["plan", "zero", "full"]
"""How blanks are read: by the plan's rules, all as 0, or all as full points."""


class Part(NamedTuple):
    """An item made ready: what a scaled score is multiplied with, its size, and what a blank does."""

    place: int
    id: str
    factor: int
    size: int
    order: int
    droppable: bool
    blank_counts: bool
    full: int


class Outcome(NamedTuple):
    """Sums over what is kept, in the category's unit: `earned` with extra items, `size` without."""

    earned: int
    size: int
    drops: Dropped
    has_blank: bool

    def ratio(self, category: Category) -> tuple[int, int]:
        """p as a numerator and a denominator, the ceiling applied; only where `size` is not 0."""
        ceiling = category.ceiling
        if ceiling is not None and self.earned * 100 * ceiling.denominator > ceiling.numerator * self.size:
            return ceiling.numerator, 100 * ceiling.denominator
        return self.earned, self.size


class CategoryWork:
    """A category under one split on one day; `denominator` is D."""

    def __init__(self, category: Category, split: Split, as_of: date, denominator: int) -> None:
        self.category = category
        self.split = split
        self.denominator = denominator
        unit = lcm(
            *(_factor(i, split).denominator for i in category.items),
            *(_size(i, split).denominator for i in category.items),
        )
        self.unit = unit * denominator
        self.drops = drops_anything(category)
        orders = lcm(*(int(i.points * denominator) for i in category.items))
        parts = [self._part(place, item, unit, orders, as_of) for place, item in enumerate(category.items)]
        counting = [p for p in parts if category.items[p.place].counts]
        self.regular = [p for p in counting if category.extra or not category.items[p.place].extra]
        self.equal_sizes = len({p.size for p in self.regular}) <= 1
        self.extra = [] if category.extra else [p for p in counting if category.items[p.place].extra]

    def _part(self, place: int, item: Item, unit: int, orders: int, as_of: date) -> Part:
        points = int(item.points * self.denominator)
        return Part(
            place,
            item.id,
            int(_factor(item, self.split) * unit),
            int(_size(item, self.split) * unit * self.denominator),
            orders // points,
            item.droppable,
            _blank_counts(self.category, item, as_of),
            points,
        )

    def outcome(self, cells: Mapping[str, Cell], blanks: BlanksAs = "plan") -> Outcome:
        """What a student's cells come to, drops made and the ceiling not yet applied."""
        plays, has_blank = self._plays(cells, blanks)
        extra, blank_extra = self._extra(cells, blanks)
        drops = dropped(self.category, plays, extra, self.equal_sizes) if self.drops else NONE
        earned, size = extra, 0
        gone = {*drops.highest, *drops.lowest} if self.drops else ()
        for play in plays:
            if play[0] not in gone:
                earned += play[1]
                size += play[2]
        return Outcome(earned, size, drops, has_blank or blank_extra)

    def _plays(self, cells: Mapping[str, Cell], blanks: BlanksAs) -> tuple[list[Play], bool]:
        plays, has_blank = [], False
        denominator = self.denominator
        for place, item_id, factor, size, order, droppable, blank_counts, full in self.regular:
            cell = cells.get(item_id)
            if cell is None:
                has_blank = True
                if blanks == "plan" and not blank_counts:
                    continue
                value = full if blanks == "full" else 0
            elif isinstance(cell, str):
                if cell == "exempt":
                    continue
                value = 0
            else:
                value = cell.numerator * (denominator // cell.denominator)
            plays.append(Play(place, value * factor, size, value * order, droppable))
        return plays, has_blank

    def _extra(self, cells: Mapping[str, Cell], blanks: BlanksAs) -> tuple[int, bool]:
        """The e of extra items: only numbers count, and blanks in full where all blanks are full."""
        earned, has_blank = 0, False
        for part in self.extra:
            cell = cells.get(part.id)
            if cell is None:
                has_blank = True
                earned += part.full * part.factor if blanks == "full" else 0
            elif isinstance(cell, Fraction):
                earned += cell.numerator * (self.denominator // cell.denominator) * part.factor
        return earned, has_blank


def _factor(item: Item, split: Split) -> Fraction:
    """e / v."""
    if split == "by_points":
        return Fraction(1)
    return (Fraction(1) if split == "even" else share_of(item)) / item.points


def _size(item: Item, split: Split) -> Fraction:
    """m."""
    if split == "by_points":
        return item.points
    return Fraction(1) if split == "even" else share_of(item)


def share_of(item: Item) -> Fraction:
    """An item's own share, which a plan with own shares always has."""
    if item.share is None:
        raise ValueError(f"item {item.id} has no share under own shares")
    return item.share


def _blank_counts(category: Category, item: Item, as_of: date) -> bool:
    if category.extra or category.blanks == "zero":
        return True
    return category.blanks == "zero_when_due" and item.due is not None and item.due < as_of


def common_denominator(items: Sequence[Item], rows: Sequence[Mapping[str, Cell]]) -> int:
    """D: every score of the rows and every item's points is a whole number of 1 / D."""
    found = {item.points.denominator for item in items}
    for row in rows:
        for cell in row.values():
            if isinstance(cell, Fraction):
                found.add(cell.denominator)
    return lcm(*found)
