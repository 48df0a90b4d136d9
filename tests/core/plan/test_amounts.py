"""What an item weighs in its category, and whether its blank counts."""

from datetime import date, timedelta
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, items
from vinemark.core.plan.amounts import blank_counts, factor, share_of, size_of
from vinemark.core.plan.plan import Blanks, Split

ITEM = items("40", share=Fraction(25))[0]


@pytest.mark.parametrize(
    ("split", "size", "of_a_point"),
    [
        ("by_points", Fraction(40), Fraction(1)),
        ("even", Fraction(1), Fraction(1, 40)),
        ("own_shares", Fraction(25), Fraction(25, 40)),
    ],
)
def test_full_points_earn_the_whole_size(split: Split, size: Fraction, of_a_point: Fraction) -> None:
    """By the definition of a weighted mean: 40 of 40 points earn all that the item weighs."""
    assert size_of(ITEM, split) == size
    assert factor(ITEM, split) == of_a_point
    assert factor(ITEM, split) * ITEM.points == size


def test_an_own_share_must_be_there() -> None:
    with pytest.raises(ValueError, match="no share"):
        share_of(items("40")[0])


@pytest.mark.parametrize(
    ("blanks", "due", "counts"),
    [
        ("wait", AFTER - timedelta(1), False),
        ("zero", None, True),
        ("zero_when_due", AFTER - timedelta(1), True),
        ("zero_when_due", AFTER, False),
        ("zero_when_due", None, False),
    ],
)
def test_a_blank_counts_by_the_rule_from_the_day_after_it_was_due(
    blanks: Blanks, due: date | None, counts: bool
) -> None:
    of = category("10", blanks=blanks)
    assert blank_counts(of, items("10", due=due)[0], AFTER) is counts


def test_a_blank_of_an_extra_category_always_counts_as_nothing_added() -> None:
    assert blank_counts(category("10", extra=True), items("10")[0], AFTER)
