"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from dataclasses import replace
from fractions import Fraction

from tests.core.syllabus.one_syllabus import PLAN, READING, changed, open_rules
from vinemark.core.plan.edit import add_category
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.follow import follow


def test_categories_that_only_one_side_has() -> None:
    less = replace(PLAN, categories=PLAN.categories[:4])
    assert open_rules(less) == [("category:Survey report", "not in the plan")]
    mended, _ = follow(less, "category:Survey report", READING, {"c5", "i18"})
    assert [c.name for c in mended.categories][-1] == "Survey report"
    assert mended.categories[-1].id == "c6"
    assert open_rules(mended) == []
    more = add_category(PLAN, "Field day", "5")
    assert open_rules(more) == [("category:c6", "not in the syllabus")]
    assert open_rules(follow(more, "category:c6", READING)[0]) == []


def test_best_8_of_10_is_the_lowest_2_dropped() -> None:
    """Arithmetic: keeping the best 6 of 8 drops the lowest 2."""
    assert open_rules(changed(1, drop_lowest=0, keep_best=6)) == []
    assert open_rules(changed(2, drop_lowest=1)) == [("drop:c3", "not in the syllabus")]


def test_zeros_are_met_by_counting_0_at_once_or_once_due_and_only_where_spoken_of() -> None:
    reading = read_syllabus("Quizzes 40%, essays 60%. A quiz you miss scores zero.")
    plan = drafted(reading)
    assert {c.blanks for c in plan.categories} == {"zero_when_due"}
    quizzes, essays = plan.categories
    for blanks, differs in (("zero", False), ("wait", True)):
        made = replace(plan, categories=(replace(quizzes, blanks=blanks), replace(essays, blanks="wait")))  # type: ignore[arg-type]
        assert (("blanks:", "differs") in open_rules(made, reading)) == differs
    waiting = replace(plan, categories=(replace(quizzes, blanks="wait"), replace(essays, blanks="wait")))
    assert [c.blanks for c in follow(waiting, "blanks:", reading)[0].categories] == ["zero_when_due", "wait"]


def test_points_agree_before_or_after_the_drops() -> None:
    reading = read_syllabus(
        "Points\nReports  5 x 20 points, lowest dropped = 80 points\nExam: 120 points\nTotal: 200 points\n"
    )
    plan = drafted(reading)
    assert [sum(i.points for i in c.items) for c in plan.categories] == [100, 120]
    assert not [key for key, _ in open_rules(plan, reading) if key.startswith("points")]
    wrong = replace(
        plan,
        categories=tuple(
            replace(c, items=tuple(replace(i, points=Fraction(7)) for i in c.items)) for c in plan.categories
        ),
    )
    assert {key.split(":")[0] for key, _ in open_rules(wrong, reading)} == {"points", "points each"}
    mended, _ = follow(wrong, "points:c2", reading)
    assert mended.categories[1].items[0].points == 120
