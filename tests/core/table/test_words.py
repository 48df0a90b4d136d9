"""Words that tell rows and columns apart; each hint holds for the words it is for and for no score's heading."""

import re

import pytest

from vinemark.core.table import words

WORK = ("Quiz 1", "Lab 2", "Midterm", "Final exam", "Field notebook", "Project", "Homework 10", "Essay", "Attendance 3")


@pytest.mark.parametrize(
    ("pattern", "texts"),
    [
        (words.ID_HEADING, ("ID", "Student ID", "Student No.", "SID", "id number")),
        (words.FAMILY_HEADING, ("Last", "Last name", "family_name", "Surname")),
        (words.GIVEN_HEADING, ("First", "Given name", "given_name", "Forename")),
        (words.NAME_HEADING, ("Name", "Student", "Full name", "Name (last, first)")),
        (words.SECTION_HEADING, ("Section", "Sec.", "Lab section")),
        (words.STATUS_HEADING, ("Status", "Enrollment status", "Enrolled?")),
        (words.TOTAL_HEADING, ("Total", "Course total", "Final grade", "Overall %", "Running total", "percent")),
        (words.LETTER_HEADING, ("Letter", "Grade", "Final grade", "Ltr", "Course letter grade")),
        (words.POINTS_LABEL, ("Points", "Points possible", "Out of", "Max", "Max. score")),
        (words.WEIGHT_LABEL, ("Weight", "Weights (%)", "% of grade")),
        (words.FIGURES_LABEL, ("Average", "Class mean", "Std Dev", "High", "Number who passed")),
    ],
)
def test_a_hint_holds_for_its_words_and_for_no_work(pattern: re.Pattern[str], texts: tuple[str, ...]) -> None:
    for text in texts:
        assert pattern.fullmatch(text), text
    for text in WORK:
        assert not pattern.fullmatch(text), text


def test_who_has_left_and_what_is_dropped() -> None:
    assert words.HAS_LEFT.search("dropped the course Oct 3")
    assert words.HAS_LEFT.search("W 10/12")
    assert not words.HAS_LEFT.search("dropped the lowest quiz")
    assert not words.HAS_LEFT.search("writes well")


@pytest.mark.parametrize("name", ["Student, Test", "Test Student", "Sample student"])
def test_a_student_on_trial_is_nobody(name: str) -> None:
    assert words.TRIAL_STUDENT.search(name)
    assert not words.TRIAL_STUDENT.search("Testa, Stu")


@pytest.mark.parametrize(
    ("text", "said"), [("student_id", "student id"), ("Points →", "Points"), ("Max.:", "Max"), ("%", "%"), ("", "")]
)
def test_headings_as_they_are_matched(text: str, said: str) -> None:
    assert words.as_label(text) == said
