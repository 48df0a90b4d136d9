"""Whether a student meets the plan's requirements, read as the figure that is being worked out reads their cells."""

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from fractions import Fraction
from math import floor
from typing import NamedTuple

from vinemark.core.base.number import ZERO
from vinemark.core.course.cell import PlainCell
from vinemark.core.grade.category import BlanksAs
from vinemark.core.plan.amounts import blank_counts
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.rules import Requirement

Ratio = tuple[int, int]
RatioOf = Callable[[str], Ratio | None]
"""A category's percentage (1 = 100 percent) as a numerator and a denominator, by its id."""


class NotMet(NamedTuple):
    """A requirement that is not met, and how many times it takes effect."""

    requirement: Requirement
    times: int


class StudentCells(NamedTuple):
    """What requirements read of a student: cells as they count (v'), as they are recorded (v), and how blanks read."""

    counted: Mapping[str, PlainCell]
    recorded: Mapping[str, PlainCell]
    blanks: BlanksAs


class RequirementCheck:
    """One requirement of a plan on a day, made ready for many students."""

    def __init__(self, plan: Plan, requirement: Requirement, as_of: date) -> None:
        self.requirement = requirement
        self._condition = requirement.condition
        self._threshold = requirement.condition.threshold
        self._part, self._of = self._threshold.as_integer_ratio()
        self._category = plan.category(requirement.condition.category or "")
        self._placed = plan.placed.get(requirement.condition.item or "")
        self._blank_counts = self._blanks_by_plan(as_of)
        self._times = {
            "missed_at_least": self._missed_times,
            "value_above": self._above_times,
            "percent_below": self._below_category if self._category is not None else self._below_item,
        }[requirement.condition.kind]

    def not_met(self, cells: StudentCells, ratio_of: RatioOf) -> NotMet | None:
        """The requirement where its condition holds."""
        times = self._times(cells, ratio_of)
        if times <= 0:
            return None
        return NotMet(self.requirement, times if self.requirement.consequence.for_each else 1)

    def _blanks_by_plan(self, as_of: date) -> dict[str, bool]:
        """Whether a blank counts by the plan, for each item that the condition reads as a regular one."""
        pairs: Sequence[tuple[Category, Item]] = []
        if self._category is not None:
            pairs = [(self._category, item) for item in self._category.regular]
        elif self._placed is not None and self._placed[1] in self._placed[0].regular:
            pairs = [self._placed]
        return {item.id: blank_counts(category, item, as_of) for category, item in pairs}

    def _counts_as_zero(self, item: str, blanks: BlanksAs) -> bool:
        return blanks == "zero" or (blanks == "plan" and self._blank_counts[item])

    def _missed_times(self, cells: StudentCells, _: RatioOf) -> int:
        missed = 0
        for item in self._blank_counts:
            cell = cells.counted.get(item)
            if cell is None:
                missed += self._counts_as_zero(item, cells.blanks)
            elif isinstance(cell, str):
                missed += cell == "missing"
        return missed - int(self._threshold) + 1

    def _above_times(self, cells: StudentCells, _: RatioOf) -> int:
        value = cells.recorded.get(self._condition.item or "")
        if not isinstance(value, Fraction) or value.numerator * self._of <= self._part * value.denominator:
            return 0
        return floor(value - self._threshold) if self.requirement.consequence.for_each else 1

    def _below_category(self, _: StudentCells, ratio_of: RatioOf) -> int:
        ratio = ratio_of(self._condition.category or "")
        return 0 if ratio is None else int(100 * ratio[0] * self._of < self._part * ratio[1])

    def _below_item(self, cells: StudentCells, _: RatioOf) -> int:
        if self._placed is None or not self._placed[1].counts:
            return 0
        value = self._item_value(self._placed[1], cells)
        return 0 if value is None else int(HUNDRED * value < self._threshold * self._placed[1].points)

    def _item_value(self, item: Item, cells: StudentCells) -> Fraction | None:
        """v' of an item; None where it waits or does not exist for the student."""
        cell = cells.counted.get(item.id)
        if isinstance(cell, Fraction):
            return cell
        if cell is not None:
            return ZERO if cell == "missing" else None
        if cells.blanks == "full":
            return item.points
        return ZERO if item.id in self._blank_counts and self._counts_as_zero(item.id, cells.blanks) else None
