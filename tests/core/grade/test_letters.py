"""Letters at and beside every cutoff."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import TENS, category, plan
from vinemark.core.grade.letters import Letters, letter_for, lowest_exact, next_letter
from vinemark.core.plan.plan import Plan, Rounding, ScaleRow

SCALE = tuple(ScaleRow(x, Fraction(c)) for x, c in zip("ABCDF", (92, 85, 70, 60, 0), strict=True))


@pytest.mark.parametrize(
    ("percent", "letter"),
    [("59.99", "F"), ("60", "D"), ("69.99", "D"), ("70", "C"), ("84.99", "C"), ("85", "B"), ("91.99", "B"),
     ("92", "A"), ("100", "A"), ("104", "A"), ("0", "F")],
)  # fmt: skip
def test_letters_at_and_beside_every_cutoff(percent: str, letter: str) -> None:
    """Common practice, no source: a cutoff belongs to the letter it begins."""
    assert letter_for(plan(scale=SCALE), Fraction(percent)) == letter


def test_cutoffs_in_points_of_165() -> None:
    """Arithmetic: 92, 85, 70 and 60 percent of 165 points are 151.8, 140.25, 115.5 and 99."""
    for points, letter in (("151.8", "A"), ("140.25", "B"), ("115.5", "C"), ("99", "D"), ("98.99", "F")):
        assert letter_for(plan(scale=SCALE), 100 * Fraction(points) / 165) == letter


def test_the_letter_uses_the_rounded_percent_unless_told_otherwise() -> None:
    of = plan(category("10"), decimals=0)
    exact = Plan("weighted", of.categories, TENS, Rounding(0, "exact"))
    assert letter_for(of, Fraction("89.5")) == "A"
    assert letter_for(of, Fraction("89.4999")) == "B"
    assert letter_for(exact, Fraction("89.9")) == "B"


@given(
    st.integers(0, 3),
    st.decimals(min_value=1, max_value=100, places=3),
    st.integers(1, 10**6),
)
def test_lowest_exact_is_the_very_edge(decimals: int, cutoff: object, step: int) -> None:
    """At the lowest exact percent the next letter is reached, the least bit below it is not."""
    at = Fraction(str(cutoff))
    of = Plan("weighted", (), (ScaleRow("A", at), ScaleRow("F", Fraction(0))), Rounding(decimals))
    edge = lowest_exact(of, at)
    assert letter_for(of, edge) == "A"
    assert letter_for(of, edge - Fraction(1, 10**9 + step)) == "F"


def test_next_letter_says_how_much_is_missing() -> None:
    found = next_letter(plan(decimals=0), Fraction("89.2"))
    assert found is not None
    assert (found.letter, found.short_by) == ("A", Fraction("0.3"))
    assert next_letter(plan(), Fraction(90)) is None


@pytest.mark.parametrize(
    ("percent", "near"),
    [("89.5", False), ("89.51", True), ("90", False), ("59.6", True), ("99", False), ("89.999", True)],
)
def test_near_is_less_than_half_a_percent_below_a_cutoff(percent: str, near: bool) -> None:
    assert Letters(plan(category("100"))).near(Fraction(percent)) is near
