"""What a plan says in words, as a ribbon, and in a cell."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, grade, plan
from vinemark.core.grade.steps import steps_of


def test_the_working_can_be_redone_by_hand() -> None:
    """8.5 + 9 + 9 of 30 is 88.333333 percent, times 40; 45/50 is 90, times 60: 89.333333."""
    of = plan(category("10", "10", "10", "10", weight="40", drop_lowest=1),
              category("50", weight="60", prefix="j"), decimals=1)  # fmt: skip
    shown = steps_of(of, grade(of, "8.5", "9", "7", "9", "45"))
    first = shown.lines[0]
    assert [t.text for t in first.terms] == ["8.5", "9", "7", "9"]
    assert first.terms[2].state == "dropped_lowest"
    assert (first.sum_text, first.percent, first.weight, first.contributes) == (
        "26.5 of 30", "88.333333…", "40", "35.333333…",
    )  # fmt: skip
    assert (shown.percent, shown.exact, shown.letter) == ("89.333333…", "268/3", "B")
    assert shown.steps[1:] == [("Rounded, half up", "89.3"), ("B from 80", "B")]
    assert shown.distance == "0.62 below A"


def test_the_working_of_no_grade_yet() -> None:
    of = plan(category("10"))
    shown = steps_of(of, grade(of))
    assert (shown.percent, shown.steps, shown.lines[0].contributes) == (None, [], None)


def test_the_working_says_what_is_in_force() -> None:
    of = plan(category("10", weight="40"), category("10", weight="60", prefix="j"))
    assert steps_of(of, grade(of, "9")).counted_weight == "40"
    even = replace(of, categories=(replace(of.categories[0], split="even"),))
    assert steps_of(even, grade(even, "9")).lines[0].sum_text == "0.9 ÷ 1"


def test_the_working_says_what_was_dropped_and_where_it_was_capped() -> None:
    capped = plan(category("10", "10", cap=Fraction(95), drop_lowest=1))
    assert steps_of(capped, grade(capped, "10", "4")).lines[0].notes == [
        "I 1 dropped: the drop that gives the best result", "limited by the cap of 95%",
    ]  # fmt: skip
    assert steps_of(capped, grade(capped, "9", "4")).lines[0].notes == [
        "I 1 dropped: the drop that gives the best result"
    ]
    lowest = plan(category("10", "10", drop_lowest=1, drop_by="lowest_percent"))
    assert steps_of(lowest, grade(lowest, "10", "4")).lines[0].notes == ["I 1 dropped: the lowest percentage"]
