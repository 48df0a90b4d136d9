"""Names compared, and the name of one out of several."""

import pytest

from vinemark.core.base.names import folded, singular


@pytest.mark.parametrize(
    ("one", "two"), [("Søren-Ode ", "soren ode"), ("Łukasz", "LUKASZ"), ("Weiß", "weiss"), ("é", "E")]
)
def test_names_that_are_the_same(one: str, two: str) -> None:
    assert folded(one) == folded(two)
    assert folded(one) != folded(two + "x")


@pytest.mark.parametrize(
    ("many", "one"),
    [("Map quizzes", "Map quiz"), ("Case studies", "Case study"), ("Theses", "Thesis"), ("Sketches", "Sketch"),
     ("Notebooks", "Notebook"), ("Classes", "Class"), ("Essay", "Essay"), ("Thesis", "Thesis"), ("Class", "Class"),
     ("Corpus", "Corpus"), ("Exercises", "Exercise"), ("Responses", "Response"), ("Analyses", "Analysis")],
)  # fmt: skip
def test_one_out_of_several(many: str, one: str) -> None:
    assert singular(many) == one
