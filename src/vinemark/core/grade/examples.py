"""Small worked examples with a section's own categories, so that a rule's effect is seen before it is chosen."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import trimmed
from vinemark.core.course.cell import Cell
from vinemark.core.grade.calculation import work_out
from vinemark.core.plan.plan import Basis, Category, Item, Plan
from vinemark.core.plan.sentences import Choice

GOOD, LESS = Fraction(1), Fraction(3, 5)
STEADY = Fraction(4, 5)
EXAMPLE_DAY = date(2000, 1, 1)
"""Every cell of an example is filled, so that no due date matters."""

BASIS_WORDS: dict[Basis, str] = {
    "weighted": "weighted: the average of the categories by weight",
    "points": "points: all points earned out of all possible",
}


def basis_choices(plan: Plan) -> list[Choice]:
    """Both plan bases, each with what the same small student would get under it."""
    lead = next((c for c in plan.categories if not c.extra and c.regular), None)
    others = [c for c in plan.categories if not c.extra and c.regular and c is not lead]
    if lead is None or not others:
        return [Choice(basis, words) for basis, words in BASIS_WORDS.items()]
    tried = f"all of {lead.name} and 60% of the rest"
    return [Choice(basis, f"{words}; {tried}: {_basis_example(plan, basis, lead)}")
            for basis, words in BASIS_WORDS.items()]  # fmt: skip


def _basis_example(plan: Plan, basis: Basis, lead: Category) -> str:
    cells = _cells(plan, lambda c, item: GOOD if c is lead else LESS)
    percent = work_out(replace(plan, basis=basis, cap=None), cells, EXAMPLE_DAY).percent
    return "no grade without weights" if percent is None else f"{trimmed(percent, 2)}%"


def extra_words(plan: Plan, category: Category) -> str:
    """What a category's extra credit does to a student at 80%: all of it, and none of it. Empty without any."""
    bonus = [i for i in category.counting if category.extra or i.extra]
    if not bonus or not any(c.regular for c in plan.categories if not c.extra):
        return ""
    chosen = {i.id for i in bonus}
    everything = _cells(plan, lambda c, i: STEADY if _regular(c, i) else GOOD if i.id in chosen else None)
    nothing = {item: cell for item, cell in everything.items() if item not in chosen}
    with_it, without = (work_out(plan, cells, EXAMPLE_DAY).percent for cells in (everything, nothing))
    if with_it is None or without is None:
        return ""
    what = bonus[0].name if len(bonus) == 1 else f"all {len(bonus)} extra items"
    return (f"A student at {trimmed(without, 2)}% without it gets {trimmed(with_it, 2)}% with {what} in full; "
            f"left blank it changes nothing.")  # fmt: skip


def _regular(category: Category, item: Item) -> bool:
    return not category.extra and not item.extra


def _cells(plan: Plan, part: Callable[[Category, Item], Fraction | None]) -> dict[str, Cell]:
    """Every counting item's cell as a part of its points; None leaves it blank."""
    shares = [(item, part(category, item)) for category in plan.categories for item in category.counting]
    return {item.id: item.points * share for item, share in shares if share is not None}
