"""The plan of a course file."""

from fractions import Fraction
from typing import Any

import pytest

from vinemark.core.base.number import MAX_DIGITS
from vinemark.core.base.refused import NumberText, Refused
from vinemark.core.course.read_plan import read_plan, refuse_broken_scale
from vinemark.core.plan.plan import Category, Item

ITEM = {"id": "q1", "name": "Quiz 1", "points": "10"}


def written(**category: Any) -> dict[str, Any]:
    return {"basis": "weighted", "categories": [{"id": "q", "name": "Quizzes", "weight": "100", **category}]}


def test_what_is_not_said_has_its_default() -> None:
    assert read_plan(written()).categories == (Category("q", "Quizzes", Fraction(100)),)
    plan = read_plan(written(items=[ITEM]))
    assert plan.categories[0].items == (Item("q1", "Quiz 1", Fraction(10)),)
    assert (plan.scale, plan.rounding, plan.cap) == ((), None, None)


def test_every_rule_is_read_and_the_files_ceiling_is_a_cap() -> None:
    rules = {"split": "even", "drop_lowest": NumberText("1"), "drop_highest": "2", "drop_by": "lowest_percent",
             "blanks": "zero_when_due", "ceiling": "95", "extra": True}  # fmt: skip
    category = read_plan(written(**rules)).categories[0]
    assert (category.split, category.drop_lowest, category.drop_highest) == ("even", 1, 2)
    assert (category.drop_by, category.blanks, category.cap, category.extra) == (
        "lowest_percent", "zero_when_due", 95, True,
    )  # fmt: skip
    whole = {**written(), "ceiling": "100", "rounding": {"decimals": "1", "letter_uses": "exact"}}
    found = read_plan({**whole, "scale": [{"letter": "A", "from": "200/3"}]})
    assert (found.cap, found.scale[0].cutoff) == (100, Fraction(200, 3))
    assert found.rounding is not None
    assert (found.rounding.decimals, found.rounding.letter_uses) == (1, "exact")


@pytest.mark.parametrize(
    ("plan", "place"),
    [
        ({**written(), "basis": "points of"}, "plan.basis"),
        ({**written(weight=None)}, "plan.categories[0].weight"),
        (written(keep_best="0"), "plan.categories[0].keep_best"),
        (written(keep_best="2", drop_lowest="1"), "plan.categories[0].keep_best"),
        (written(split="own_shares", items=[ITEM]), "plan.categories[0].items[0].share"),
        (written(items=[ITEM, ITEM]), "plan.categories[0].items[1].id"),
        (written(items=[{**ITEM, "share": "0"}]), "plan.categories[0].items[0].share"),
        ({**written(), "categories": [*written()["categories"], *written()["categories"]]}, "plan.categories[1].id"),
        (
            {**written(), "rounding": {"decimals": str(MAX_DIGITS + 1), "letter_uses": "exact"}},
            "plan.rounding.decimals",
        ),
    ],
)
def test_contradictions_are_refused_at_their_place(plan: dict[str, Any], place: str) -> None:
    with pytest.raises(Refused) as caught:
        read_plan(plan)
    assert caught.value.field == place


def test_best_of_none_dropped_and_a_points_plan_without_weights_are_taken() -> None:
    assert read_plan(written(keep_best="1")).categories[0].keep_best == 1
    assert read_plan({**written(weight=None), "basis": "points"}).categories[0].weight is None
    most = {**written(), "rounding": {"decimals": str(MAX_DIGITS), "letter_uses": "exact"}}
    assert read_plan(most).rounding is not None


def test_a_broken_scale_is_taken_and_refused_only_where_letters_are_all() -> None:
    broken = read_plan({**written(), "scale": [{"letter": "A", "from": "90"}]})
    with pytest.raises(Refused) as caught:
        refuse_broken_scale(broken)
    assert caught.value.field == "plan.scale"
    refuse_broken_scale(read_plan({**written(), "scale": [{"letter": "A", "from": "0"}]}))
