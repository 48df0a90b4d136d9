"""A whole column at once."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item
from vinemark.core.plan.rules import RecordedItem
from vinemark.core.scores.column import actions_on, column_change

PLAN = plan(category("10", "50", split="even"))
ITEM, OTHER = PLAN.categories[0].items


CLASS: Course = course(
    PLAN, {"ada": ["8", "40"], "bo": [None, "30"], "cy": ["missing", "20"], "out": ["1", "1"]}, aside={"out": "sits in"}
)


def changed(action: str, value: str = "", item: Item = ITEM) -> dict[str, object]:
    return dict(column_change(CLASS, item, action, value, AFTER).cells)


def test_everyone_blanks_missing_and_exempt() -> None:
    assert changed("everyone", "9") == {"ada": 9, "bo": 9, "cy": 9}
    assert changed("everyone", "8") == {"bo": 8, "cy": 8}
    assert changed("blanks", "50%") == {"bo": 5}
    assert changed("missing") == {"bo": "missing"}
    assert changed("exempt") == {"bo": "exempt"}


def test_adjusting_leaves_marks_and_blanks_alone() -> None:
    """Arithmetic: 40 of 50 read as out of 40 points is 50 of 50; 8 and 1.5 more are 9.5."""
    assert changed("add", "1.5") == {"ada": Fraction("9.5")}
    assert changed("maximum", "40", OTHER) == {"ada": 50, "bo": Fraction("37.5"), "cy": 25}
    with pytest.raises(Refused) as caught:
        changed("maximum", "30", OTHER)
    assert "cannot be written as a decimal" in caught.value.reason


def test_the_effect_is_counted_before_it_happens() -> None:
    """Arithmetic: ada 80 to 90 (B to A), bo 60 to 75 (D to C), cy 20 to 65 (F to D)."""
    effect = column_change(CLASS, ITEM, "everyone", "10", AFTER)
    assert effect.words == "3 cells of 3 students; letters: 3 up, 0 down"
    down = column_change(CLASS, ITEM, "everyone", "0", AFTER)
    assert (down.letters_up, down.letters_down) == (0, 2)


def test_what_is_refused() -> None:
    for action, value, place in (
        ("burn", "", "action"),
        ("everyone", "lots", "value"),
        ("add", "0", "value"),
        ("add", "m", "value"),
    ):
        with pytest.raises(Refused) as caught:
            changed(action, value)
        assert caught.value.field == place


def test_late_days_stay_and_symbols_are_left() -> None:
    of = CLASS.with_cells({
        ("ada", "i0"): DetailedScore(Fraction(8), None, 2), ("bo", "i0"): DetailedScore(None, "ok"),
    })  # fmt: skip
    found = dict(column_change(of, ITEM, "add", "1", AFTER).cells)
    assert found == {"ada": DetailedScore(Fraction(9), None, 2)}


def test_what_is_only_recorded_is_a_count() -> None:
    """It has no points, so nothing reads it as out of others; no letter follows from it."""
    plan = replace(CLASS.plan, recorded=(RecordedItem("fd", "Field days missed"),))
    of, missed = replace(CLASS, plan=plan), plan.columns["fd"]
    assert "maximum" not in [name for name, _, _ in actions_on(plan, missed)]
    assert "maximum" in [name for name, _, _ in actions_on(plan, ITEM)]
    with pytest.raises(Refused) as caught:
        column_change(of, missed, "maximum", "10", AFTER)
    assert caught.value.field == "action"
    assert column_change(of, missed, "everyone", "2", AFTER).words == "3 cells of 3 students; letters: 0 up, 0 down"
