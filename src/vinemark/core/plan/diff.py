"""Two plans compared: every rule as a line, and which lines only one of them has."""

from collections.abc import Sequence
from difflib import SequenceMatcher
from typing import Literal, NamedTuple

from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.sentences import plan_text

Side = Literal["both", "first", "second"]


class DiffLine(NamedTuple):
    """A line and which of the two plans has it."""

    side: Side
    text: str


def plan_lines(plan: Plan) -> list[str]:
    """Every rule of a plan as lines of words, each item on a line of its own."""
    words = iter(plan_text(plan).splitlines())
    lines = [next(words)]
    for category in plan.categories:
        lines += [next(words), *(_item_line(category, item) for item in category.items)]
    return [*lines, *words]


def _item_line(category: Category, item: Item) -> str:
    parts = [f"{category.name}: {item.name}, {exact_text(item.points)} points"]
    if item.due is not None:
        parts.append(f"due {day_words(item.due)}")
    if item.share is not None and category.split == "own_shares":
        parts.append(f"share {exact_text(item.share)}%")
    if item.label:
        parts.append(f"short label {item.label}")
    return ", ".join(parts)


def plan_differences(first: Plan, second: Plan) -> list[DiffLine]:
    """The lines of both plans in order; a changed line is there twice, as it was and as it is."""
    before, after = plan_lines(first), plan_lines(second)
    found: list[DiffLine] = []
    for tag, a, b, c, d in SequenceMatcher(None, before, after, autojunk=False).get_opcodes():
        if tag == "equal":
            found += _lines("both", before[a:b])
        else:
            found += [*_lines("first", before[a:b]), *_lines("second", after[c:d])]
    return found


def _lines(side: Side, texts: Sequence[str]) -> list[DiffLine]:
    return [DiffLine(side, text) for text in texts]
