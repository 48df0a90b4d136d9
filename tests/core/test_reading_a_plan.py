"""What a plan says in words, as a ribbon, and in a cell."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, grade, plan
from vinemark.core.base.refused import Refused
from vinemark.core.grade.steps import steps_of
from vinemark.core.plan.plan import Category, Item, ScaleRow
from vinemark.core.plan.ribbon import ribbon, weight_verdict
from vinemark.core.plan.sentences import category_phrases, plan_text, sentence, surprises
from vinemark.core.scores.typed_score import read_typed_score


def said(of: Category, basis: str = "weighted") -> str:
    return sentence(category_phrases(plan(of, basis=basis), of))


def test_a_category_reads_as_a_sentence_with_its_controls() -> None:
    of = category("10", split="even", drop_lowest=2, blanks="zero")
    expected = "Split evenly; drop the lowest 2, whichever helps most. A blank counts 0. Not extra credit; no ceiling."
    assert said(of) == expected
    rules = [p.rule for p in category_phrases(plan(of), of) if p.rule]
    assert rules == ["split", "drops", "drop_by", "blanks", "extra", "ceiling"]


def test_every_rule_can_be_read_in_the_sentence() -> None:
    best = category("10", keep_best=3, drop_highest=1, drop_by="lowest_percent", cap=Fraction(105))
    assert "keep the best 3, by the lowest percentage, and drop the highest 1." in said(best)
    assert "at most 105% counts" in said(best)
    assert said(category("5", extra=True)) == "Extra credit on top, split by points. A blank adds nothing. No ceiling."
    assert said(category("5", split="even"), "points").startswith("Split by points; nothing dropped.")


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
    assert "own shares" in surprises(plan(own), own)[0]


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
        "Category i (100%). Split by points. The lowest 1 dropped. A blank waits. "
        "Only planned: I 0. Never dropped: I 0.",
        "Category x (3%). Extra credit on top of the rest. Split by points. At most 100% counts.",
        "The course percent is at most 104.",
        "Letters: A from 90, B from 80, C from 70, D from 60, F from 0.",
        "The percent is rounded to a whole number (a half goes up); the letter uses the rounded percent.",
    ]


@pytest.mark.parametrize(
    ("total", "words"),
    [("100", "100 of 100"), ("95", "95 of 100: 5 open"), ("110", "110 of 100: 10 too much"),
     ("99.99", "99.99 of 100: 0.01 open"), ("300/3", "100 of 100"), ("100/3", "33.333333 of 100: 66.666667 open")],
)  # fmt: skip
def test_what_is_open_is_said_as_a_number(total: str, words: str) -> None:
    assert weight_verdict(Fraction(total)) == words


def test_the_ribbon_shows_what_is_open_and_what_is_too_much() -> None:
    open_ = ribbon(plan(category("1", weight="40"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.start, s.width) for s in open_.segments][-1] == ("open", 900, 100)
    over = ribbon(plan(category("1", weight="75"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.value) for s in over.segments][-1] == ("too much", "25")
    assert not over.full
    assert ribbon(plan(category("1"))).full


QUIZ = Item("q", "Quiz", Fraction(10))


@pytest.mark.parametrize(
    ("typed", "cell", "remark"),
    [
        ("8.5", Fraction(17, 2), ""),
        (" 7 ", Fraction(7), ""),
        ("8,5", Fraction(17, 2), ""),
        (".5", Fraction(1, 2), ""),
        ("m", "missing", ""),
        ("Missing", "missing", ""),
        ("X", "exempt", ""),
        ("", None, ""),
        ("12", Fraction(12), "above the item's points"),
        ("85%", Fraction(17, 2), ""),
        ("7+1,5", Fraction(17, 2), ""),
        ("7 + 8.5", Fraction(31, 2), "above the item's points"),
        ("120 %", Fraction(12), "above the item's points"),
    ],
)
def test_a_typed_cell(typed: str, cell: object, remark: str) -> None:
    entry = read_typed_score(typed, QUIZ)
    assert (entry.cell, entry.remark) == (cell, remark)


@pytest.mark.parametrize(
    ("typed", "reason"), [("abc", "must be a number"), ("-4", "must not be negative"), ("1,000.5", "must be a number")]
)
def test_a_refused_cell_says_why(typed: str, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_typed_score(typed, QUIZ)
    assert reason in caught.value.reason


def test_a_letter_of_the_scale_is_taken_as_its_cutoff_and_said() -> None:
    """Arithmetic: a B from 80 is 8 of 10 points; a cutoff of 100/3 percent of 10 points has no end as a decimal."""
    scale = [ScaleRow("B", Fraction(80)), ScaleRow("X", Fraction(50)), ScaleRow("D", Fraction(100, 3))]
    entry = read_typed_score("b", QUIZ, scale)
    assert (entry.cell, entry.remark) == (8, "B taken as its cutoff, 80%")
    assert read_typed_score("x", QUIZ, scale).cell == 5
    assert read_typed_score("exempt", QUIZ, scale).cell == "exempt"
    with pytest.raises(Refused) as caught:
        read_typed_score("D", QUIZ, scale)
    assert "no end as a decimal" in caught.value.reason


def test_the_working_can_be_redone_by_hand() -> None:
    """8.5 + 9 + 9 of 30 is 88.333333 percent, times 40; 45/50 is 90, times 60: 89.333333."""
    of = plan(category("10", "10", "10", "10", weight="40", drop_lowest=1),
              category("50", weight="60", prefix="j"), decimals=1)  # fmt: skip
    shown = steps_of(of, grade(of, "8.5", "9", "7", "9", "45"))
    first = shown.lines[0]
    assert [t.text for t in first.terms] == ["8.5", "9", "7", "9"]
    assert first.terms[2].state == "dropped_lowest"
    assert (first.sum_text, first.percent, first.weight, first.contributes) == (
        "26.5 of 30", "88.333333…", "40", "35.333333…",
    )  # fmt: skip
    assert (shown.percent, shown.exact, shown.letter) == ("89.333333…", "268/3", "B")
    assert shown.steps[1:] == [("Rounded, a half going up", "89.3"), ("B from 80", "B")]
    assert shown.distance == "0.62 below A"


def test_the_working_of_no_grade_yet() -> None:
    of = plan(category("10"))
    shown = steps_of(of, grade(of))
    assert (shown.percent, shown.steps, shown.lines[0].contributes) == (None, [], None)


def test_the_working_says_what_is_in_force() -> None:
    of = plan(category("10", weight="40"), category("10", weight="60", prefix="j"))
    assert steps_of(of, grade(of, "9")).counted_weight == "40"
    even = replace(of, categories=(replace(of.categories[0], split="even"),))
    assert steps_of(even, grade(even, "9")).lines[0].sum_text == "0.9 ÷ 1"
