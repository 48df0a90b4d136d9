"""A pair of points or a percent typed in the place of a grade."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.core.small_class import small_class
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.plan.plan import Rounding, ScaleRow
from vinemark.core.settle.pair import of_pair

OF = small_class()


@pytest.mark.parametrize(
    ("typed", "grade", "reason"),
    [
        # 600/641 = 93.603744 (arithmetic).
        ("600/641", "A", "600/641 = 93.6037%"),
        (" 153 / 223 ", "D", "153 / 223 = 68.6099%"),
        ("87,5/100", "B", "87,5/100 = 87.5000%"),
        ("89.9%", "B", "89.9% = 89.9000%"),
        ("0/641", "F", "0/641 = 0.0000%"),
        ("700/641", "A", "700/641 = 109.2044%"),
    ],
)
def test_a_pair_is_the_letter_that_it_gets(typed: str, grade: str, reason: str) -> None:
    found = of_pair(OF, "ada", Settled(typed))
    assert (found.grade, found.reason) == (grade, reason)


def test_the_letter_follows_the_plans_rounding() -> None:
    whole = replace(OF, plan=replace(OF.plan, rounding=Rounding(0)))
    exact = replace(OF, plan=replace(OF.plan, rounding=None))
    assert of_pair(whole, "ada", Settled("179/200")).grade == "A"
    assert of_pair(exact, "ada", Settled("179/200")).grade == "B"


def test_on_the_pass_basis_it_is_the_code_of_that_letter() -> None:
    assert of_pair(OF, "bo", Settled("95/100")).grade == "P"
    assert of_pair(OF, "bo", Settled("5/100")).grade == "NP"


def test_a_reason_that_was_typed_stands_behind_it() -> None:
    assert of_pair(OF, "ada", Settled("9/10", " on paper ")).reason == "9/10 = 90.0000%: on paper"


@pytest.mark.parametrize("typed", ["B", "A-", "n/a", "9/x", "I", "9 of 10", ""])
def test_what_is_no_pair_stays_as_it_is(typed: str) -> None:
    assert of_pair(OF, "ada", Settled(typed)) == Settled(typed)


def test_nothing_is_earned_of_nothing() -> None:
    with pytest.raises(Refused, match="of 0 points"):
        of_pair(OF, "ada", Settled("5/0"))


def test_without_a_letter_for_it_nothing_is_settled() -> None:
    high = replace(OF, plan=replace(OF.plan, scale=(ScaleRow("A", Fraction(90)),)))
    with pytest.raises(Refused, match="no letter"):
        of_pair(high, "ada", Settled("1/10"))
