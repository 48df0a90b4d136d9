"""How many items a category has, said apart from its weight."""

import pytest

from vinemark.core.syllabus import read_syllabus
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


@pytest.mark.parametrize("told", [
    "The final jury is two pieces and all major scales.", "After each check you write two playing checks of others.",
    "It is on October 14, 9 to 10:15.", "Bring 6 sources to the jury, 2 of them new.",
])  # fmt: skip
def test_the_parts_of_one_event_a_rate_a_time_of_day_and_others_are_no_count(told: str) -> None:
    text = f"# Grading\n\n- Playing checks: 60%\n- Final jury: 40%\n\n{told}\n"
    assert [(one.name, one.count) for one in read_syllabus(text).categories] == [
        ("Playing checks", None), ("Final jury", None)
    ]  # fmt: skip
