"""The class on a strip: where dots and bands stand."""

from fractions import Fraction
from typing import Any

from tests.builders import AFTER, category, course, plan
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.distribution import BIN, Strip, strip
from vinemark.core.plan.plan import ScaleRow

PLAN = plan(category("100"))


def strip_of(scores: dict[str, list[str | None]], flagged: frozenset[str] = frozenset(), **options: Any) -> Strip:
    of = plan(category("100"), **options)
    return strip(of, grades_of(course(of, scores), AFTER), flagged)


def test_the_strip_runs_from_ten_below_the_lowest_cutoff_and_holds_a_percent_above_100() -> None:
    found = strip_of({"ada": ["30"], "bo": ["110"]})
    assert (found.low, found.high) == (Fraction(40), Fraction(110))
    assert [(d.student_id, d.x) for d in found.dots] == [("ada", BIN // 2), ("bo", 1000 // BIN * BIN + BIN // 2)]
    high = strip_of({"ada": ["70"]}, scale=(ScaleRow("A", Fraction(90)), ScaleRow("B", Fraction(0))))
    assert (high.low, high.high) == (Fraction(40), Fraction(100))


def test_equal_percents_are_piled_up_and_nobody_without_one_has_a_dot() -> None:
    found = strip_of({"ada": ["85"], "bo": ["85"], "cy": [None], "di": ["95"]}, frozenset({"bo"}))
    assert [(d.student_id, d.level, d.flagged, d.letter, d.percent) for d in found.dots] == [
        ("ada", 0, False, "B", "85.00"), ("bo", 1, True, "B", "85.00"), ("di", 0, False, "A", "95.00"),
    ]  # fmt: skip


def test_bands_cover_the_strip_and_count_their_letters() -> None:
    found = strip_of({"ada": ["85"], "bo": ["89"], "cy": ["30"]})
    assert [(b.letter, b.count, b.cutoff) for b in found.bands] == [
        ("F", 1, "0"), ("D", 0, "60"), ("C", 0, "70"), ("B", 2, "80"), ("A", 0, "90"),
    ]  # fmt: skip
    assert sum(b.width for b in found.bands) == 1000
    assert [b.start for b in found.bands][:2] == [0, 333]
    assert strip_of({"ada": ["85"]}, scale=()).bands == []
