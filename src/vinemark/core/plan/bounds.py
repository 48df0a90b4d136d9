"""Whether a plan keeps within the limits, whatever it was made by: typing, a file, a syllabus, a copy."""

from collections.abc import Iterator, Sequence

from vinemark.core.base.limits import (
    CATEGORY_LIMIT,
    DROP_LIMIT,
    FIRST_DAY,
    ITEM_LIMIT,
    LAST_DAY,
    OTHER_CENTURY,
    RULE_LIMIT,
    SCALE_LIMIT,
    more_than,
)
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Category, Plan


def refuse_beyond_limits(plan: Plan, field: str = "plan", before: Plan | None = None) -> None:
    """Refuse the first thing of a plan that is too many, at its place in a course file.

    What was too many `before`, by an older version's limits, may stay.
    """
    may_stay = {reason for _, reason in _beyond(before)} if before else set()
    for place, reason in _beyond(plan):
        if reason not in may_stay:
            raise Refused(f"{field}.{place}", reason)


def _beyond(plan: Plan) -> Iterator[tuple[str, str]]:
    if len(plan.categories) > CATEGORY_LIMIT.most:
        yield f"categories[{CATEGORY_LIMIT.most}]", more_than(CATEGORY_LIMIT)
    if len(plan.scale) > SCALE_LIMIT.most:
        yield f"scale[{SCALE_LIMIT.most}]", more_than(SCALE_LIMIT)
    for name in ("replacements", "alternatives", "requirements", "recorded"):
        if len(getattr(plan, name)) > RULE_LIMIT.most:
            yield f"{name}[{RULE_LIMIT.most}]", more_than(RULE_LIMIT)
    yield from _too_many_items(plan.categories)
    for i, category in enumerate(plan.categories):
        yield from _counted(category, f"categories[{i}]")
        yield from _dated(category, f"categories[{i}]")
        if len(category.symbols) > RULE_LIMIT.most:
            yield f"categories[{i}].symbols[{RULE_LIMIT.most}]", more_than(RULE_LIMIT)


def _too_many_items(categories: Sequence[Category]) -> Iterator[tuple[str, str]]:
    free = ITEM_LIMIT.most
    for i, category in enumerate(categories):
        if len(category.items) > free:
            yield f"categories[{i}].items[{free}]", more_than(ITEM_LIMIT)
            return
        free -= len(category.items)


def _counted(category: Category, field: str) -> Iterator[tuple[str, str]]:
    counted = {
        "drop_lowest": category.drop_lowest,
        "drop_highest": category.drop_highest,
        "keep_best": category.keep_best or 0,
    }
    for key, number in counted.items():
        if number > DROP_LIMIT.most:
            yield f"{field}.{key}", more_than(DROP_LIMIT)


def _dated(category: Category, field: str) -> Iterator[tuple[str, str]]:
    for j, item in enumerate(category.items):
        if item.due is not None and not FIRST_DAY <= item.due <= LAST_DAY:
            yield f"{field}.items[{j}].due", OTHER_CENTURY
