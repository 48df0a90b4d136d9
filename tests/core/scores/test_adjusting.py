"""An adjustment as it is typed and read."""

from fractions import Fraction

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Adjustment
from vinemark.core.scores.adjusting import adjustment_words, read_typed_adjustment


@pytest.mark.parametrize(
    ("typed", "percent"),
    [("1.5", "1.5"), ("+1.5", "1.5"), ("-2%", "-2"), ("−0,25", "-0.25"), (" 0 ", "0")],
)
def test_typed(typed: str, percent: str) -> None:
    assert read_typed_adjustment(typed, " as  agreed ") == Adjustment(Fraction(percent), "as agreed")


def test_nothing_typed_is_none() -> None:
    assert read_typed_adjustment(" ", "") is None


@pytest.mark.parametrize(
    ("typed", "reason", "field"), [("much", "", "percent"), ("--2", "", "percent"), ("", "why", "percent"),
                                   ("1", "x" * 3000, "reason")]
)  # fmt: skip
def test_what_cannot_be(typed: str, reason: str, field: str) -> None:
    with pytest.raises(Refused) as caught:
        read_typed_adjustment(typed, reason)
    assert caught.value.field == field


def test_in_words() -> None:
    assert adjustment_words(Adjustment(Fraction(3, 2), "agreed")) == "+1.5: agreed"
    assert adjustment_words(Adjustment(Fraction(-2))) == "−2"
