"""The further rules of a course file: defaults, and every refusal at its place."""

from copy import deepcopy
from fractions import Fraction
from typing import Any

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.read_plan import read_plan
from vinemark.core.plan.rules import Alternative, Condition, Consequence, LateRule, Replacement, Requirement

PLAN: dict[str, Any] = {
    "basis": "weighted",
    "scale": [{"letter": "A", "from": "90"}, {"letter": "C", "from": "70"}, {"letter": "F", "from": "0"}],
    "categories": [
        {"id": "quiz", "name": "Quizzes", "weight": "60", "items": [
            {"id": "q1", "name": "Quiz 1", "points": "10"}, {"id": "qx", "name": "Bonus", "points": "5", "extra": True},
        ]},
        {"id": "final", "name": "Final", "weight": "40", "items": [{"id": "f", "name": "Final", "points": "100"}]},
        {"id": "more", "name": "More", "weight": "3", "extra": True,
         "items": [{"id": "x", "name": "X", "points": "1"}]},
    ],
}  # fmt: skip
REPLACE = {"from": "f", "into": "quiz"}
ALT = {"id": "a", "name": "Final more", "weights": {"quiz": "20", "final": "100/3"}}
BELOW = {"category": "final", "percent_below": "60"}


def with_rules(**rules: Any) -> dict[str, Any]:
    return {**deepcopy(PLAN), **rules}


def required(condition: Any, consequence: Any, **more: Any) -> dict[str, Any]:
    return with_rules(requirements=[{"id": "r1", "if": condition, "then": consequence, **more}])


def test_defaults() -> None:
    plan = read_plan(with_rules(replacements=[REPLACE], alternatives=[ALT]))
    assert plan.replacements == (Replacement("f", "quiz", 1, True),)
    assert plan.alternatives == (Alternative("a", "Final more", {"quiz": Fraction(20), "final": Fraction(100, 3)}),)
    assert (plan.requirements, plan.added, plan.recorded) == ((), 0, ())
    found = with_rules()
    found["categories"][0]["late"] = {"per_day": "10"}
    assert read_plan(found).categories[0].late == LateRule(Fraction(10), "points", None, 0, None, 0)


def test_a_requirement() -> None:
    plan = read_plan(required({"item": "q1", "value_above": "3"}, {"letters_down": "1", "for_each": True}))
    wanted = Requirement(
        "r1", Condition("value_above", Fraction(3), item="q1"), Consequence("letters_down", Fraction(1), for_each=True)
    )
    assert plan.requirements == (wanted,)


def test_without_a_scale_or_with_a_broken_one_letters_are_not_checked() -> None:
    broken = required(BELOW, {"letter_at_most": "Z"})
    broken["scale"] = [{"letter": "A", "from": "90"}]
    assert read_plan(broken).requirements
    assert read_plan({**broken, "scale": None}).requirements


def late(**more: Any) -> dict[str, Any]:
    found = with_rules()
    found["categories"][0]["late"] = more
    return found


def symbols(*rows: Any) -> dict[str, Any]:
    found = with_rules()
    found["categories"][0]["symbols"] = [{"symbol": one, "percent": "50"} for one in rows]
    return found


AT_LEAST = {"category": "quiz", "missed_at_least": "2"}
ONE_OFF = {"percent_down": "1"}
NO_EXTRA = "is extra credit, which replaces nothing"
EACH = "goes with letters_down or percent_down, and with value_above or missed_at_least"
WITH_EXTRA = {**ALT, "weights": {"quiz": "20", "final": "80", "more": "1"}}


def replacing(**more: Any) -> dict[str, Any]:
    return with_rules(replacements=[{**REPLACE, **more}])


