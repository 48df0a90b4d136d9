"""How many items a category has, said apart from its weight."""

import pytest

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.counts import find_counts
from vinemark.core.syllabus.read.layout import Page

CATEGORIES = [SaidCategory(name) for name in ("Map quizzes", "Lab reports", "Fieldnotes", "Poster session")]


def counts(text: str) -> list[tuple[str, int]]:
    return [(c.category.name, c.number) for c in find_counts(Page(text), CATEGORIES)]


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("You will write ten lab reports.", [("Lab reports", 10)]),
        ("The map quizzes are short. There are eight of them.", [("Map quizzes", 8)]),
        ("The fieldnotes are due on Mondays, seven sets in all.", [("Fieldnotes", 7)]),
        ("Lab reports (twelve) are graded.", [("Lab reports", 12)]),
        ("Attend at least 12 of the 15 sessions.", []),
        ("The two lowest map quizzes are dropped.", []),
        ("You may miss two map quizzes.", []),
        ("A lab report has 6 pages.", []),
        ("Up to two lab reports can be made up.", []),
        ("The lab reports may be missed; three of them mean an F.", []),
        ("Two posters hang in the hall.", []),
        ("# Fieldnotes\n\nThree outings of a day each.", []),
        ("Fieldnotes (25%): two exams of equal weight.", [("Fieldnotes", 2)]),
    ],
)
def test_counts_and_numbers_that_are_none(text: str, found: list[tuple[str, int]]) -> None:
    assert counts(text) == found
