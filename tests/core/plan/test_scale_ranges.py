"""Ranges that leave a gap or lie over one another (common practice, no source)."""

from fractions import Fraction

import pytest

from vinemark.core.plan.plan import ScaleRow
from vinemark.core.plan.scale_ranges import range_faults, range_faults_of_rows, said_of_ranges


@pytest.mark.parametrize(
    ("text", "faults"),
    [
        ("A 90-100, B 80-89, C 70-79, F 0-69", []),
        ("A 90-100, B 80-89.99, C 70-79.99", []),
        ("A: 225-250, B: 200-224, C: 175-199", []),
        ("A 93+, B 85, C below 70", []),
        ("A 93-100, B 85-91, C 70-84", ["92 is in no range: it is a B here"]),
        ("A 225-250, B 190-220, C 0-189", ["221 to 224 is in no range: it is a B here"]),
        ("A 90-100, B 80-90, C 70-80", ["90 is in two ranges: it is an A here", "80 is in two ranges: it is a B here"]),
        ("A 90-100\nB 78-92", ["90 to 92 is in two ranges: it is an A here"]),
        ("B 80-89.5, A 90-100", ["89.6 to 89.9 is in no range: it is a B here"]),
    ],
)
def test_gaps_and_overlaps(text: str, faults: list[str]) -> None:
    assert [fault.words for fault in range_faults(text)] == faults


def test_they_end_a_sentence() -> None:
    assert said_of_ranges("A 90-100, B 80-89") == ""
    assert said_of_ranges("A 93-100, B 85-91") == "; 92 is in no range: it is a B here"


def test_they_are_said_at_the_row_that_gets_the_value() -> None:
    scale = [ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in (("A", 93), ("B", 85), ("C", 70))]
    text = "A 93-100, B 85-91, C 70-85"
    assert range_faults_of_rows(text, scale) == {1: "85 is in two ranges: it is a B here"}
    assert range_faults_of_rows("A 93-100, B 85-91", scale) == {1: "92 is in no range: it is a B here"}
    assert range_faults_of_rows("", scale) == {}
