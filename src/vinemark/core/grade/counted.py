"""What a cell counts as: symbols turned into points, late days into what is left (v and v' of the contract)."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import ZERO
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.recorded import PlainCells, recorded_cells, recorded_value
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.rules import LateRule


@dataclass(frozen=True)
class LateWork:
    """What late days did to one score: the days, those that were free, v, and v' after the rule."""

    days: int
    free: int
    value: Fraction
    left: Fraction

    @property
    def taken(self) -> Fraction:
        """What the rule took, in points."""
        return self.value - self.left


def counted_rows(plan: Plan, rows: Iterable[Mapping[str, Cell]]) -> list[PlainCells]:
    """The cells of many students as they count."""
    return [counted_cells(plan, row) for row in rows]


def counted_cells(plan: Plan, cells: Mapping[str, Cell], recorded: PlainCells | None = None) -> PlainCells:
    """A student's cells as they count: v' of everything; `recorded` where that is known already."""
    recorded = recorded_cells(plan, cells) if recorded is None else recorded
    if recorded is cells:
        return recorded
    found = dict(recorded)
    found.update({item: work.left for item, work in late_work(plan, cells).items()})
    return found


def late_work(plan: Plan, cells: Mapping[str, Cell]) -> dict[str, LateWork]:
    """What late days did, for each late score of a counting item whose category has a rule for them."""
    found: dict[str, LateWork] = {}
    for category in plan.categories:
        if category.late is not None:
            found |= late_in(category, category.late, cells)
    return found


def late_in(category: Category, rule: LateRule, cells: Mapping[str, Cell]) -> dict[str, LateWork]:
    """The same for one category."""
    late = [(item, cell) for item in category.counting if isinstance(cell := cells.get(item.id), DetailedScore)]
    free, found = rule.free_days, {}
    for item, cell in _by_due([(item, cell) for item, cell in late if cell.late]):
        used = min(free, cell.late)
        free -= used
        value = recorded_value(category, item, cell)
        if not isinstance(value, Fraction):
            continue
        found[item.id] = LateWork(cell.late, used, value, what_is_left(rule, item.points, value, cell.late - used))
    return found


def _by_due(late: Iterable[tuple[Item, DetailedScore]]) -> Sequence[tuple[Item, DetailedScore]]:
    """By due date, those without one last, else as in the plan: free days go to them in this order."""
    return sorted(late, key=lambda one: (one[0].due is None, one[0].due or date.min))


def what_is_left(rule: LateRule, points: Fraction, value: Fraction, days: int) -> Fraction:
    """v' of a value `days` late (free days taken off already); calculation-2, section 2."""
    if rule.last_day is not None and days > rule.last_day:
        return ZERO
    most = HUNDRED if rule.at_most is None else rule.at_most
    part = min(max(0, days - rule.grace_days) * rule.per_day, most) / HUNDRED
    return max(ZERO, value - part * points) if rule.of == "points" else value * (1 - part)
