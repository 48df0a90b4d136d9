"""Words that name work, and words that end a name."""

import pytest

from vinemark.core.syllabus.read.lexicon import is_stop, is_work


@pytest.mark.parametrize("word", ["quiz", "quizzes", "labs", "take-home", "homework", "critiques", "letters"])
def test_names_of_work(word: str) -> None:
    assert is_work(word)
    assert not is_stop(word)


@pytest.mark.parametrize("word", ["the", "counts", "worth", "roughly", "seven"])
def test_words_that_end_a_name(word: str) -> None:
    assert is_stop(word)
    assert not is_work(word)
