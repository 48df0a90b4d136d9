"""What a grader is limited to."""

import pytest

from tests.builders import category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.scores.part_limit import NO_LIMIT, PartLimit, read_part_limit, typed_part_limit

CLASS = course(plan(category("10", "20")), {"ada": ["1", "2"], "bo": ["3", "4"]})
ITEMS = list(CLASS.plan.columns)
STUDENTS = [one.id for one in CLASS.students]


def test_nothing_is_left_out_without_one() -> None:
    assert not NO_LIMIT.is_one
    assert NO_LIMIT.allows("anybody", "anything")
    assert list(NO_LIMIT.items_of(CLASS)) == list(CLASS.plan.columns.values())
    assert NO_LIMIT.words(CLASS) == "all items, all students"


def test_both_must_allow_a_cell() -> None:
    limit = PartLimit(frozenset({ITEMS[0]}), frozenset({STUDENTS[0]}))
    assert limit.allows(STUDENTS[0], ITEMS[0])
    assert not limit.allows(STUDENTS[0], ITEMS[1])
    assert not limit.allows("other", ITEMS[0])
    assert limit.words(CLASS) == "1 item, 1 student"


def test_what_is_kept_is_read_again_and_anything_else_allows_nothing() -> None:
    for limit in (NO_LIMIT, PartLimit(frozenset({"a"})), PartLimit(students=frozenset())):
        assert read_part_limit(limit.value) == limit
    assert read_part_limit(None) == NO_LIMIT
    assert read_part_limit({"items": "x", "students": [1]}) == PartLimit(frozenset(), frozenset())


def test_what_is_chosen_is_of_the_course_and_not_nothing() -> None:
    assert typed_part_limit(CLASS, [ITEMS[0], "gone"], None) == PartLimit(frozenset({ITEMS[0]}))
    for items, students, field in (([], None, "items"), (None, ["gone"], "students")):
        with pytest.raises(Refused) as caught:
            typed_part_limit(CLASS, items, students)
        assert caught.value.field == field
