"""Which places of a plan differ: what two people can change without meeting."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import category, plan
from vinemark.core.plan.places import changed_places
from vinemark.core.plan.plan import Plan, Rounding, ScaleRow

PLAN = plan(category("10", "20", weight="40"), category("5", weight="60", prefix="j"))
FIRST, SECOND = PLAN.categories


def with_first(**changes: object) -> Plan:
    return replace(PLAN, categories=(replace(FIRST, **changes), SECOND))  # type: ignore[arg-type]


def test_equal_plans_differ_nowhere() -> None:
    assert changed_places(PLAN, PLAN) == frozenset()


def test_a_rule_of_a_category_an_item_and_the_plan_each_have_their_place() -> None:
    item = FIRST.items[0]
    dated = (replace(item, due=date(2026, 9, 7)), *FIRST.items[1:])
    assert changed_places(PLAN, with_first(weight=Fraction(50))) == {f"{FIRST.id}.weight"}
    assert changed_places(PLAN, with_first(name="Labs")) == {f"{FIRST.id}.name"}
    assert changed_places(PLAN, with_first(items=dated)) == {f"{item.id}.due"}
    assert changed_places(PLAN, replace(PLAN, rounding=Rounding(1))) == {"rounding"}
    assert changed_places(PLAN, replace(PLAN, scale=(ScaleRow("A", Fraction(90)),))) == {"scale"}


def test_what_only_one_of_them_has_differs_in_all_its_places() -> None:
    without = changed_places(PLAN, replace(PLAN, categories=(FIRST,)))
    assert {f"{SECOND.id}.weight", f"{SECOND.id}.name", f"{SECOND.items[0].id}.points"} <= without
    assert not {place for place in without if place.startswith(FIRST.id + ".")}
    assert changed_places(replace(PLAN, categories=(FIRST,)), PLAN) == without


def test_an_item_in_another_category_and_another_order() -> None:
    moved = (replace(FIRST, items=FIRST.items[1:]), replace(SECOND, items=(FIRST.items[0], *SECOND.items)))
    assert changed_places(PLAN, replace(PLAN, categories=moved)) == {f"{FIRST.items[0].id}.category"}
    turned = with_first(items=(FIRST.items[1], FIRST.items[0]))
    assert changed_places(PLAN, turned) == {f"order of {FIRST.id}"}
    assert changed_places(PLAN, replace(PLAN, categories=(SECOND, FIRST))) == {"order of categories"}
