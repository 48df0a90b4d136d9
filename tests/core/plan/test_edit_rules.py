"""Further rules as they are typed."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.base.refused import Refused
from vinemark.core.plan import edit_rules
from vinemark.core.plan.edit_rules import TypedLate, TypedReplacement, TypedRequirement
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    Symbol,
)

PLAN = plan(
    category("10", "10", weight="40"),
    category("50", weight="60", prefix="j"),
    category("5", weight="3", prefix="x", extra=True),
)
BELOW = TypedRequirement("percent_below", "item j0", "60", "letter_at_most", "f")


def refused(edit: object, *args: object, **named: object) -> str:
    with pytest.raises(Refused) as caught:
        edit(*args, **named)  # type: ignore[operator]
    return caught.value.field


def test_late_work() -> None:
    made = edit_rules.set_late(PLAN, "c-i", TypedLate("10%", "score", "50", "1", "7", "3"))
    assert made.categories[0].late == LateRule(Fraction(10), "score", Fraction(50), 1, 7, 3)
    plain = edit_rules.set_late(PLAN, "c-i", TypedLate("2.5"))
    assert plain.categories[0].late == LateRule(Fraction(5, 2))
    assert edit_rules.remove_late(made, "c-i") == PLAN
    every = edit_rules.set_late(PLAN, "", TypedLate("5"))
    assert [c.late is not None for c in every.categories] == [True, True, False]


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        (TypedLate(""), "per_day"),
        (TypedLate("101"), "per_day"),
        (TypedLate("10", at_most="120"), "at_most"),
        (TypedLate("10", grace_days="1.5"), "grace_days"),
        (TypedLate("10", free_days="1000000"), "free_days"),
        (TypedLate("10", "day"), "of"),
    ],
)
def test_late_work_that_cannot_be(typed: TypedLate, field: str) -> None:
    assert refused(edit_rules.set_late, PLAN, "c-i", typed) == field


def test_symbols() -> None:
    made = edit_rules.set_symbols(PLAN, "c-i", [("check+", "95%"), ("", " "), ("check", "80")])
    assert made.categories[0].symbols == (Symbol("check+", Fraction(95)), Symbol("check", Fraction(80)))
    assert edit_rules.set_symbols(made, "c-i", [("", "")]) == PLAN
    assert refused(edit_rules.set_symbols, PLAN, "c-i", [("M", "0")]) == "symbol-0"
    assert refused(edit_rules.set_symbols, PLAN, "c-i", [("a", "0"), ("a", "5")]) == "symbol-1"
    assert refused(edit_rules.set_symbols, PLAN, "c-i", [("a", "much")]) == "percent-0"
    assert refused(edit_rules.set_symbols, PLAN, "c-i", [("", "5")]) == "symbol-0"


def test_replacements() -> None:
    made = edit_rules.put_replacement(PLAN, TypedReplacement("j0", "c-i"))
    assert made.replacements == (Replacement("j0", "c-i"),)
    changed = edit_rules.put_replacement(made, TypedReplacement("j0", "c-i", "2", False), 0)
    assert changed.replacements == (Replacement("j0", "c-i", 2, False),)
    assert edit_rules.remove_replacement(changed, 0) == PLAN
    assert refused(edit_rules.put_replacement, PLAN, TypedReplacement("", "c-i")) == "source"
    assert refused(edit_rules.put_replacement, PLAN, TypedReplacement("x0", "c-i")) == "source"
    assert refused(edit_rules.put_replacement, PLAN, TypedReplacement("j0", "c-x")) == "into"
    assert refused(edit_rules.put_replacement, PLAN, TypedReplacement("j0", "c-i", "0")) == "count"
    assert refused(edit_rules.remove_replacement, PLAN, 0) == "rules"


def test_alternative_weights() -> None:
    made = edit_rules.put_alternative(PLAN, " The final  counts more ", {"c-i": "10", "c-j": "90%", "c-x": "4"})
    assert made.alternatives == (
        Alternative("a1", "The final counts more", {"c-i": Fraction(10), "c-j": Fraction(90)}),
    )
    changed = edit_rules.put_alternative(made, "Less", {"c-i": "100/3", "c-j": "200/3"}, 0)
    assert changed.alternatives[0] == Alternative("a1", "Less", {"c-i": Fraction(100, 3), "c-j": Fraction(200, 3)})
    assert edit_rules.remove_alternative(changed, 0) == PLAN
    assert refused(edit_rules.put_alternative, PLAN, "", {"c-i": "1", "c-j": "1"}) == "name"
    assert refused(edit_rules.put_alternative, PLAN, "More", {"c-i": "1"}) == "weight-c-j"
    assert refused(edit_rules.put_alternative, replace(PLAN, basis="points"), "More", {}) == "name"


def test_requirements() -> None:
    below = Condition("percent_below", Fraction(60), item="j0")
    made = edit_rules.put_requirement(PLAN, replace(BELOW, text="Pass  the final"))
    assert made.requirements == (Requirement("r1", below, Consequence("letter_at_most", letter="F"), "Pass the final"),)
    missed = TypedRequirement("missed_at_least", "category c-i", "2", "letters_down", "1", True)
    both = edit_rules.put_requirement(made, missed)
    assert both.requirements[1] == Requirement(
        "r2", Condition("missed_at_least", Fraction(2), "c-i"), Consequence("letters_down", Fraction(1), for_each=True)
    )
    changed = edit_rules.put_requirement(both, replace(missed, consequence="percent_down", amount="1.5"), 1)
    assert changed.requirements[1].id == "r2"
    assert edit_rules.remove_requirement(changed, 1) == made


def test_what_is_only_recorded() -> None:
    made = edit_rules.put_recorded(PLAN, "Absences", used=["i7"])
    assert made.recorded == (RecordedItem("i8", "Absences"),)
    above = TypedRequirement("value_above", "item i8", "3", "percent_down", "2")
    assert edit_rules.put_requirement(made, above).requirements[0].condition == Condition(
        "value_above", Fraction(3), item="i8"
    )
    assert refused(edit_rules.put_requirement, made, replace(above, condition="percent_below")) == "subject"
    assert edit_rules.put_recorded(made, "Days missed", place=0).recorded == (RecordedItem("i8", "Days missed"),)
    assert edit_rules.remove_recorded(made, 0) == PLAN


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        (replace(BELOW, subject=""), "subject"),
        (replace(BELOW, subject="item gone"), "subject"),
        (replace(BELOW, threshold="much"), "threshold"),
        (replace(BELOW, amount="Z"), "amount"),
        (replace(BELOW, consequence="letters_down", amount="0"), "amount"),
        (replace(BELOW, consequence="letters_down", amount="1", for_each=True), "for_each"),
        (replace(BELOW, condition="missed_at_least"), "subject"),
        (replace(BELOW, condition="value_above", subject="category c-i"), "subject"),
        (replace(BELOW, condition="missed_at_least", subject="category c-i", threshold="0"), "threshold"),
        (replace(BELOW, condition="missed_at_least", subject="category c-i", threshold="1.5"), "threshold"),
        (replace(BELOW, text="x" * 3000), "text"),
    ],
)
def test_requirements_that_cannot_be(typed: TypedRequirement, field: str) -> None:
    assert refused(edit_rules.put_requirement, PLAN, typed) == field


def test_points_for_everyone() -> None:
    made = edit_rules.set_added(PLAN, "2")
    assert made.added == 2
    assert edit_rules.set_added(made, " ") == PLAN
    assert refused(edit_rules.set_added, PLAN, "-2") == "added"
