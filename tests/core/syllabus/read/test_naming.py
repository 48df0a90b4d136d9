"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

import pytest

from vinemark.core.syllabus.read.naming import clean


@pytest.mark.parametrize(
    ("said", "name", "count"),
    [("Two short papers (10 @ 20 pts)", "Short papers", 2), ("the final exam, ", "Final exam", None),
     ("each of the three midterms is worth", "Midterms", 3), ("Exam 1", "Exam 1", None), ("12 quizzes", "Quizzes", 12),
     ("Participation and attendance", "Participation and attendance", None), ("Midterm II:", "Midterm II", None)],
)  # fmt: skip
def test_names_stand_as_in_the_document(said: str, name: str, count: int | None) -> None:
    assert clean(said) == (name, count)
