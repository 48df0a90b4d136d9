"""The grading plan: all the rules by which a section's grades are worked out, as plain data."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from functools import cached_property
from typing import Literal, get_args

from vinemark.core.base.number import RoundingWay
from vinemark.core.plan.rules import (
    Alternative,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    RoundTo,
    Symbol,
)

Basis = Literal["weighted", "points"]
Split = Literal["by_points", "even", "own_shares"]
Blanks = Literal["wait", "zero", "zero_when_due"]
DropBy = Literal["helps_most", "lowest_percent"]
LetterUses = Literal["rounded", "exact"]

BASES: tuple[Basis, ...] = get_args(Basis)
SPLITS: tuple[Split, ...] = get_args(Split)
BLANKS: tuple[Blanks, ...] = get_args(Blanks)
DROP_BYS: tuple[DropBy, ...] = get_args(DropBy)
LETTER_USES: tuple[LetterUses, ...] = get_args(LetterUses)

HUNDRED = Fraction(100)


@dataclass(frozen=True)
class Item:
    """One piece of graded work. `share` is in percent of its category, only under own shares.

    `label` is a short heading for its column, empty where the name will do.
    """

    id: str
    name: str
    points: Fraction
    extra: bool = False
    share: Fraction | None = None
    counts: bool = True
    droppable: bool = True
    due: date | None = None
    label: str = ""

    @property
    def heading(self) -> str:
        """What stands above its column."""
        return self.label or self.name


@dataclass(frozen=True)
class Category:
    """Items under one rule. `weight` and `ceiling` are in percent; an extra category adds on top."""

    id: str
    name: str
    weight: Fraction | None = None
    extra: bool = False
    split: Split = "by_points"
    drop_lowest: int = 0
    drop_highest: int = 0
    keep_best: int | None = None
    drop_by: DropBy = "helps_most"
    blanks: Blanks = "wait"
    cap: Fraction | None = None
    items: tuple[Item, ...] = ()
    late: LateRule | None = None
    symbols: tuple[Symbol, ...] = ()
    rounding: RoundTo | None = None
    label: str = ""

    @cached_property
    def counting(self) -> tuple[Item, ...]:
        """Items whose scores take part."""
        return tuple(item for item in self.items if item.counts)

    @cached_property
    def regular(self) -> tuple[Item, ...]:
        """Counting items that make the denominator: all of an extra category, else those not extra."""
        return tuple(item for item in self.counting if self.extra or not item.extra)


@dataclass(frozen=True)
class ScaleRow:
    """A letter and the lowest percent (`cutoff`, the file's `from`) that gets it."""

    letter: str
    cutoff: Fraction


@dataclass(frozen=True)
class Rounding:
    """On the course percent, to so many decimals, half up or always one way; which value the letter uses."""

    decimals: int
    letter_uses: LetterUses = "rounded"
    way: RoundingWay = "nearest"


@dataclass(frozen=True)
class Plan:
    """All the rules of one section. `scale` is empty where the section has none; `added` goes to everyone."""

    basis: Basis
    categories: tuple[Category, ...] = ()
    scale: tuple[ScaleRow, ...] = ()
    rounding: Rounding | None = None
    cap: Fraction | None = None
    replacements: tuple[Replacement, ...] = ()
    alternatives: tuple[Alternative, ...] = ()
    requirements: tuple[Requirement, ...] = ()
    added: Fraction = Fraction(0)
    recorded: tuple[RecordedItem, ...] = ()

    def items(self) -> Iterator[tuple[Category, Item]]:
        """Every item with its category, in plan order."""
        for category in self.categories:
            for item in category.items:
                yield category, item

    def category(self, category_id: str) -> Category | None:
        """The category with this id, if any."""
        return next((c for c in self.categories if c.id == category_id), None)

    def item(self, item_id: str) -> Item | None:
        """The item with this id, if any."""
        found = self.placed.get(item_id)
        return found[1] if found else None

    def category_of(self, item_id: str) -> Category:
        """The category that an item of the plan sits in. Raises KeyError."""
        return self.placed[item_id][0]

    @cached_property
    def columns(self) -> Mapping[str, Item]:
        """All that scores are kept for, by id: the items, then what is only recorded, as items that never count."""
        recorded = (Item(one.id, one.name, Fraction(1), counts=False, due=one.due) for one in self.recorded)
        return {item.id: item for item in (*(item for _, item in self.items()), *recorded)}

    def only_recorded(self, item_id: str) -> bool:
        """Whether something is recorded outside every category."""
        return item_id in self.columns and item_id not in self.placed

    @cached_property
    def placed(self) -> Mapping[str, tuple[Category, Item]]:
        """Every item with its category, by the item's id."""
        return {item.id: (category, item) for category, item in self.items()}


def with_due_dates(plan: Plan, dates: Mapping[str, date]) -> Plan:
    """The plan in which some items, by their ids, are due on other days."""
    return replace(plan, categories=tuple(
        replace(c, items=tuple(replace(i, due=dates[i.id]) if i.id in dates else i for i in c.items))
        for c in plan.categories
    ))  # fmt: skip


def weight_total(plan: Plan) -> Fraction:
    """Sum of the ordinary categories' weights, in percent; a full plan gives 100."""
    return sum((c.weight or Fraction(0) for c in plan.categories if not c.extra), Fraction(0))


def points_total(category: Category) -> Fraction:
    """Sum of the points of a category's regular counting items."""
    return sum((item.points for item in category.regular), Fraction(0))
