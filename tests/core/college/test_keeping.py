"""How long a section is kept."""

from datetime import date

import pytest

from vinemark.core.college.keeping import kept_long_enough
from vinemark.core.course.course import Term


def term(year: int, month: int) -> Term:
    return Term(f"{year}-{month}", date(year, month, 1), date(year, month + 3, 20))


TERMS = [term(2025, 1), term(2025, 8), term(2026, 1), term(2026, 8)]


@pytest.mark.parametrize(
    ("kept", "day", "due"),
    [
        (0, date(2040, 1, 1), False),
        (1, date(2025, 11, 20), False),
        (1, date(2025, 11, 21), True),
        (3, date(2026, 11, 20), False),
        (3, date(2026, 11, 21), True),
        (4, date(2040, 1, 1), False),
    ],
)
def test_so_many_later_terms_must_be_over(kept: int, day: date, due: bool) -> None:
    assert kept_long_enough(TERMS[0], TERMS, day, kept) == due


def test_terms_of_one_beginning_count_as_one() -> None:
    short = Term("half", date(2025, 8, 1), date(2025, 9, 1))
    assert not kept_long_enough(TERMS[0], [*TERMS[:2], short], date(2025, 12, 1), 2)
