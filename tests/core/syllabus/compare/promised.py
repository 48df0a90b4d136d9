"""A plan, and what sentences written by hand make of it."""

from collections.abc import Sequence
from fractions import Fraction

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Category, Item, Plan, ScaleRow
from vinemark.core.syllabus.compare.keep_promise import kept_promise
from vinemark.core.syllabus.compare.promises import promise_of
from vinemark.core.syllabus.read.policies import about_of

CUTOFFS = {"A": 93, "A-": 90, "B+": 87, "B": 83, "B-": 80, "C+": 77, "C": 73, "C-": 70, "D": 60, "F": 0}


def category(key: str, name: str, weight: int, *items: str) -> Category:
    made = tuple(Item(f"{key}{n}", item, Fraction(20)) for n, item in enumerate(items))
    return Category(key, name, Fraction(weight), items=made)


PLAN = Plan(
    "weighted",
    (
        category("lab", "Labs", 20, "Lab 1", "Lab 2", "Lab 3"),
        category("mid", "Midterms", 40, "Midterm 1", "Midterm 2"),
        category("day", "Field days", 10, "Field day 1", "Field day 2"),
        category("final", "Final exam", 30, "Final exam"),
    ),
    tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in CUTOFFS.items()),
)


def made(sentence: str) -> str:
    """What the sentence comes to, in the words of the rule; which field is open where something is."""
    about = about_of(sentence.lower())
    assert about is not None
    try:
        return kept_promise(PLAN, promise_of(PLAN, sentence, about))[1]
    except Refused as error:
        return f"open: {error.field}"


def check(pairs: Sequence[tuple[str, str]]) -> None:
    assert [(sentence, made(sentence)) for sentence, _ in pairs] == pairs
