"""Before and after, for everyone."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import AFTER, category, course, plan
from vinemark.core.grade.preview import preview_plan, touches_grades
from vinemark.core.plan.plan import Plan, ScaleRow

PLAN = plan(category("100", weight="50"), category("100", weight="50", prefix="j"))
SCORES: dict[str, list[str | None]] = {
    "ada": ["90", "70"],
    "bo": ["70", "90"],
    "cy": ["80", "80"],
    "dee": ["90", None],
    "eli": [],
}


def reweighted() -> Plan:
    first, second = PLAN.categories
    return replace(PLAN, categories=(replace(first, weight=Fraction(75)), replace(second, weight=Fraction(25))))


def test_gainers_and_losers_are_counted_and_sorted_by_effect() -> None:
    """Arithmetic: from 80 each, 75/25 gives 85, 75 and 80; one waiting score and none are untouched."""
    found = preview_plan(course(PLAN, SCORES), reweighted(), AFTER)
    assert [(e.student.id, e.after.percent) for e in found.touched] == [("bo", 75), ("ada", 85)]
    assert (found.gain, found.lose, found.letters_up, found.letters_down) == (1, 1, 0, 1)
    assert [e.change for e in found.touched] == [-5, 5]


def test_a_student_set_aside_is_not_counted() -> None:
    found = preview_plan(course(PLAN, SCORES, aside={"bo": "sits in"}), reweighted(), AFTER)
    assert [e.student.id for e in found.touched] == ["ada"]


def test_names_and_order_touch_nobody() -> None:
    of = course(PLAN, SCORES)
    first, second = PLAN.categories
    assert not touches_grades(of, replace(PLAN, categories=(second, replace(first, name="Other"))), AFTER)
    assert touches_grades(of, replace(PLAN, categories=(first,)), AFTER)


def test_before_there_are_scores_nothing_is_touched() -> None:
    zero = replace(PLAN, categories=tuple(replace(c, blanks="zero") for c in PLAN.categories))
    assert touches_grades(course(PLAN, SCORES), zero, AFTER)
    assert not touches_grades(course(PLAN, {"ada": [], "bo": []}), zero, AFTER)


def test_letters_of_another_scale_are_told_apart() -> None:
    passing = (ScaleRow("P", Fraction(75)), ScaleRow("N", Fraction(0)))
    found = preview_plan(course(PLAN, SCORES), replace(PLAN, scale=passing), AFTER)
    assert (found.letters_up, found.letters_down, found.letters_other) == (0, 0, 4)
    wider = tuple(ScaleRow(r.letter, r.cutoff - 10 if r.cutoff else r.cutoff) for r in PLAN.scale)
    assert preview_plan(course(PLAN, SCORES), replace(PLAN, scale=wider), AFTER).letters_up == 3
