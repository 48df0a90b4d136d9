"""The last work a student handed in, from which a last date of attendance is suggested."""

from datetime import date
from fractions import Fraction

from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item


def last_work(course: Course, student_id: str, as_of: date) -> Item | None:
    """The latest dated item, due within the term and by the as-of day, with a score above 0."""
    limit = min(as_of, course.term.ends)
    dated = [
        item
        for _, item in course.plan.items()
        if item.due is not None and course.term.starts <= item.due <= limit and _scored(course, student_id, item.id)
    ]
    return max(dated, key=lambda item: item.due or limit, default=None)


def _scored(course: Course, student_id: str, item_id: str) -> bool:
    cell = course.value(student_id, item_id)
    return isinstance(cell, Fraction) and cell > 0
