"""A plan drafted from what a syllabus says. What it does not say is left for the instructor."""

import re
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.names import singular
from vinemark.core.base.number import exact_text
from vinemark.core.plan.items import TypedItem, add_items
from vinemark.core.plan.plan import HUNDRED, Category, Plan, Rounding, ScaleRow
from vinemark.core.plan.worth import points_in_all
from vinemark.core.syllabus.facts import Reading, SaidCategory, SaidRow

MOST_ITEMS = 60
NO_SINGLE_ITEM = re.compile(r"\b(?:homework|coursework|classwork|hw|extra credit)$", re.I)


def drafted(reading: Reading) -> Plan:
    """The plan that a reading states: categories with their items where a count is said, scale, rounding, blanks."""
    basis = reading.basis or "weighted"
    made = [_category(said, f"c{n + 1}", basis == "weighted", reading.blanks == "zero")
            for n, said in enumerate(reading.categories)]  # fmt: skip
    plan = Plan(basis, tuple(made), rounding=rounding_of(reading))
    for category, said in zip(made, reading.categories, strict=True):
        plan = with_items(plan, category, said)
    return replace(plan, scale=scale_of(reading.scale, reading.scale_unit == "points", points_in_all(plan)))


def _category(said: SaidCategory, category_id: str, weighted: bool, zero: bool) -> Category:
    weight = said.weight if said.weight is not None else (Fraction(0) if weighted else None)
    even = said.split == "even" or (weighted and said.points_each is None and said.points is None)
    return Category(
        category_id,
        said.name,
        weight,
        extra=said.extra,
        split="even" if even and said.split != "by_points" else "by_points",
        drop_lowest=said.drop_lowest if said.keep_best is None else 0,
        keep_best=said.keep_best,
        blanks="zero_when_due" if zero and not said.extra else "wait",
        cap=HUNDRED if said.extra else None,
    )


def with_items(plan: Plan, category: Category, said: SaidCategory) -> Plan:
    """The category's items, where the text tells how many; a single work, or points without a number, is one item."""
    count = said.count
    if count is None and (said.points is not None or _is_one(said.name)):
        count = 1
    if count is None or count > MOST_ITEMS:
        return plan
    names = f"{singular(said.name)} 1–{count}" if count > 1 else said.name
    return add_items(plan, category.id, TypedItem(names, exact_text(points_each(said, count))))


def _is_one(name: str) -> bool:
    return singular(name) == name and not NO_SINGLE_ITEM.search(name)


def points_each(said: SaidCategory, count: int) -> Fraction:
    """Points of one item: as said, else its part of the category's points, else 100."""
    if said.points_each is not None:
        return said.points_each
    return said.points / count if said.points else HUNDRED


def scale_of(rows: Sequence[SaidRow], in_points: bool, whole: Fraction) -> tuple[ScaleRow, ...]:
    """The scale in percent; points of the course are converted exactly. Highest first."""
    if in_points and not whole:
        return ()
    made = (ScaleRow(row.letter, HUNDRED * row.cutoff / whole if in_points else row.cutoff) for row in rows)
    return tuple(sorted(made, key=lambda row: -row.cutoff))


def rounding_of(reading: Reading) -> Rounding | None:
    """The rounding rule, none where nothing is said."""
    if reading.rounding is None or reading.rounding.decimals is None:
        return None
    return Rounding(reading.rounding.decimals, way=reading.rounding.way)
