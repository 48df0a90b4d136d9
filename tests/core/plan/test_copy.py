"""A plan copied from another section."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import plan
from vinemark.core.plan.copy import copied
from vinemark.core.plan.plan import Category, Item

SOURCE = plan(
    Category("c1", "Map quizzes", Fraction(40), items=(
        Item("i1", "Quiz 1", Fraction(10), due=date(2026, 9, 7)), Item("i2", "Quiz 2", Fraction(10)))),
    Category("c2", "Essays", Fraction(60), items=(Item("i3", "Essay", Fraction(50), label="E"),)),
)  # fmt: skip


def test_into_an_empty_plan_with_dates_shifted() -> None:
    made = copied(SOURCE, plan(), 140)
    assert made.categories[0].items[0].due == date(2027, 1, 25)
    assert made.categories[1].items[0].label == "E"
    assert made.scale == SOURCE.scale


def test_what_the_target_has_by_name_keeps_its_id_and_so_its_scores() -> None:
    own = plan(Category("c9", "MAP  quizzes", Fraction(1), items=(Item("i3", "Quiz-2", Fraction(5)),)))
    made = copied(SOURCE, own, 0)
    assert [c.id for c in made.categories] == ["c9", "c10"]
    ids = [i.id for _, i in made.items()]
    assert ids[1] == "i3"
    assert len(set(ids)) == 3
    assert made.categories[0].items[1].points == 10


def test_no_id_that_ever_was_comes_back_under_another_name() -> None:
    made = copied(SOURCE, plan(), 0, {"i1", "i8", "c1"})
    assert [i.id for _, i in made.items()] == ["i9", "i10", "i11"]
    twice = replace(SOURCE, categories=(SOURCE.categories[0], replace(SOURCE.categories[0], id="c5")))
    assert len({c.id for c in copied(twice, SOURCE, 0).categories}) == 2
