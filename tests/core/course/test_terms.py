"""Terms and courses where nobody has said them in fields of their own."""

from datetime import date

import pytest

from vinemark.core.course.course import SectionName
from vinemark.core.course.terms import course_in, term_in, usual_term


@pytest.mark.parametrize(
    ("day", "name"),
    [
        (date(2026, 1, 5), "Spring 2026"), (date(2026, 5, 10), "Spring 2026"), (date(2026, 6, 20), "Summer 2026"),
        (date(2026, 8, 20), "Fall 2026"), (date(2026, 12, 31), "Fall 2026"),
    ],
)  # fmt: skip
def test_the_usual_term_of_a_day(day: date, name: str) -> None:
    found = usual_term(day)
    assert found.name == name
    assert found.starts < found.ends


def test_the_term_that_a_title_names() -> None:
    found = term_in(["Larkmoor College", "STAT 120, Autumn Term 2025"])
    assert found is not None
    assert (found.name, found.starts.year) == ("Fall 2025", 2025)
    assert term_in(["Room 12", "Fallow 2026"]) is None


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("HYDR 230-01 Watershed Methods, Fall 2026", SectionName("HYDR 230", "Watershed Methods", "01")),
        ("FIBR120 gradebook", SectionName("FIBR 120", "", "")),
        ("BOTN 105, Section 2: Orchard Botany", SectionName("BOTN 105", "Orchard Botany", "2")),
        ("Gradebook of STAT 120 (Counting)", SectionName("STAT 120", "", "")),
        ("Room 12", None),
    ],
)
def test_the_course_that_a_title_names(text: str, found: SectionName | None) -> None:
    assert course_in([text]) == found
