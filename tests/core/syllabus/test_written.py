"""A reading in its open format."""

import json
from fractions import Fraction

import pytest

from tests.syllabus.documents import DOCUMENTS, Document
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.facts import SaidRounding
from vinemark.core.syllabus.written import SYLLABUS_FORMAT, from_json, number_text, syllabus_json


@pytest.mark.parametrize(
    ("value", "text"), [(None, None), (Fraction(25, 2), "12.5"), (Fraction(100, 3), "33.33"), (Fraction(5), "5")]
)
def test_figures(value: Fraction | None, text: str | None) -> None:
    assert number_text(value) == text


@pytest.mark.parametrize("document", DOCUMENTS[:12], ids=lambda d: d.name)
def test_written_read_and_written_again_it_says_the_same(document: Document) -> None:
    first = syllabus_json(read_syllabus(document.text))
    assert first["format"] == SYLLABUS_FORMAT
    assert syllabus_json(from_json(json.loads(json.dumps(first)))) == first


def test_no_rounding_and_not_rounded_are_two_things() -> None:
    reading = read_syllabus("Homework 40%, exams 60%.")
    assert syllabus_json(reading)["rounding"] is None
    reading.rounding = SaidRounding(None)
    assert syllabus_json(reading)["rounding"] == {"decimals": None}
    again = from_json(syllabus_json(reading)).rounding
    assert (again is not None, again and again.decimals) == (True, None)
