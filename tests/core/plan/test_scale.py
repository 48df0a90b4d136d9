"""Letters at and beside every cutoff."""

from fractions import Fraction

import pytest

from tests.builders import plan
from vinemark.core.grade.letters import letter_for
from vinemark.core.plan.plan import ScaleRow
from vinemark.core.plan.scale import row_faults, scale_faults


@pytest.mark.parametrize(
    ("scale", "fault"),
    [
        ([("A", 90), ("F", 10)], "the lowest letter must start at 0"),
        ([("A", 90), ("B", 90), ("F", 0)], "cutoff 90 is there twice"),
        ([("A", 90), ("A", 80), ("F", 0)], "letter A is there twice"),
    ],
)
def test_a_broken_scale_says_what_is_wrong_and_gives_no_letter(scale: list[tuple[str, int]], fault: str) -> None:
    rows = [ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in scale]
    assert fault in "; ".join(scale_faults(rows))
    assert letter_for(plan(scale=tuple(rows)), Fraction(95)) is None


def test_faults_at_their_rows() -> None:
    rows = [ScaleRow(x, Fraction(v)) for x, v in (("A", 90), ("B", 80), ("B", 70), ("C", 80), ("D", 85), ("E", 10))]
    assert row_faults(rows) == {
        2: "B is already above",
        3: "overlaps B: the same cutoff",
        4: "out of order: above C",
        5: "a gap: no letter below 10",
    }
    assert row_faults(rows[:2][::-1]) == {0: "a gap: no letter below 80"}
    assert row_faults([]) == {}
