"""Small worked examples with a section's own categories."""

from dataclasses import replace

from tests.builders import category, plan
from vinemark.core.grade.examples import basis_choices, extra_words

TWO = plan(category("10", weight="50"), category("30", weight="50", prefix="j"))


def test_both_bases_are_shown_on_the_same_small_student() -> None:
    """All of the first and 60% of the rest: 80 by weight, (10 + 18) of 40 points is 70."""
    weighted, points = basis_choices(TWO)
    assert weighted.label.endswith("all of Category i and 60% of the rest: 80%")
    assert points.label.endswith("all of Category i and 60% of the rest: 70%")


def test_without_two_categories_or_without_weights_no_number_is_made_up() -> None:
    assert [c.label.count(";") for c in basis_choices(plan(category("10")))] == [0, 0]
    bare = plan(category("10", weight=None), category("10", weight=None, prefix="j"))
    assert basis_choices(bare)[0].label.endswith("no grade without weights")


def test_what_extra_credit_does_to_a_student_at_80() -> None:
    bonus = replace(category("5", weight="5", prefix="x"), extra=True)
    of = plan(*TWO.categories, bonus)
    words = "A student at 80% without it gets 85% with X 0 in full; left blank it changes nothing."
    assert extra_words(of, bonus) == words
    assert extra_words(of, of.categories[0]) == ""
    several = replace(category("5", "5", weight="5", prefix="x"), extra=True)
    assert "with all 2 extra items in full" in extra_words(plan(*TWO.categories, several), several)
    assert extra_words(plan(bonus), bonus) == ""
