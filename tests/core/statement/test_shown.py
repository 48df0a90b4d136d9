"""What an instructor lets students see, said in one sentence and kept as switches."""

from dataclasses import asdict

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.statement.shown import SEEN_WORDS, StudentsSee, read_students_see


def test_a_choice_is_one_sentence() -> None:
    assert StudentsSee().words == (
        "Of work that is visible students see each score in points, percents and how the grade is worked out, the"
        " letter so far, what scores still to come would do and a way to ask about a score."
    )
    assert StudentsSee(True, False, False, False, False, False).words.endswith("students see each score in points.")
    assert (
        StudentsSee(False, False, False, False, False, False).words
        == "Students see which work there is, and no figure."
    )


def test_every_switch_has_words_and_is_kept() -> None:
    assert set(SEEN_WORDS) == set(asdict(StudentsSee()))
    chosen = StudentsSee(figures=True, letter=False)
    assert read_students_see(asdict(chosen)) == chosen
    assert read_students_see({"points": False}) == StudentsSee(points=False)


@pytest.mark.parametrize("kept", [None, [], {"grade": True}, {**asdict(StudentsSee()), "letter": "yes"}])
def test_what_is_no_choice_is_refused(kept: object) -> None:
    with pytest.raises(Refused, match="yes or no"):
        read_students_see(kept)
