"""What an item weighs in its category, and whether its blank counts: m and e / v of the contract."""

from datetime import date
from fractions import Fraction

from vinemark.core.plan.plan import Category, Item, Split


def factor(item: Item, split: Split) -> Fraction:
    """e / v."""
    if split == "by_points":
        return Fraction(1)
    return (Fraction(1) if split == "even" else share_of(item)) / item.points


def size_of(item: Item, split: Split) -> Fraction:
    """m."""
    if split == "by_points":
        return item.points
    return Fraction(1) if split == "even" else share_of(item)


def share_of(item: Item) -> Fraction:
    """An item's own share, which a plan with own shares always has."""
    if item.share is None:
        raise ValueError(f"item {item.id} has no share under own shares")
    return item.share


def blank_counts(category: Category, item: Item, as_of: date) -> bool:
    """Whether a blank of a regular item counts as 0 by the plan's rule."""
    if category.extra or category.blanks == "zero":
        return True
    return category.blanks == "zero_when_due" and item.due is not None and item.due < as_of
