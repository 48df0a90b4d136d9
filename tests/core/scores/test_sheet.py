"""A whole column at once."""

from tests.builders import category, course, plan
from vinemark.core.course.course import Course
from vinemark.core.scores.sheet import histogram

PLAN = plan(category("10", "50", split="even"))
OTHER = PLAN.categories[0].items[1]


CLASS: Course = course(
    PLAN, {"ada": ["8", "40"], "bo": [None, "30"], "cy": ["missing", "20"], "out": ["1", "1"]}, aside={"out": "sits in"}
)


def test_the_spread_of_scores() -> None:
    assert histogram(CLASS, OTHER) == [0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 0]
    assert histogram(course(PLAN, {"ada": []}), OTHER) == []
