"""A test student: somebody who is not real, on whom a plan is tried.

Set aside from the start, so that they count nowhere and are never sent.
"""

from fractions import Fraction

from vinemark.core.base.refused import Refused, number
from vinemark.core.course.course import Course, Student
from vinemark.core.plan.plan import HUNDRED
from vinemark.core.scores.typed_cells import CellWrite

TRIAL_ID = "test-student"
TRIAL = Student(TRIAL_ID, "Test student", "", None, "not real: a test student")
MOST_GIVEN = 1000


def is_trial(student: Student) -> bool:
    """Whether a student is the test student."""
    return student.id == TRIAL_ID


def trial_percent(typed: str) -> Fraction | None:
    """How much of every item the test student has; None where nothing is typed. Raises Refused at 'all'."""
    text = typed.strip().removesuffix("%").strip()
    if not text:
        return None
    found = number(text, "all")
    if found > MOST_GIVEN:
        raise Refused("all", f"must be {MOST_GIVEN} or less")
    return found


def trial_cells(course: Course, percent: Fraction | None) -> list[CellWrite]:
    """Scores of the test student: so much of every item's points, or none."""
    if percent is None:
        return []
    items = [item for _, item in course.plan.items()]
    return [CellWrite(TRIAL_ID, item.id, _places(item.points * percent / HUNDRED)) for item in items]


def _places(score: Fraction) -> Fraction:
    """A score with so many places as can be typed."""
    return Fraction(round(score * 10**6), 10**6)


def no_trial_cells(course: Course) -> list[CellWrite]:
    """All that the test student has, taken away."""
    return [CellWrite(TRIAL_ID, item, None) for item in course.scores.get(TRIAL_ID, {})]
