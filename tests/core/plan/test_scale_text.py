"""Scales as syllabuses print them (common practice, no source)."""

import pytest

from vinemark.core.base.number import exact_text
from vinemark.core.plan.scale_text import read_pasted_scale


def rows(text: str) -> list[str]:
    return [f"{r.letter} {exact_text(r.cutoff)}" for r in read_pasted_scale(text).rows]


FIVE = ["A 90", "B 80", "C 70", "D 60", "F 0"]


@pytest.mark.parametrize(
    "text",
    [
        "A 90-100\nB 80-89\nC 70-79\nD 60-69\nF 0-59",
        "A: 90–100%, B: 80–89%, C: 70–79%, D: 60–69%, F: below 60%",
        "90 – 100 = A; 80 – 89 = B; 70 – 79 = C; 60 – 69 = D; 0 – 59 = F",
        "A (100-90)\nB (89-80)\nC (79-70)\nD (69-60)\nF (59-0)",
        "A = 90 and above\nB = 80 and above\nC = 70 and above\nD = 60 and above\nbelow 60 is an F",
        "A ≥ 90, B ≥ 80, C ≥ 70, D ≥ 60, F < 60",
        "90+ A\n80+ B\n70+ C\n60+ D\nF 0",
        "90/80/70/60",
        "A from 90 | B from 80 | C from 70 | D from 60 | F from 0",
    ],
)
def test_ways_of_printing_one_scale(text: str) -> None:
    assert rows(text) == FIVE
    assert read_pasted_scale(text).unread == []


def test_plus_minus_and_decimals() -> None:
    assert rows("A 93-100\nA− 90-92.9\nB+ 87.5-89.9") == ["A 93", "A- 90", "B+ 87.5"]


def test_what_is_no_row_is_said_and_not_guessed() -> None:
    found = read_pasted_scale("Grades are final.\nA 90-100\nabout eighty for a B")
    assert [r.letter for r in found.rows] == ["A"]
    assert found.unread == ["Grades are final", "about eighty for a B"]


@pytest.mark.parametrize(
    ("text", "unit", "highest"),
    [
        ("A 900-1,000 points, B 800-899 points", "points", 1000),
        ("A 900 pts\nB 800 pts", "points", 900),
        ("A: 90–100%, B: 80–89%", "percent", 100),
        ("A 225\nB 200", None, 225),
        ("90/80/70/60", None, 90),
        ("", None, 0),
    ],
)
def test_what_its_numbers_are(text: str, unit: str | None, highest: int) -> None:
    found = read_pasted_scale(text)
    assert (found.unit, found.highest) == (unit, highest)
    assert found.unread == []
