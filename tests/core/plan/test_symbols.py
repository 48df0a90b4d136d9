"""What can be a symbol, and what it is worth."""

from fractions import Fraction

import pytest

from vinemark.core.plan.plan import Category, Item
from vinemark.core.plan.rules import Symbol
from vinemark.core.plan.symbols import is_number, symbol_fault, symbol_value

MAPS = Category("m", "Maps", symbols=(Symbol("check+", Fraction(110)), Symbol("check-", Fraction("66.67"))))
MAP = Item("m1", "Map 1", Fraction(8))


def test_a_symbol_is_a_percent_of_the_points_and_may_be_above_them() -> None:
    assert symbol_value(MAPS, MAP, "check+") == Fraction(44, 5)
    assert symbol_value(MAPS, MAP, "check-") == Fraction("5.3336")
    assert symbol_value(MAPS, MAP, "check") is None


@pytest.mark.parametrize("text", ["check+", "✓−", "ok", "none yet", "M+", "2nd", "+"])
def test_what_can_be_one(text: str) -> None:
    assert symbol_fault(text) == ""


@pytest.mark.parametrize("text", ["", "  ", "m", "X", "EXEMPT", " missing ", "8", "8.5", "-3", "x" * 21])
def test_what_cannot(text: str) -> None:
    assert symbol_fault(text)


def test_numbers() -> None:
    assert is_number("8.5")
    assert is_number("-3")
    assert not is_number("3a")
