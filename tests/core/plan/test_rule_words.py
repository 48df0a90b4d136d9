"""Further rules as sentences."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.plan.plan import Plan, Rounding
from vinemark.core.plan.rule_words import (
    added_words,
    alternative_words,
    category_rounding_words,
    item_name,
    late_words,
    plan_rule_words,
    replacement_words,
    requirement_words,
    rounding_done,
    symbol_words,
)
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    RoundTo,
    Symbol,
)
from vinemark.core.plan.sentences import plan_text, rounding_words

TEN = Fraction(10)
PLAN = replace(
    plan(category("10", "10", weight="40"), category("50", weight="60", prefix="j")),
    recorded=(RecordedItem("abs", "Absences"),),
)
LETTER_C = Consequence("letter_at_most", letter="C")
ONE_DOWN = Consequence("letters_down", Fraction(1), for_each=True)


@pytest.mark.parametrize(
    ("rule", "words"),
    [
        (LateRule(TEN), "Late work loses 10% of the item's points a day."),
        (
            LateRule(Fraction("2.5"), "score", Fraction(50), 1, 7, 3),
            "Late work loses 2.5% of its score a day, at most 50%; the first day of an item costs nothing;"
            " 3 free days a student in the category; more than 7 days late counts as 0.",
        ),
    ],
)
def test_late_work(rule: LateRule, words: str) -> None:
    assert late_words(rule) == words


def test_symbols() -> None:
    symbols = (Symbol("check+", Fraction(95)), Symbol("check", Fraction(80)))
    assert symbol_words(category("10", symbols=symbols)) == "Symbols: check+ counts as 95%, check as 80%."
    assert symbol_words(category("10")) == ""


def test_replacements() -> None:
    assert replacement_words(PLAN, Replacement("j0", "c-i")) == (
        "A better score on J 0 replaces the weakest of Category i, missing ones too."
    )
    assert replacement_words(PLAN, Replacement("j0", "c-i", 2, False)) == (
        "A better score on J 0 replaces the 2 weakest of Category i, missing ones excepted."
    )


def test_alternative_weights() -> None:
    other = Alternative("alt1", "The final counts more", {"c-i": TEN, "c-j": Fraction(90)})
    assert alternative_words(PLAN, other) == (
        "Alternative weights, The final counts more: Category i 10%, Category j 90%; the better result counts."
    )


@pytest.mark.parametrize(
    ("condition", "consequence", "words"),
    [
        (
            Condition("percent_below", Fraction(60), item="j0"),
            LETTER_C,
            "If J 0 is below 60%, the letter is at most C.",
        ),
        (
            Condition("percent_below", Fraction(60), "c-i"),
            Consequence("percent_at_most", Fraction(69)),
            "If Category i is below 60%, the percent is at most 69.",
        ),
        (
            Condition("missed_at_least", Fraction(2), "c-i"),
            Consequence("letters_down", Fraction(2)),
            "If 2 or more of Category i are missed, the letter goes down 2 steps of the scale.",
        ),
        (
            Condition("missed_at_least", Fraction(2), "c-i"),
            ONE_DOWN,
            "For each of Category i that is missed, from number 2 on, the letter goes down 1 step of the scale.",
        ),
        (
            Condition("value_above", Fraction(3), item="abs"),
            Consequence("percent_down", Fraction(2)),
            "If Absences is above 3, the percent goes down by 2.",
        ),
        (
            Condition("value_above", Fraction(3), item="abs"),
            ONE_DOWN,
            "For each whole Absences above 3, the letter goes down 1 step of the scale.",
        ),
    ],
)
def test_requirements(condition: Condition, consequence: Consequence, words: str) -> None:
    assert requirement_words(PLAN, Requirement("r1", condition, consequence)) == words


def test_rounding() -> None:
    assert category_rounding_words(RoundTo(0, "up")) == "Its percent is always rounded up to a whole number."
    assert rounding_words(Rounding(1, "exact", "down")) == (
        "The percent is always rounded down to one decimal; the letter uses the exact percent."
    )
    assert [rounding_done(Rounding(0, "rounded", way)) for way in ("nearest", "up", "down")] == [
        "Rounded, half up", "Rounded up", "Rounded down",
    ]  # fmt: skip


def test_a_plan_says_all_of_them() -> None:
    ruled: Plan = replace(
        PLAN,
        categories=(replace(PLAN.categories[0], late=LateRule(TEN), rounding=RoundTo(0)), PLAN.categories[1]),
        requirements=(Requirement("r1", Condition("value_above", Fraction(3), item="abs"), LETTER_C),),
        added=Fraction(2),
    )
    text = plan_text(ruled)
    assert "Late work loses 10% of the item's points a day." in text.splitlines()[1]
    assert "Its percent is rounded, half up, to a whole number." in text.splitlines()[1]
    assert list(plan_rule_words(ruled)) == [
        "If Absences is above 3, the letter is at most C.",
        "Everyone gets 2 percentage points.",
        "Recorded only: Absences.",
    ]
    assert all(words in text for words in plan_rule_words(ruled))


def test_an_item_is_named_with_its_category_where_its_name_is_not_the_only_one() -> None:
    twice = plan(category("10", prefix="a"), category("10", "20", prefix="b"))
    first, second = twice.categories
    same = replace(first, items=(replace(first.items[0], name="Final"),))
    other = replace(second, items=(replace(second.items[0], name="final"), second.items[1]))
    twice = replace(twice, categories=(same, other))
    assert [item_name(twice, item) for item in ("a0", "b0", "b1", "gone")] == [
        "Final of Category a", "final of Category b", "B 1", "gone",
    ]  # fmt: skip


def test_one_point_for_everyone_is_one_point() -> None:
    assert added_words(plan(category("10"), added=Fraction(1))) == "Everyone gets 1 percentage point."
