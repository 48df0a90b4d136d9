"""What columns become."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from tests.core.bring.files import reading
from vinemark.core.base.refused import Refused
from vinemark.core.bring.columns import ColumnChoice, chosen_columns, first_columns, points_text, roles_said
from vinemark.core.plan.edit import empty_plan

EMPTY = empty_plan()


def test_each_column_has_a_first_use() -> None:
    found = first_columns(reading(), EMPTY)
    assert [(one.heading, one.target) for one in found] == [
        ("ID", "person id"), ("Student", "person name"), ("Sketch 1", "new"), ("Sketch 2", "new"), ("Model", "new"),
        ("Total", "total"), ("Grade", "letter"),
    ]  # fmt: skip
    assert [(one.category, points_text(one), one.sure) for one in found[2:5]] == [
        ("Sketches", "10", True), ("Sketches", "10", True), ("Model", "40", True)
    ]  # fmt: skip


def test_points_that_nobody_says_come_from_the_highest_score() -> None:
    text = "Name,Quiz 1,Quiz 2,Essay,Talk\nOde,8,19,55,131\nPell,9.5,20,61,88\n"
    found = first_columns(reading(text), EMPTY)[1:]
    assert [(points_text(one), one.sure) for one in found] == [
        ("10", False), ("20", False), ("75", False), ("140", False)
    ]  # fmt: skip


def test_a_column_named_like_an_item_is_its_scores() -> None:
    mine = plan(category("10", "10", prefix="sketch "))
    found = first_columns(reading(), mine)
    assert [one.target for one in found[2:5]] == ["score sketch 1", "new", "new"]


def test_new_items_join_the_category_that_is_alike() -> None:
    mine = plan(category("10"), category("5", prefix="k"))
    mine = type(mine)(mine.basis, (mine.categories[0], type(mine.categories[1])("c9", "Sketch", Fraction(50))))
    assert {one.category for one in first_columns(reading(), mine) if one.name.startswith("Sketch")} == {"Sketch"}


def test_choices_of_a_person_are_taken() -> None:
    first = first_columns(reading(), EMPTY)
    made = chosen_columns(first, {3: ColumnChoice("leave"), 4: ColumnChoice("new", "Sketchbook", "12.5", "")}, EMPTY)
    assert [(one.use, one.name, points_text(one)) for one in made[2:4]] == [
        ("leave", "Sketch 1", "10"), ("new", "Sketchbook", "12.5")
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("choice", "place"),
    [
        (ColumnChoice("new", "X", "0"), "points-3"),
        (ColumnChoice("new", "X", ""), "points-3"),
        (ColumnChoice("score nobody"), "target-3"),
        (ColumnChoice("else"), "target-3"),
    ],
)
def test_what_cannot_be_is_refused_at_its_place(choice: ColumnChoice, place: str) -> None:
    with pytest.raises(Refused) as refused:
        chosen_columns(first_columns(reading(), EMPTY), {3: choice}, EMPTY)
    assert refused.value.field == place


def test_two_columns_are_not_one_item() -> None:
    mine = plan(category("10"))
    first = first_columns(reading(), mine)
    with pytest.raises(Refused, match="is the same item as column 3"):
        chosen_columns(first, {3: ColumnChoice("score i0"), 4: ColumnChoice("score i0")}, mine)


def test_the_reader_is_told_what_columns_are() -> None:
    said = {1: "person name", 2: "leave", 3: "new", 4: "score i0", 5: "total", 6: "nonsense"}
    roles = roles_said({column: ColumnChoice(target) for column, target in said.items()})
    assert roles == {1: "name", 2: "other", 3: "item", 4: "item", 5: "total"}
    again = reading(roles={6: "item"})
    assert [one.role for one in again.columns][5] == "item"


def test_numbers_without_a_heading_are_asked_for_and_left_out_until_somebody_says() -> None:
    text = "ID,Student,Quiz,\nL1,Ode Marit,8,14\nL2,Pell Jonas,10,9\nL3,Quist Ana,5,17\n"
    read = reading(text)
    assert list(read.unsure) == [(4, ("item", "subtotal"))]
    assert [(one.use, one.asked) for one in first_columns(read, EMPTY)][-1] == ("leave", True)
    told = reading(text, {4: "item"})
    assert (list(told.unsure), first_columns(told, EMPTY)[-1].use) == ([], "new")
    assert not reading(text.replace("14", "1").replace(",9\n", ",2\n").replace("17", "3")).unsure
