"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.core.syllabus.one_syllabus import PLAN, READING, changed, open_rules
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan, Rounding
from vinemark.core.syllabus.compare.follow import follow, follow_all


@pytest.mark.parametrize(
    ("plan", "key"),
    [
        (changed(0, weight=Fraction(25)), "weight:c1"),
        (changed(1, drop_lowest=1), "drop:c2"),
        (changed(1, drop_lowest=0), "drop:c2"),
        (changed(1, items=PLAN.categories[1].items[:6]), "count:c2"),
        (changed(2, items=(*PLAN.categories[2].items, replace(PLAN.categories[2].items[0], id="i99"))), "count:c3"),
        (changed(0, extra=True), "extra:c1"),
        (replace(PLAN, rounding=Rounding(0)), "rounding:"),
        (replace(PLAN, rounding=Rounding(2, "exact")), "rounding:"),
        (replace(PLAN, scale=PLAN.scale[1:]), "scale:"),
        (replace(PLAN, basis="points"), "basis:"),
    ],
)
def test_each_difference_is_found_and_mended_by_one_act(plan: Plan, key: str) -> None:
    assert (key, "differs") in open_rules(plan)
    mended, done = follow(plan, key, READING)
    assert key not in [found for found, _ in open_rules(mended)]
    assert done.endswith("made to follow the syllabus")
    with pytest.raises(Refused):
        follow(mended, key, READING)


def test_the_whole_plan_follows_and_keeps_ids_by_name() -> None:
    own = replace(PLAN, categories=(replace(PLAN.categories[1], id="c77", weight=Fraction(1)),))
    made = follow_all(own, READING)
    assert [c.id for c in made.categories if c.name == "Map quizzes"] == ["c77"]
    assert made.categories[1].items[0].id == PLAN.categories[1].items[0].id
    assert open_rules(made) == []
