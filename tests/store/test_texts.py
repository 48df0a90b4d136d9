"""JSON kept in columns."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import category, plan
from vinemark.core.base.refused import NumberText
from vinemark.store.texts import parsed, plan_as_text, plan_from_text


def test_numbers_keep_their_digits() -> None:
    assert parsed('{"a": 0.10, "b": 1e2, "c": 12345678901234567890}') == {
        "a": "0.10", "b": "1e2", "c": "12345678901234567890",
    }  # fmt: skip
    assert isinstance(parsed("[0.10]")[0], NumberText)  # type: ignore[index]


def test_a_plan_comes_back_as_it_was_with_its_labels() -> None:
    of = category("10", "12.5", weight="100/3")
    labeled = replace(of, items=(replace(of.items[0], label="Q1"), of.items[1]))
    for made in (plan(of), plan(labeled, category("10", prefix="j"), decimals=1)):
        assert plan_from_text(plan_as_text(made)) == made
    assert "labels" not in plan_as_text(plan(of))
    assert plan_from_text(plan_as_text(plan(labeled))).categories[0].weight == Fraction(100, 3)
