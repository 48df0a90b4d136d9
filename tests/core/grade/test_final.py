"""From the percent of the categories to the letter, in the order of the contract. Worked by hand."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings

from tests.builders import DURING, TENS, plan
from tests.core.strategies import ruled_courses
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.final import final_letter, final_percent
from vinemark.core.grade.letters import Letters, rounded_percent
from vinemark.core.grade.requirements import NotMet
from vinemark.core.plan.plan import Rounding
from vinemark.core.plan.rules import Condition, Consequence, ConsequenceKind, Requirement


def unmet(kind: ConsequenceKind, amount: str | int = 0, letter: str = "", times: int = 1) -> NotMet:
    condition = Condition("value_above", Fraction(0), item="x")
    return NotMet(Requirement("r", condition, Consequence(kind, Fraction(amount), letter)), times)


OF = plan(cap=Fraction(100), added=Fraction("1.5"))


@pytest.mark.parametrize(
    ("before", "adjustment", "not_met", "percent"),
    [
        ("80", "0", [], "81.5"),
        ("99", "0", [], "100"),  # capped after what is added
        ("99", "-5", [], "95.5"),
        ("80", "-100", [], "0"),  # never below 0
        ("80", "0", [unmet("percent_down", 2, times=3)], "75.5"),
        ("80", "0", [unmet("percent_at_most", "69.5")], "69.5"),
        ("80", "0", [unmet("percent_at_most", 69), unmet("percent_at_most", 59)], "59"),
        ("50", "0", [unmet("percent_at_most", 69)], "51.5"),
    ],
)  # fmt: skip
def test_the_percent(before: str, adjustment: str, not_met: list[NotMet], percent: str) -> None:
    assert final_percent(OF, Fraction(before), Fraction(adjustment), not_met) == Fraction(percent)


@pytest.mark.parametrize(
    ("not_met", "letter"),
    [
        ([], "B"),
        ([unmet("letters_down", 1)], "C"),
        ([unmet("letters_down", 1, times=9)], "F"),
        ([unmet("letter_at_most", letter="A")], "B"),
        ([unmet("letter_at_most", letter="D")], "D"),
        ([unmet("letter_at_most", letter="C"), unmet("letters_down", 1)], "C"),  # down first, then at most
        ([unmet("letters_down", 1), unmet("letters_down", 1), unmet("letter_at_most", letter="C")], "D"),
    ],
)
def test_the_letter(not_met: list[NotMet], letter: str) -> None:
    assert final_letter(Letters(OF), "B", not_met) == letter


def test_rows_down_go_by_cutoff_whatever_the_order_of_the_scale() -> None:
    shuffled = replace(OF, scale=(TENS[2], TENS[4], TENS[0], TENS[3], TENS[1]))
    assert final_letter(Letters(shuffled), "A", [unmet("letters_down", 2)]) == "C"


def test_without_a_scale_letters_are_left_alone() -> None:
    assert final_letter(Letters(replace(OF, scale=())), None, [unmet("letters_down", 1)]) is None


def test_it_is_rounded_once_after_all_of_it() -> None:
    rounds = replace(OF, rounding=Rounding(0))
    percent = final_percent(rounds, Fraction("87.9"), Fraction("0.05"), [])
    assert (percent, rounded_percent(rounds.rounding, percent)) == (Fraction("89.45"), 89)
    assert Letters(rounds).of_exact(percent) == "B"


@settings(max_examples=60)
@given(ruled_courses())
def test_a_letter_never_rises_by_a_requirement(of: Course) -> None:
    order = [row.letter for row in TENS]
    for found in grades_of(of, DURING).values():
        if found.letter is not None and found.letter_by_percent is not None:
            assert order.index(found.letter) >= order.index(found.letter_by_percent)
