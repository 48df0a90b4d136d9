"""What sentences name."""

import pytest

from tests.core.syllabus.compare.promised import PLAN
from vinemark.core.syllabus.compare.promise_words import amount, amount_found, category_named, item_named


@pytest.mark.parametrize(
    ("said", "category"),
    [
        ("late labs lose points", "lab"),
        ("a lab that is late", "lab"),
        ("the final", None),
        ("your final exam", "final"),
        ("a missed field day", "day"),
        ("ten percent a day", None),
        ("labs and midterms", None),
    ],
)
def test_categories(said: str, category: str | None) -> None:
    found = category_named(PLAN, said)
    assert (found.id if found else None) == category


@pytest.mark.parametrize(
    ("said", "item"), [("lab 2 counts", "lab1"), ("the final exam", "final0"), ("midterm", None), ("an essay", None)]
)
def test_items(said: str, item: str | None) -> None:
    found = item_named(PLAN, said, None)
    assert (found.id if found else None) == item


def test_an_item_is_looked_for_elsewhere() -> None:
    assert item_named(PLAN, "the final exam", PLAN.category("final")) is None


def test_amounts() -> None:
    assert [amount(text) for text in ("three", "7.5")] == [3, 7.5]
    assert amount_found(r"\b(\d+) points", "loses 5 points") == "5"
    assert amount_found(r"\b(\d+) points", "loses points") == ""
