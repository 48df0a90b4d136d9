"""Groups of an item."""

from fractions import Fraction

import pytest

from tests.builders import category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.core.scores.groups import even_groups, group_cells, item_groups, typed_groups

HERE: Course = course(plan(category("10")), {"ada": ["9"], "bo": ["9"], "cy": ["4"], "di": [None], "eve": [None]})
ITEM = HERE.plan.columns["i0"]
GROUPS = {"ada": "2", "bo": "2", "cy": "10", "di": "10"}


def test_groups_are_typed_with_a_name_for_each() -> None:
    assert typed_groups(HERE, {"ada": " 1 ", "bo": "", "cy": "north  side", "nobody": "1"}) == {
        "ada": "1", "cy": "north side"
    }  # fmt: skip
    with pytest.raises(Refused) as refused:
        typed_groups(HERE, {"ada": "x" * 41})
    assert refused.value.field == "group-ada"


def test_groups_of_so_many_in_the_order_of_the_class() -> None:
    assert even_groups(HERE.students, "2") == {"ada": "1", "bo": "1", "cy": "2", "di": "2", "eve": "3"}
    for wrong in ("1", "some", ""):
        with pytest.raises(Refused):
            even_groups(HERE.students, wrong)


def test_a_group_has_one_score_or_its_members_differ() -> None:
    found = item_groups(HERE, ITEM, {**GROUPS, "eve": "north"})
    assert [(g.name, [s.id for s in g.members], g.same) for g in found] == [
        ("2", ["ada", "bo"], "9"), ("10", ["cy", "di"], None), ("north", ["eve"], "")
    ]  # fmt: skip


def test_one_score_goes_to_all_members_and_what_is_not_typed_stays() -> None:
    changes = group_cells(HERE, ITEM, GROUPS, {"10": "7.5", "2": ""})
    assert [(c.student_id, c.cell, c.was) for c in changes] == [
        ("cy", Fraction("7.5"), "4"),
        ("di", Fraction("7.5"), ""),
    ]
    assert group_cells(HERE, ITEM, GROUPS, {"2": "9"}) == []
    assert [c.student_id for c in group_cells(HERE, ITEM, GROUPS, {"10": "4"})] == ["di"]
    assert [c.cell for c in group_cells(HERE, ITEM, GROUPS, {"2": "m"})] == ["missing", "missing"]
    with pytest.raises(Refused) as refused:
        group_cells(HERE, ITEM, GROUPS, {"10": "lots"})
    assert refused.value.field == "score-10"
