"""Amounts joined to names within a sentence."""

import pytest

from vinemark.core.syllabus.read.attach import joined


def pairs(text: str) -> list[tuple[str, str, str]]:
    return [
        (one.phrase.text if one.phrase else "", str(one.amount.value), "each" if one.each else "")
        for one in joined(text)
    ]


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("the portfolio, a binder you keep about one child, brings 140 points.", [("portfolio", "140", "")]),
        ("25% comes from homework, 75% from the final.", [("homework", "25", ""), ("final", "75", "")]),
        ("the essay counts 15%, the talk 10%.", [("essay", "15", ""), ("talk", "10", "")]),
        ("two essays, at 20 per cent each", [("essays", "20", "each")]),
        ("the journal has gone up from 15% to 25%", [("journal", "25", "")]),
        ("take the jury seriously, since 15% of the grade hinges on it.", [("jury", "15", "")]),
        ("attendance and participation: 10%", [("attendance and participation", "10", "")]),
        (
            "homework, quizzes and exams count 20%, 30% and 50%.",
            [("homework", "20", ""), ("quizzes", "30", ""), ("exams", "50", "")],
        ),
        ("10% is for keeping the studio in order.", [("keeping the studio in order", "10", "")]),
        ("the last ten percent is taking part in class.", [("taking part in class", "10", "")]),
        (
            "relief (15%) and a final edition in a process of your choice (25%)",
            [("relief", "15", ""), ("final edition", "25", "")],
        ),
        ("and the final practical, in which you key out ten unknown plants, 25%.", [("final practical", "25", "")]),
        ("grading: pots 50%; kiln log 20%", [("pots", "50", ""), ("kiln log", "20", "")]),
    ],
)
def test_each_amount_finds_its_name(text: str, found: list[tuple[str, str, str]]) -> None:
    assert pairs(text) == found


def test_a_pronoun_without_a_name_is_left_to_the_sentence_before() -> None:
    (one,) = joined("together they make up 20% of the grade.")
    assert one.phrase is None
    assert one.pronoun
    assert one.total


def test_an_amount_for_all_that_was_spoken_of() -> None:
    (one,) = joined("i count the best four, for a total of 40% of the grade.")
    assert (one.phrase, one.pronoun) == (None, True)
    assert joined("i was there for 40% of the time.") == []


def test_two_works_with_an_amount_each() -> None:
    parted = joined("midterm and final exams (15% and 25%).", frozenset({"midterm and final exams"}))
    assert [(one.phrase.text if one.phrase else "", one.amount.value) for one in parted] == [
        ("midterm", 15), ("final exams", 25),
    ]  # fmt: skip
