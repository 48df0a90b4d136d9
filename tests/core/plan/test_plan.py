"""The plan as plain data: what is counted, found and added up."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, items, plan
from vinemark.core.plan.plan import Item, points_total, weight_total


def test_a_heading_is_the_label_or_else_the_name() -> None:
    item = Item("i", "Field notebook 1", Fraction(10))
    assert (item.heading, replace(item, label="FN 1").heading) == ("Field notebook 1", "FN 1")


def test_what_counts_and_what_makes_the_denominator() -> None:
    of = category("10", "20", "30")
    one, two, three = of.items
    mixed = replace(of, items=(one, replace(two, extra=True), replace(three, counts=False)))
    assert [i.id for i in mixed.counting] == [one.id, two.id]
    assert [i.id for i in mixed.regular] == [one.id]
    assert [i.id for i in replace(mixed, extra=True).regular] == [one.id, two.id]
    assert points_total(mixed) == 10


def test_weights_of_extra_categories_are_not_part_of_the_hundred() -> None:
    bonus = category("5", weight="3", prefix="e", extra=True)
    assert weight_total(plan(category("10", weight="60"), category("10", weight=None, prefix="j"), bonus)) == 60
    assert weight_total(plan()) == 0


def test_things_are_found_by_their_ids() -> None:
    of = plan(category("10"), category("10", prefix="j"))
    assert [(c.id, i.id) for c, i in of.items()] == [("c-i", "i0"), ("c-j", "j0")]
    assert (of.category("c-j"), of.category("c-x")) == (of.categories[1], None)
    assert (of.item("j0"), of.item("x")) == (items("10", prefix="j")[0], None)
    assert of.category_of("j0").id == "c-j"
    with pytest.raises(KeyError):
        of.category_of("x")
