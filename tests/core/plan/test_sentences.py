"""What a plan says in words, as a ribbon, and in a cell."""

from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from tests.builders import category, grade, plan
from vinemark.core.plan.plan import Category
from vinemark.core.plan.sentences import category_phrases, plan_text, rule_said, sentence, surprises


def said(of: Category, basis: str = "weighted") -> str:
    return sentence(category_phrases(plan(of, basis=basis), of))


def test_a_category_reads_as_a_sentence_with_its_controls() -> None:
    of = category("10", split="even", drop_lowest=2, blanks="zero")
    expected = (
        "Items count equally; drop the lowest 2, whichever drop gives the best result. A blank counts as 0. "
        "Add a cap. Make it extra credit"
    )
    assert said(of) == expected
    rules = [p.rule for p in category_phrases(plan(of), of) if p.rule]
    assert rules == ["split", "drops", "drop_by", "blanks", "ceiling", "extra"]


def test_every_rule_can_be_read_in_the_sentence() -> None:
    best = category("10", keep_best=3, drop_highest=1, drop_by="lowest_percent", cap=Fraction(105))
    assert "keep the best 3, by the lowest percentage, and drop the highest 1." in said(best)
    assert "At most 105% counts" in said(best)
    assert (
        said(category("5", extra=True)) == "Extra credit on top; items count by points. A blank adds nothing. Add a cap"
    )
    assert said(category("5", split="even"), "points").startswith("Items count by points; nothing dropped.")


def test_what_is_set_stands_among_the_choices() -> None:
    for of in (category("1", drop_lowest=9), category("1", keep_best=12), category("1", cap=Fraction("102.5"))):
        for phrase in category_phrases(plan(of), of):
            assert not phrase.rule or phrase.value in [choice.value for choice in phrase.choices]


def test_what_surprises_is_said_in_place() -> None:
    """The example is Kane and Kane's of 2006, from memory: 81/120 is 67.5, 100/200 is 50."""
    unequal = category("100", "20", drop_lowest=1)
    assert "67.5%" in surprises(plan(unequal), unequal)[0]
    for of in (category("10", "10", drop_lowest=1), category("100", "20"), replace(unequal, split="even"),
               replace(unequal, drop_by="lowest_percent")):  # fmt: skip
        assert surprises(plan(of), of) == []
    shares = tuple(replace(i, share=Fraction(s)) for i, s in zip(unequal.items, (70, 30), strict=True))
    own = replace(unequal, split="own_shares", items=shares)
    assert "percentages you set" in surprises(plan(own), own)[0]


def test_the_example_of_own_shares_is_true() -> None:
    """Arithmetic: without the 70% of share 60, 35/40 is left; without the 50% of share 10, only 72/90."""
    three = category("10", "10", "10", drop_lowest=1)
    shares = tuple(replace(i, share=Fraction(s)) for i, s in zip(three.items, (60, 10, 30), strict=True))
    found = grade(plan(replace(three, split="own_shares", items=shares)), "7", "5", "10")
    assert (found.percent, found.categories[0].items[0].state) == (Fraction(175, 2), "dropped_lowest")


def test_the_plan_in_words() -> None:
    bonus = replace(category("5", weight="3", prefix="x", extra=True), cap=Fraction(100))
    late = replace(category("10", weight="100", drop_lowest=1).items[0], counts=False, droppable=False)
    of = replace(category("10", weight="100", drop_lowest=1), items=(late,))
    text = plan_text(plan(of, bonus, decimals=0, cap=Fraction(104)))
    assert text.splitlines() == [
        "The grade is the weighted average of the categories.",
        "Category i (100%). Items count by points. The lowest 1 dropped. A blank is not counted yet. "
        "Does not count yet: I 0. Never dropped: I 0.",
        "Category x (3%). Extra credit on top of the rest. Items count by points. At most 100% counts.",
        "The course percent is at most 104.",
        "Letters: A from 90, B from 80, C from 70, D from 60, F from 0.",
        "The percent is rounded to a whole number (half up); the letter uses the rounded percent.",
    ]


def offered(of: Category, rule: str = "drops") -> list[str]:
    return [c.value for p in category_phrases(plan(of), of) if p.rule == rule for c in p.choices]


def test_what_can_be_chosen_of_five_items() -> None:
    """At most one of the items is left by the lowest, and at most all but one are kept."""
    five = category(*["10"] * 5)
    assert offered(five) == [
        *(f"lowest {n}" for n in range(5)), *(f"best {n}" for n in range(1, 5)), "highest 1", "highest 2",
    ]  # fmt: skip
    two = category("10", "10")
    assert offered(two) == [*(f"lowest {n}" for n in range(4)), "best 1", "highest 1", "highest 2"]
    high = category(*["10"] * 5, drop_highest=1, drop_lowest=1)
    assert offered(high)[-4:] == ["highest 0", "highest 1", "highest 2", "highest 3"]
    assert len(offered(category(*["10"] * 60))) == 1 + 20 + 20 + 2


@pytest.mark.parametrize(
    ("change", "rule", "said_now"),
    [
        ({"blanks": "zero"}, "blanks", "blanks now count as 0"),
        ({"blanks": "zero_when_due"}, "blanks", "blanks now count as 0 once due"),
        ({"blanks": "wait"}, "blanks", "blanks now are not counted yet"),
        ({"split": "even"}, "split", "items now count equally"),
        ({"drop_lowest": 2}, "drops", "now the lowest 2 dropped"),
        ({"keep_best": 3}, "drops", "now the best 3 kept"),
        ({}, "drops", "now nothing dropped"),
        ({"drop_by": "lowest_percent"}, "drop_by", "drops now go by the lowest percentage"),
        ({"extra": True}, "extra", "now extra credit"),
        ({"cap": Fraction(105)}, "ceiling", "the cap is now 105%"),
        ({"cap": None}, "ceiling", "no cap now"),
    ],
)
def test_after_a_change_the_rule_is_said_as_it_is_now(change: dict[str, Any], rule: str, said_now: str) -> None:
    assert rule_said(replace(category("10", "20", "30", "40"), **change), rule) == said_now
