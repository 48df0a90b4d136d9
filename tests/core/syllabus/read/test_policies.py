"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

import pytest

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.normal import Saying
from vinemark.core.syllabus.read.policies import (
    ABOUT,
    NONE_ROUNDED,
    TO_PLACE,
    UNREAD,
    about_of,
    read_rounding,
    says_zero_for_blanks,
    split_of,
)


@pytest.mark.parametrize(
    "policy", [*NONE_ROUNDED, *(p for p, _ in TO_PLACE), *UNREAD, *(p for _, p in ABOUT)], ids=lambda p: p.example
)
def test_each_policy_reads_its_example(policy: Saying) -> None:
    assert policy.pattern.search(policy.example.lower())


@pytest.mark.parametrize(
    ("text", "decimals", "way"),
    [
        ("Final averages are always rounded up to a whole percent.", 0, "up"),
        ("Final averages are rounded up from .5.", 0, "nearest"),
        ("Your final percentage is truncated to one decimal place, not rounded.", 1, "down"),
        ("The course percentage is always rounded down to a whole number.", 0, "down"),
        ("An 89.5 becomes a 90.", 0, "nearest"),
        ("Do I round final grades? No.", None, "nearest"),
        ("A final percentage is carried to two decimals and not rounded further.", 2, "nearest"),
    ],
)
def test_rounding_and_its_way(text: str, decimals: int | None, way: str) -> None:
    found = read_rounding(Page(f"# Grading\n\n{text}\n").sentences)
    assert found is not None
    assert found[0] == (decimals, way)


@pytest.mark.parametrize(
    ("text", "about"),
    [
        ("a paper that is late loses 10% a day", "late"),
        ("the final takes that test's place", "replacement"),
        ("the higher of the two averages counts", "alternative"),
        ("you must pass the final to pass the course", "requirement"),
        ("from the fourth absence on i lower the grade", "attendance"),
        ("the scale may be lowered", "curve"),
        ("bring a pencil to every meeting", None),
    ],
)
def test_what_a_rule_that_no_fact_holds_is_about(text: str, about: str | None) -> None:
    assert about_of(text) == about


def test_how_items_share_a_weight() -> None:
    assert split_of("the six essays are weighted equally") == "even"
    assert split_of("labs count in proportion to their points") == "by_points"
    assert split_of("labs are 20%") is None


@pytest.mark.parametrize(
    "text", ["work never handed in is a zero.", "an empty box becomes a 0.", "a quiz you skip scores zero"]
)
def test_missed_work_scores_zero(text: str) -> None:
    assert says_zero_for_blanks(text)
    assert not says_zero_for_blanks("a copied paper receives a zero")
