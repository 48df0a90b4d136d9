"""Readers of single values: what they take, and what they refuse at its place."""

from collections.abc import Callable
from datetime import date
from fractions import Fraction

import pytest

from vinemark.core.base.number import MAX_DIGITS
from vinemark.core.base.refused import (
    Keys,
    NumberText,
    Refused,
    above_zero,
    any_text,
    count,
    flag,
    iso_day,
    number,
    one_of,
    ratio,
    refuse_repeat,
    rows,
    text,
    whole_number,
)


@pytest.mark.parametrize(
    ("spelled", "value"),
    [
        ("0", Fraction(0)),
        ("-0", Fraction(0)),
        ("-0.00", Fraction(0)),
        ("12.50", Fraction(25, 2)),
        ("25e-1", Fraction(5, 2)),
        ("25E-2", Fraction(1, 4)),
        ("25e-4", Fraction(25, 10000)),
        ("2.5e1", Fraction(25)),
        ("2.5e3", Fraction(2500)),
        ("1e+2", Fraction(100)),
    ],
)
def test_a_json_number_keeps_every_digit(spelled: str, value: Fraction) -> None:
    """Source: RFC 8259, section 6, for the grammar of a JSON number."""
    assert number(NumberText(spelled), "at") == value


@pytest.mark.parametrize(
    ("value", "reason"),
    [
        (NumberText("-1"), "must not be negative"),
        (NumberText("-0.1"), "must not be negative"),
        (NumberText("1e99999"), f"has more than {MAX_DIGITS} digits"),
        (NumberText("NaN"), "must be a number"),
        (1.5, "must be a number"),
        (None, "must be a number"),
    ],
)
def test_a_number_that_cannot_be_kept(value: object, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        number(value, "plan.cap")
    assert (caught.value.field, caught.value.reason) == ("plan.cap", reason)


def test_only_a_ratio_may_be_a_fraction_of_whole_numbers() -> None:
    assert ratio("1/3", "at") == Fraction(1, 3)
    with pytest.raises(Refused):
        number("1/3", "at")
    assert above_zero(ratio)("1/3", "at") == Fraction(1, 3)
    with pytest.raises(Refused, match="must be more than 0"):
        above_zero(number)("0.0", "at")


def test_a_place_is_joined_from_its_keys_and_stands_alone_at_the_top() -> None:
    keys = Keys({"a": "x"}, "", ("a", "b"))
    assert keys.at("a") == "a"
    assert Keys({}, "plan", None).at("cap") == "plan.cap"
    assert str(Refused("", "is missing")) == "is missing"
    assert str(Refused("a", "is missing")) == "a: is missing"


def test_keys_are_needed_given_or_perhaps_there() -> None:
    keys = Keys({"a": "x", "none": None}, "at", None)
    assert keys.needed("a", text) == "x"
    assert keys.given("b", text, "else") == "else"
    assert keys.maybe("b", text) is None
    assert keys.maybe("none", text) is None
    for read, reason in (
        (lambda: keys.needed("b", text), "is missing"),
        (lambda: keys.given("none", text, ""), "must be a text"),
        (lambda: Keys({"z": 1}, "at", ("a",)), "unknown key"),
        (lambda: Keys([], "at", None), "must be an object"),
    ):
        with pytest.raises(Refused, match=reason):
            read()


@pytest.mark.parametrize(
    ("read", "taken", "value", "refused"),
    [
        (text, "Lab", "Lab", ["", "  ", 1, NumberText("1"), "\ud800"]),
        (any_text, "", "", [1, None, NumberText("1"), "a\udfff"]),
        (flag, True, True, [1, "true", None]),
        (count, "12", 12, ["2.0", "-1", "", 3, "9" * (MAX_DIGITS + 1)]),
        (whole_number, 12, 12, [True, -1, "12", 2.0]),
        (iso_day, "2028-02-29", date(2028, 2, 29), ["2026-02-29", "2026-2-9", "29.02.2028", 20280229]),
        (one_of(("wait", "zero")), "zero", "zero", ["Zero", "", None]),
        (rows(text), ["a", "b"], ("a", "b"), ["ab", None, {"a": 1}]),
    ],
)
def test_a_reader(read: Callable[[object, str], object], taken: object, value: object, refused: list[object]) -> None:
    assert read(taken, "at") == value
    for one in refused:
        with pytest.raises(Refused):
            read(one, "at")


def test_a_whole_number_may_have_all_its_digits_and_not_one_more() -> None:
    assert count("9" * MAX_DIGITS, "at") == int("9" * MAX_DIGITS)


def test_a_row_is_refused_at_its_number_and_the_second_of_two_equal_ids_at_its_own() -> None:
    with pytest.raises(Refused) as caught:
        rows(text)(["a", "", "c"], "items")
    assert caught.value.field == "items[1]"
    refuse_repeat(["a", "b"], str)
    with pytest.raises(Refused) as caught:
        refuse_repeat(["a", "b", "b", "a"], lambda i: f"items[{i}].id")
    assert (caught.value.field, caught.value.reason) == ("items[2].id", "“b” is there twice")
