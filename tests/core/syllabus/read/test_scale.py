"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from fractions import Fraction

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.shown import gap_question


def test_a_gap_between_whole_number_ranges_is_a_question() -> None:
    """89.5 on '80–89, 90–100': rounded, or cut?"""
    text = "Exam 100% of your grade. A 90–100, B 80–89, C 70–79."
    assert gap_question(read_syllabus(text), text) == ("A", Fraction("89.5"))
    for said in (
        text + " Final grades are not rounded.",
        text.replace("90–100", "90").replace("80–89", "80").replace("70–79", "70"),
    ):
        assert gap_question(read_syllabus(said), said) is None
