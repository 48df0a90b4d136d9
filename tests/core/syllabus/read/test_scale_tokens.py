"""Letters and values of a scale, found one by one."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.scale_tokens import tokens_of


def found(text: str) -> list[object]:
    return [t.letter or (t.low, t.high, t.lowest) for t in tokens_of(text, 0, len(text))]


@pytest.mark.parametrize(
    ("text", "tokens"),
    [
        ("A 93-100", ["A", (93, 100, False)]),
        ("B+ 89\u201387", ["B+", (89, None, False), (87, None, False)]),
        ("C: 79-70", ["C", (70, 79, False)]),
        ("a B-minus at 80", ["B-", (80, None, False)]),
        ("83 <= B < 93", ["B", (83, 93, False)]),
        ("F below 60", ["F", (0, 60, True)]),
        ("59 and below is an F", [(0, 59, True), "F"]),
        ("anything less is an F", [(0, None, True), "F"]),
        ("Ninety and above earns an A", [(90, None, False), "A"]),
        ("A 4.0 93%", ["A", (93, None, False)]),
        ("A paper of 12 pages", []),
        ("A 100-point practical", [(100, None, False)]),
    ],
)
def test_what_stands_in_a_scale(text: str, tokens: list[object]) -> None:
    assert found(text) == [(Fraction(t[0]), t[1], t[2]) if isinstance(t, tuple) else t for t in tokens]
