"""Names of work and amounts, each found by itself."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.mentions import amounts, phrases


def names(text: str, glossary: tuple[str, ...] = ()) -> list[tuple[str, int | None]]:
    return [(p.text, p.count) for p in phrases(text, glossary) if p.known]


def test_names_with_the_number_before_them() -> None:
    assert names("there are two short papers and ten lab reports.") == [("short papers", 2), ("lab reports", 10)]
    assert names("the final exam supplies the rest.") == [("final exam", None)]
    assert names("the best eight quizzes count.") == [("quizzes", None)]


def test_each_one() -> None:
    (phrase,) = phrases("each of the three midterms")
    assert phrase.each
    assert phrase.count == 3


def test_what_stands_in_brackets_is_no_name_and_a_heading_makes_one() -> None:
    assert names("labs (with a quiz) count") == [("labs", None)]
    assert names("field day is fun") == [("field", None)]
    assert names("field day is fun", ("field day",)) == [("field day", None)]


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("worth 12.5%, the talk fifteen percent", [("weight", Fraction(25, 2)), ("weight", 15)]),
        ("a quarter of your grade", [("weight", 25)]),
        ("a quarter of the class", []),
        ("come to a sixth night and it adds 1% to your grade", [("weight", 1)]),
        ("50 points, or twenty pts", [("points", 50), ("points", 20)]),
        ("between 10-15%", []),
        ("20%, 20% and 30%", [("weight", 70)]),
        ("in points: 250 from the labs, 120 from the final", [("points", 250), ("points", 120)]),
    ],
)
def test_amounts(text: str, found: list[tuple[str, Fraction]]) -> None:
    assert [(a.unit, a.value) for a in amounts(text)] == found


def test_the_rest_has_no_number_of_its_own() -> None:
    assert [(a.value, a.rest) for a in amounts("the rest is the final")] == [(None, True)]
    assert [a.value for a in amounts("the essay takes care of the rest, 20%")] == [20]
