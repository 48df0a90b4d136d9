"""Numbers: read exactly, rounded half up."""

from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vinemark.core.base.number import (
    NotANumber,
    ends,
    exact_text,
    fixed,
    parse_decimal,
    parse_ratio,
    ratio_text,
    round_half_up,
    trimmed,
)


@pytest.mark.parametrize(
    ("text", "value"),
    [("8.5", Fraction(17, 2)), ("0", Fraction(0)), ("007.50", Fraction(15, 2)), ("0." + "3" * 39, None)],
)
def test_decimal_text_is_read_exactly(text: str, value: Fraction | None) -> None:
    assert parse_decimal(text) == (value if value is not None else Fraction(int("3" * 39), 10**39))


@pytest.mark.parametrize("text", ["", " ", "-1", "+1", "1e3", "1,000", ".5", "5.", "٣", "1_0", "0x1", "nan", "1" * 41])
def test_what_is_no_number_is_refused(text: str) -> None:
    with pytest.raises(NotANumber):
        parse_decimal(text)


def test_a_fraction_of_two_whole_numbers() -> None:
    assert parse_ratio("100/3") == Fraction(100, 3)
    assert exact_text(Fraction(100, 3)) == "100/3"
    for text in ("1/0", "1.5/2", "/3", "1/", "1/2/3", "1" * 40 + "/3"):
        with pytest.raises(NotANumber):
            parse_ratio(text)


@given(st.decimals(min_value=0, max_value=10**9, places=7), st.integers(0, 6))
def test_half_up_agrees_with_the_decimal_module(value: Decimal, decimals: int) -> None:
    """Source: ROUND_HALF_UP of the General Decimal Arithmetic specification, by Python's decimal module."""
    expected = value.quantize(Decimal(1).scaleb(-decimals), rounding=ROUND_HALF_UP)
    assert round_half_up(Fraction(value), decimals) == Fraction(expected)
    assert fixed(Fraction(value), decimals) == f"{expected:f}"


@pytest.mark.parametrize(
    ("value", "decimals", "rounded"),
    [
        ("83.5", 0, "84"),
        ("89.5", 0, "90"),
        ("89.4999", 0, "89"),
        ("89.45", 0, "89"),
        ("83.2", 0, "83"),
        ("251/3", 0, "84"),
        ("251/3", 1, "83.7"),
        ("251/3", 2, "83.67"),
        ("90", 2, "90.00"),
        ("0.004", 2, "0.00"),
    ],
)
def test_worked_roundings(value: str, decimals: int, rounded: str) -> None:
    """Source: arithmetic; 89.45 goes to 89, never to 90 by way of 89.5."""
    assert fixed(Fraction(value), decimals) == rounded


@given(st.fractions(min_value=0, max_value=10**6, max_denominator=10**6))
def test_texts_read_back_as_the_same_number(value: Fraction) -> None:
    assert Fraction(exact_text(value)) == value
    assert Fraction(ratio_text(value)) == value
    assert abs(Fraction(trimmed(value, 6)) - value) <= Fraction(1, 2_000_000)


@pytest.mark.parametrize(
    ("value", "decimals", "text"),
    [("-1/3", 2, "-0.33"), ("-5/2", 0, "-3"), ("-0.004", 2, "0.00"), ("-12", 1, "-12.0"), ("1/3", 2, "0.33")],
)
def test_a_difference_below_0_keeps_its_sign_and_0_has_none(value: str, decimals: int, text: str) -> None:
    assert fixed(Fraction(value), decimals) == text


def test_a_negative_number_is_told_apart_from_what_is_none() -> None:
    for text, why in (("-1", "must not be negative"), ("x", "must be a number, not “x”"), ("-x", "must be a number"),
                      (" ", "type a number")):  # fmt: skip
        with pytest.raises(NotANumber, match=why):
            parse_decimal(text)


def test_exactly_forty_digits_are_taken() -> None:
    assert parse_decimal("1" * 39 + ".1") == Fraction(int("1" * 40), 10)
    assert parse_ratio("1" * 20 + "/" + "3" * 20) == Fraction(int("1" * 20), int("3" * 20))
    for text in ("1" * 40 + ".1", "1" * 21 + "/" + "3" * 20):
        with pytest.raises(NotANumber, match="more than 40 digits"):
            parse_ratio(text)


def test_a_decimal_that_ends_is_written_so_and_another_as_a_fraction() -> None:
    assert [exact_text(Fraction(v)) for v in ("1/8", "7/20", "3", "1/7", "100/3")] == [
        "0.125",
        "0.35",
        "3",
        "1/7",
        "100/3",
    ]
    assert [ends(Fraction(v)) for v in ("1/8", "1/3", "3/10", "5")] == [True, False, True, True]
    assert trimmed(Fraction(1, 3), 2) == "0.33"
    assert trimmed(Fraction(20), 2) == "20"