REFUSED = [
    (late(), "categories[0].late.per_day: is missing"),
    (late(per_day="100.5"), "categories[0].late.per_day: must be 100 or less"),
    (late(per_day="5", last_day="0"), "categories[0].late.last_day: must be 1 or more"),
    (late(per_day="5", of="days"), "categories[0].late.of: must be one of points, score"),
    (symbols("ok", "ok"), "categories[0].symbols[1].symbol: “ok” is there twice"),
    (symbols("Missing"), "categories[0].symbols[0].symbol: cannot be “Missing”, which is typed for missing or exempt"),
    (symbols("9.5"), "categories[0].symbols[0].symbol: must not be a number"),
    (symbols("x" * 21), "categories[0].symbols[0].symbol: must not be longer than 20 characters"),
    (replacing(**{"from": "no"}), "replacements[0].from: unknown item"),
    (replacing(**{"from": "qx"}), f"replacements[0].from: {NO_EXTRA}"),
    (replacing(**{"from": "x"}), f"replacements[0].from: {NO_EXTRA}"),
    (replacing(into="no"), "replacements[0].into: unknown category"),
    (replacing(into="more"), "replacements[0].into: is extra credit, in which nothing is replaced"),
    (replacing(count="0"), "replacements[0].count: must be 1 or more"),
    (with_rules(alternatives=[ALT], basis="points"), "alternatives[0]: goes with a weighted plan only"),
    (with_rules(alternatives=[ALT, ALT]), "alternatives[1].id: “a” is there twice"),
    (with_rules(alternatives=[{**ALT, "weights": {"quiz": "1"}}]),
     "alternatives[0].weights.final: is missing: every ordinary category needs a weight"),
    (with_rules(alternatives=[WITH_EXTRA]), "alternatives[0].weights.more: is extra credit, which keeps its weight"),
    (with_rules(added="-1"), "added: must not be negative"),
    (required({**BELOW, "item": "f"}, ONE_OFF), "requirements[0].if: needs one of category, item, not category, item"),
    (required({"category": "quiz"}, ONE_OFF),
     "requirements[0].if: needs one of percent_below, missed_at_least, value_above"),
    (required({"category": "quiz", "value_above": "1"}, ONE_OFF),
     "requirements[0].if.value_above: does not go with category"),
    (required({"item": "f", "missed_at_least": "1"}, ONE_OFF),
     "requirements[0].if.missed_at_least: does not go with item"),
    (required({**AT_LEAST, "missed_at_least": "0"}, ONE_OFF),
     "requirements[0].if.missed_at_least: must be 1 or more"),
    (required(BELOW, {}),
     "requirements[0].then: needs one of letter_at_most, letters_down, percent_down, percent_at_most"),
    (required(BELOW, {"letters_down": "0"}), "requirements[0].then.letters_down: must be 1 or more"),
    (required(BELOW, {"letters_down": "1", "for_each": True}), f"requirements[0].then.for_each: {EACH}"),
    (required(AT_LEAST, {"percent_at_most": "1", "for_each": True}), f"requirements[0].then.for_each: {EACH}"),
    (required(BELOW, {"letter_at_most": "B"}), "requirements[0].then.letter_at_most: is no letter of the scale"),
    (required({**BELOW, "category": "no"}, ONE_OFF), "requirements[0].if.category: unknown category"),
    (required({"item": "no", "percent_below": "1"}, ONE_OFF), "requirements[0].if.item: unknown item"),
    (with_rules(recorded=[{"id": "q1", "name": "Absences"}]), "recorded[0].id: “q1” is there twice"),
]  # fmt: skip


@pytest.mark.parametrize(("value", "refusal"), REFUSED, ids=lambda value: value if isinstance(value, str) else "")
def test_what_is_refused(value: dict[str, Any], refusal: str) -> None:
    with pytest.raises(Refused) as caught:
        read_plan(value)
    assert str(caught.value) == f"plan.{refusal}"


def test_what_is_only_recorded_serves_value_above_alone() -> None:
    recorded = [{"id": "abs", "name": "Absences"}]
    above = {**required({"item": "abs", "value_above": "3"}, {"percent_down": "1"}), "recorded": recorded}
    assert read_plan(above).recorded[0].name == "Absences"
    below = {**required({"item": "abs", "percent_below": "3"}, {"percent_down": "1"}), "recorded": recorded}
    with pytest.raises(Refused, match="unknown item"):
        read_plan(below)
