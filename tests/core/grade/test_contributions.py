"""The picture of a grade: bars one after the other."""

from dataclasses import replace

from tests.builders import category, grade, plan
from vinemark.core.grade.contributions import bars


def test_bars_follow_one_another_and_fill_by_what_was_earned() -> None:
    of = plan(category("10", weight="60"), category("10", weight="40", prefix="j"))
    first, second = bars(grade(of, "5", "10"))
    assert (first.start, first.could, first.filled) == (0, 600, 300)
    assert (second.start, second.could, second.filled) == (600, 400, 400)
    assert (first.words, second.color) == ("Category i: 30.00 of 60.00", 1)


def test_extra_credit_fills_just_what_it_brings_and_a_category_without_a_percentage_has_no_bar() -> None:
    bonus = replace(category("10", weight="5", prefix="x"), extra=True)
    of = plan(category("10", weight="50"), category("10", weight="50", prefix="j"), bonus)
    found = bars(grade(of, "8", None, "4"))
    assert [(b.name, b.start, b.could, b.filled) for b in found] == [
        ("Category i", 0, 1000, 800), ("Category x", 1000, 20, 20),
    ]  # fmt: skip


def test_under_the_points_basis_a_bar_could_fill_its_share_of_the_points() -> None:
    of = plan(category("30"), category("70", prefix="j"), basis="points")
    found = bars(grade(of, "15", "0"))
    assert [(b.could, b.filled) for b in found] == [(300, 150), (0, 0)]
    assert bars(grade(of, None, None)) == []
