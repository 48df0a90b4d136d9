"""Grades by the letter they begin with."""

from hypothesis import given
from hypothesis import strategies as st

from vinemark.core.college.distribution import HEIGHT, distribution


def test_signs_belong_to_their_letter_and_other_codes_to_none() -> None:
    found = {bar.label: bar.count for bar in distribution(["A", "A−", "A-", "B+", "F", "AU", "I", "P"])}
    assert found == {"A": 3, "B": 1, "C": 0, "D": 0, "F": 1, "other": 3}
    assert [bar.label for bar in distribution(["A"])] == ["A", "B", "C", "D", "F"]


@given(st.lists(st.sampled_from(["A", "B+", "C", "D−", "F", "W", "I"])))
def test_every_grade_is_in_one_bar_and_a_single_one_is_seen(codes: list[str]) -> None:
    bars = distribution(codes)
    assert sum(bar.count for bar in bars) == len(codes)
    assert all((bar.height > 0) == (bar.count > 0) and bar.height <= HEIGHT for bar in bars)
