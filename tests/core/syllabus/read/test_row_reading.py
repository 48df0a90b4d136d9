"""What a row holds, and the words by which rows say how many."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.row_reading import A_NUMBER_OF, AT_POINTS, PER_ITEM, RowReading


def test_each_ones_weight_times_the_count() -> None:
    row = RowReading("Midterms", 0, 1, 0, None, 0, weight=Fraction(15), weight_each=True, count=3)  # type: ignore[arg-type]
    assert row.worth == 45
    assert RowReading("Midterms", 0, 1, 0, None, 0).worth is None  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("labs | 8 reports", "8"),
        ("quizzes: ten, weekly", "ten"),
        ("there are five in all", "five"),
        ("essays | 20 pages", None),
        ("exam | oct. 20", None),
        ("tests, 40 minutes", None),
    ],
)
def test_a_number_of_items_and_not_of_pages_minutes_or_dates(text: str, number: str | None) -> None:
    found = A_NUMBER_OF.search(text)
    assert (found["n"] if found else None) == number


def test_so_many_at_so_much() -> None:
    at, per = AT_POINTS.search("three hour exams at 100 points"), PER_ITEM.search("25 points each")
    assert (at and (at["n"], at["each"])) == ("three", "100")
    assert (per and per["each"]) == "25"
    assert PER_ITEM.search("3 points per day") is None
