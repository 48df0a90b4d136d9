"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vinemark.core.syllabus.read.normal import even, lowered, part_of, value_of
from vinemark.core.syllabus.written import number_text


@pytest.mark.parametrize(
    ("text", "value"),
    [("12.5", "25/2"), ("1,000", "1000"), ("2/3", "2/3"), ("twenty-five", "25"), ("a dozen", "12"), ("½", "1/2"),
     ("seventeen %", "17"), ("2½", "5/2"), ("forty", "40"), ("one hundred", "100")],
)  # fmt: skip
def test_numbers_as_people_write_them(text: str, value: str) -> None:
    assert value_of(text) == Fraction(value)


def test_parts_and_no_numbers() -> None:
    assert [part_of(t) for t in ("a fifth", "two thirds", "half", "one-quarter", "another fifth")] == [
        Fraction(1, 5), Fraction(2, 3), Fraction(1, 2), Fraction(1, 4), Fraction(1, 5),
    ]  # fmt: skip
    words = {
        "a tenth": 10,
        "a twelfth": 12,
        "a twentieth": 20,
        "a sixth": 6,
        "a seventh": 7,
        "an eighth": 8,
        "a ninth": 9,
    }
    assert {word: part_of(word) for word in words} == {word: Fraction(1, by) for word, by in words.items()}
    assert value_of("many") is None
    assert part_of("") is None
    assert number_text(Fraction(100, 3)) == "33.33"


@given(st.text(max_size=300))
@settings(deadline=None)
def test_signs_are_made_even_in_place(text: str) -> None:
    assert len(even(text)) == len(lowered(text)) == len(text)
