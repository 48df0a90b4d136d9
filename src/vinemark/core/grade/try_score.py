"""What one score would do: a score tried, and for each item the score that alone would reach the next letter."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import exact_text
from vinemark.core.course.course import Cell, Course
from vinemark.core.grade.calculation import Calculator, Grade
from vinemark.core.grade.category import common_denominator
from vinemark.core.plan.plan import Item
from vinemark.core.plan.scale import sorted_scale

TENTH = Fraction(1, 10)


@dataclass(frozen=True)
class Mover:
    """An item, and the lowest score in tenths that alone would bring the next letter."""

    item: Item
    score: str
    now: Cell


def with_score(course: Course, student_id: str, item_id: str, cell: Cell, as_of: date) -> Grade:
    """The grade with one cell as tried; nothing is changed."""
    cells = {**course.scores.get(student_id, {}), item_id: cell}
    return _calculator(course, [cells], as_of).grade(cells)


def movers(course: Course, student_id: str, as_of: date) -> list[Mover]:
    """Items on which another score, up to full points, would by itself bring a better letter; fewest tenths first."""
    cells = course.scores.get(student_id, {})
    calculator = _calculator(course, [cells, {"": TENTH}], as_of)
    order = [row.letter for row in sorted_scale(course.plan.scale)]
    now = calculator.grade(cells).letter
    if now not in order or now == order[0]:
        return []
    better = frozenset(order[: order.index(now)])
    items = [item for _, item in course.plan.items() if item.counts and cells.get(item.id) != "exempt"]
    found = [_mover(calculator, cells, item, better) for item in items]
    gains = [one for one in found if one is not None]
    return sorted(gains, key=lambda one: Fraction(one.score) - (one.now if isinstance(one.now, Fraction) else 0))


def _calculator(course: Course, rows: Sequence[Mapping[str, Cell]], as_of: date) -> Calculator:
    return Calculator(course.plan, as_of, common_denominator([i for _, i in course.plan.items()], rows))


def _mover(calculator: Calculator, cells: Mapping[str, Cell], item: Item, better: frozenset[str]) -> Mover | None:
    """By halving: a higher score never lowers the grade, but for drops of the highest, where full points decide."""
    cell = cells.get(item.id)
    low = int((cell if isinstance(cell, Fraction) else 0) * 10)
    high = int(item.points * 10)

    def reaches(tenths: int) -> bool:
        return calculator.grade({**cells, item.id: Fraction(tenths, 10)}).letter in better

    if high <= low or not reaches(high):
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if reaches(middle) else (middle, high)
    return Mover(item, exact_text(Fraction(high, 10)), cell)
