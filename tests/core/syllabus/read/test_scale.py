"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.shown import gap_question
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.scale import read_scale
from vinemark.core.syllabus.read.tables import tables_of


def test_a_gap_between_whole_number_ranges_is_a_question() -> None:
    """89.5 on '80–89, 90–100': rounded, or cut?"""
    text = "Exam 100% of your grade. A 90–100, B 80–89, C 70–79."
    assert gap_question(read_syllabus(text), text) == ("A", Fraction("89.5"))
    for said in (
        text + " Final grades are not rounded.",
        text.replace("90–100", "90").replace("80–89", "80").replace("70–79", "70"),
    ):
        assert gap_question(read_syllabus(said), said) is None


def scale(text: str) -> dict[str, Fraction]:
    page = Page(text)
    found = read_scale(page, tables_of(page))
    return {row.letter: row.cutoff for row in found.rows} if found else {}


def test_as_many_letters_as_numbers_between_strokes() -> None:
    found = {"A": 93, "A-": 90, "B+": 87, "B": 83, "C": 70}
    assert scale("Letters: 93/90/87/83/70 for A/A-/B+/B/C.") == found
    assert scale("Letters: A / A- / B+ / B / C begin at 93 / 90 / 87 / 83 / 70.") == found
    assert scale("Letters: 90, 80, 70 and 60 percent for A, B, C and D.") == TENS
    assert scale("93-90-87-83-70 are the lower limits of A, A-, B+, B and C.") == found
    assert scale("Letters: 93/90/87/83 for A/A-/B+/B/C.") != found


def test_a_number_beside_a_letter_that_is_not_given() -> None:
    text = "Write 1500 words. A+ is not given. A 90, B 80, C 70, D 60."
    assert scale(text) == TENS


TENS = {"A": 90, "B": 80, "C": 70, "D": 60}


@pytest.mark.parametrize(
    "text",
    [
        "| Grade | Minimum | Grade | Minimum |\n|---|---|---|---|\n| A | 90 | C | 70 |\n| B | 80 | D | 60 |\n",
        "| A | B | C | D |\n|---|---|---|---|\n| 90+ | 80+ | 70+ | 60+ |\n",
        "| 90-100 | A | 4.0 |\n| 80-89 | B | 3.0 |\n| 70-79 | C | 2.0 |\n| 60-69 | D | 1.0 |\n",
        "A 100-90\nB 89-80\nC 79-70\nD 69-60\n",
        "You need 90 for an A, 80 for a B, 70 for a C and 60 for a D.",
        "Ninety percent earns an A, eighty a B, seventy a C, sixty a D.",
        "A 90 or better is an A, an 80 or better is a B, a 70 or better is a C, a 60 or better is a D.",
        "The cutoffs for A, B, C and D are 90, 80, 70 and 60.",
        "| A | 450-500 | 90-100% |\n| B | 400-449 | 80-89% |\n| C | 350-399 | 70-79% |\n| D | 300-349 | 60-69% |\n",
    ],
)
def test_one_scale_in_many_layouts(text: str) -> None:
    """Source: the layouts are common practice; the values are the plain tens."""
    assert scale(f"Letter grades\n\n{text}") == TENS


def test_the_rest_is_the_lowest_letter() -> None:
    assert scale("A is 90 and up, B 80-89, C 70-79, D 60-69; anything less is an F.") == {**TENS, "F": 0}


def test_letters_without_a_falling_set_are_no_scale() -> None:
    assert scale("Sections A, B and C meet in rooms 110, 120 and 130.") == {}
    assert scale("Vitamin A, B and C: 10, 50 and 70 milligrams.") == {}


def test_a_failing_letter_without_a_number_and_an_example_that_is_no_row() -> None:
    assert scale("A 90%, B 80%, C 70%, D 60%, F below.\n")["F"] == 0
    said = "A 90, B 80, C 70, D 60. I use pluses near a border: for instance, 88 is a B+ and 81 is a B-.\n"
    assert scale(said) == TENS


def test_cutoffs_for_letters_in_a_row_and_a_last_letter_alone() -> None:
    assert scale("90/80/70/60 for A/B/C/D.\n") == TENS
    assert scale("A (90), B (80), C (70), D (60), F.\n") == {**TENS, "F": 0}
