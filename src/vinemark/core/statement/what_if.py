"""What scores that are still to come would do, from what is visible alone; nothing of it is kept."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from typing import Literal

from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import Cell
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Grade, grade_of
from vinemark.core.grade.try_score import lowest_tenths
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.plan.scale import sorted_scale

Reach = Literal["any", "from", "not alone"]


def with_typed(course: Course, whole: Plan, student_id: str, typed: Mapping[str, Cell]) -> Course:
    """The visible course with scores typed for work to come; such work counts as the whole plan has it."""
    counts = {item.id: item.counts for _, item in whole.items()}
    categories = tuple(
        replace(category, items=tuple(_typed_item(item, typed, counts) for item in category.items))
        for category in course.plan.categories
    )
    cells = {**course.scores.get(student_id, {}), **typed}
    return replace(course, plan=replace(course.plan, categories=categories), scores={student_id: cells})


def _typed_item(item: Item, typed: Mapping[str, Cell], counts: Mapping[str, bool]) -> Item:
    return replace(item, counts=True) if item.id in typed and counts.get(item.id, True) else item


@dataclass(frozen=True)
class Needed:
    """What an item would have to bring for a letter: any score, a score from here on, or it cannot do it alone."""

    item: Item
    letter: str
    reach: Reach
    score: str = ""


def needed(
    course: Course, whole: Plan, student_id: str, item: Item, letter: str, typed: Mapping[str, Cell], as_of: date
) -> Needed:
    """The lowest score in tenths of a point, up to full points, by which an item beside what is typed for others would
    bring a letter or better.

    By halving, as a higher score never lowers a grade but for drops of the highest, where full points decide.
    """
    order = [row.letter for row in sorted_scale(whole.scale)]
    enough = frozenset(order[: order.index(letter) + 1]) if letter in order else frozenset()

    def reaches(tenths: int) -> bool:
        beside = {**typed, item.id: Fraction(tenths, 10)}
        return tried(course, whole, student_id, beside, as_of).letter in enough

    low, high = 0, int(item.points * 10)
    if not reaches(high):
        return Needed(item, letter, "not alone")
    if reaches(low):
        return Needed(item, letter, "any")
    return Needed(item, letter, "from", exact_text(Fraction(lowest_tenths(reaches, low, high), 10)))


def tried(course: Course, whole: Plan, student_id: str, typed: Mapping[str, Cell], as_of: date) -> Grade:
    """The grade so far with these scores beside the visible ones."""
    return grade_of(with_typed(course, whole, student_id, typed), student_id, as_of)
