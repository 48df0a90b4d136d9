"""A plan drafted from the columns of a file."""

from fractions import Fraction

import pytest

from tests.builders import category, items, plan
from tests.core.bring.files import reading
from vinemark.core.base.refused import Refused
from vinemark.core.bring.columns import first_columns
from vinemark.core.bring.draft import drafted_plan
from vinemark.core.plan.edit import empty_plan
from vinemark.core.plan.plan import Category, Plan

WEIGHTED = """Name,Quizzes (30%),,Exam (70%),Bonus
,Quiz 1,Quiz 2,Exam 1,Bonus walk
Points,10,10,50,5
Ode,8,9,40,2
Pell,7,10,44,
"""


def drafted(text: str, mine: Plan | None = None, **weights: str) -> Plan:
    mine = mine or empty_plan()
    found = reading(text)
    return drafted_plan(mine, first_columns(found, mine), dict(found.groups), weights).plan


def test_a_plan_without_weights_goes_by_points() -> None:
    made = drafted_plan(empty_plan(), first_columns(reading(), empty_plan()), {}).plan
    assert made.basis == "points"
    assert [(c.name, [i.name for i in c.items]) for c in made.categories] == [
        ("Sketches", ["Sketch 1", "Sketch 2"]), ("Model", ["Model"])
    ]  # fmt: skip


def test_weights_of_groups_make_a_weighted_plan_and_bonus_is_extra() -> None:
    made = drafted(WEIGHTED)
    assert made.basis == "weighted"
    assert [(c.name, c.weight, c.extra) for c in made.categories] == [
        ("Quizzes", 30, False), ("Exam", 70, False), ("Bonus", 0, True)
    ]  # fmt: skip


def test_typed_weights_go_before_and_a_wrong_one_is_refused_at_its_place() -> None:
    assert [c.weight for c in drafted(WEIGHTED, Quizzes="40%", Exam="60").categories[:2]] == [40, 60]
    with pytest.raises(Refused) as refused:
        drafted(WEIGHTED, Quizzes="many")
    assert refused.value.field == "weight-Quizzes"


def test_items_with_weights_of_their_own_share_their_category_by_them() -> None:
    made = drafted("Name,Exam 1 (20%),Exam 2 (30%),Paper (50%)\nPoints,50,50,40\nOde,40,41,30\nPell,30,41,20\n")
    exams = made.categories[0]
    assert (exams.weight, exams.split, [i.share for i in exams.items]) == (50, "own_shares", [40, 60])


def test_a_plan_that_is_there_keeps_its_basis_and_ids() -> None:
    mine = plan(Category("c1", "Sketches", Fraction(100), items=items("10")))
    found = reading()
    columns = first_columns(found, mine)
    made = drafted_plan(mine, columns, {}, used={"i7", "c8"})
    assert made.plan.basis == "weighted"
    assert [i.id for i in made.plan.categories[0].items] == ["i0", "i8", "i9"]
    assert (made.plan.categories[1].name, made.plan.categories[1].weight) == ("Model", 0)
    assert made.categories == [("Model", None)]


def test_new_items_of_shared_categories_begin_without_a_share() -> None:
    shared = Category("c1", "Sketches", Fraction(100), split="own_shares", items=items("10", share=Fraction(100)))
    mine = plan(shared)
    made = drafted_plan(mine, first_columns(reading(), mine), {}).plan
    assert [i.share for i in made.categories[0].items] == [100, 0, 0]
    assert category("1").items[0].share is None
