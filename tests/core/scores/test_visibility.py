"""Held back or open: whether students see an item's scores."""

import pytest

from tests.builders import category, course, plan
from vinemark.core.scores.visibility import VisibilityRule, item_visibility

PLAN = plan(category("10"))


@pytest.mark.parametrize(
    ("rule", "cells", "visible", "short"),
    [
        (None, ["8", "9"], False, "hidden"),
        ("held", ["8", "9"], False, "hidden"),
        ("open", [None, None], True, "visible"),
        ("when_full", ["8", None], False, "1 to go"),
        ("when_full", ["missing", "exempt"], True, "visible"),
    ],
)
def test_what_was_chosen_and_what_follows(
    rule: VisibilityRule | None, cells: list[str | None], visible: bool, short: str
) -> None:
    of = course(PLAN, {"ada": cells[:1], "bo": cells[1:]})
    found = item_visibility(of, PLAN.categories[0].items[0], rule)
    assert (found.visible, found.short) == (visible, short)


def test_words_for_a_sentence() -> None:
    item = PLAN.categories[0].items[0]
    waiting = course(PLAN, {"ada": [None], "bo": [None], "cy": ["1"]})
    assert item_visibility(waiting, item, "when_full").words == "hidden until every cell is filled; 2 to go"
    assert item_visibility(waiting, item, None).words == "hidden"
    full = course(PLAN, {"ada": ["8"]})
    assert item_visibility(full, item, "when_full").words == "visible to students, since every cell is filled"


def test_who_is_set_aside_is_not_waited_for_and_a_section_without_students_is_not_full() -> None:
    item = PLAN.categories[0].items[0]
    of = course(PLAN, {"ada": ["8"], "bo": [None]}, aside={"bo": "moved"})
    assert item_visibility(of, item, "when_full").visible
    assert not item_visibility(course(PLAN, {}), item, "when_full").visible
