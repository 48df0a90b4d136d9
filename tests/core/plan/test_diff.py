"""Two plans compared line by line."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import category, plan
from vinemark.core.plan.diff import plan_differences, plan_lines

PLAN = plan(category("10", "20", weight="40"), category("5", weight="60", prefix="j"))


def changed_lines(first: object, second: object) -> list[tuple[str, str]]:
    return [(line.side, line.text) for line in plan_differences(first, second) if line.side != "both"]  # type: ignore[arg-type]


def test_every_item_has_a_line_and_equal_plans_no_difference() -> None:
    assert len(plan_lines(PLAN)) == 1 + 2 + 3 + 2
    assert changed_lines(PLAN, PLAN) == []


def test_a_changed_weight_a_date_and_an_item_are_found() -> None:
    first, second = PLAN.categories
    dated = replace(first, items=(replace(first.items[0], due=date(2026, 9, 7)), *first.items[1:]))
    other = replace(PLAN, categories=(dated, replace(second, weight=Fraction(50))))
    assert changed_lines(PLAN, other) == [
        ("first", "Category i: I 0, 10 points"),
        ("second", "Category i: I 0, 10 points, due Sep 7, 2026"),
        ("first", "Category j (60%). Items count by points. Nothing dropped. A blank is not counted yet."),
        ("second", "Category j (50%). Items count by points. Nothing dropped. A blank is not counted yet."),
    ]


def test_a_category_that_only_one_plan_has() -> None:
    sides = {side for side, _ in changed_lines(PLAN, replace(PLAN, categories=PLAN.categories[:1]))}
    assert sides == {"first"}
