"""What one score would do: a score tried, and for each item the score that alone would reach the next letter."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import Cell, DetailedScore, PlainCell, scored
from vinemark.core.course.course import Course
from vinemark.core.course.recorded import recorded_cells
from vinemark.core.grade.calculation import Calculators, Grade
from vinemark.core.plan.plan import Item
from vinemark.core.plan.scale import sorted_scale


@dataclass(frozen=True)
class Mover:
    """An item, and the lowest score in tenths that alone would bring the next letter."""

    item: Item
    score: str
    now: Cell


def with_score(course: Course, student_id: str, item_id: str, cell: Cell, as_of: date) -> Grade:
    """The grade with one cell as tried; nothing is changed."""
    cells = {**course.scores.get(student_id, {}), item_id: cell}
    return Calculators(course.plan_of(student_id), as_of).grade(cells, course.adjustment(student_id))


def movers(course: Course, student_id: str, as_of: date) -> list[Mover]:
    """Items on which another score, up to full points, would by itself bring a better letter; fewest tenths first."""
    cells = course.scores.get(student_id, {})
    calculators, adjustment = Calculators(course.plan_of(student_id), as_of), course.adjustment(student_id)
    order = [row.letter for row in sorted_scale(course.plan.scale)]
    now = calculators.grade(cells, adjustment).letter
    if now not in order or now == order[0]:
        return []
    better = frozenset(order[: order.index(now)])
    items = [item for _, item in course.plan.items() if item.counts and cells.get(item.id) != "exempt"]
    recorded = recorded_cells(course.plan, cells)

    def reaches(item: Item, tenths: int) -> bool:
        tried = {**cells, item.id: _as_late(cells.get(item.id), Fraction(tenths, 10))}
        return calculators.grade(tried, adjustment).letter in better

    found = [_mover(reaches, item, cells.get(item.id), recorded.get(item.id)) for item in items]
    return [one for _, one in sorted([one for one in found if one is not None], key=lambda pair: pair[0])]


def _as_late(cell: Cell, score: Fraction) -> Cell:
    """Another score, as late as the work is."""
    return scored(score, cell.late) if isinstance(cell, DetailedScore) else score


def _mover(
    reaches: Callable[[Item, int], bool], item: Item, cell: Cell, value: PlainCell
) -> tuple[Fraction, Mover] | None:
    """What it takes, and the mover.

    By halving: a higher score never lowers the grade, but for drops of the highest, where full points decide.
    """
    now = value if isinstance(value, Fraction) else Fraction(0)
    low, high = int(now * 10), int(item.points * 10)
    if high <= low or not reaches(item, high):
        return None
    found = Fraction(lowest_tenths(lambda tenths: reaches(item, tenths), low, high), 10)
    return found - now, Mover(item, exact_text(found), cell)


def lowest_tenths(reaches: Callable[[int], bool], low: int, high: int) -> int:
    """The lowest number of tenths that reaches something, by halving between one that does not and one that does."""
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if reaches(middle) else (middle, high)
    return high
