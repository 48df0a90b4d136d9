"""Every check: found where it is due, silent where it is not."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import AFTER, DURING, category, course, items, plan, roster
from vinemark.core.audit import Finding, audit
from vinemark.core.course.course import Course, RosterEntry, Settled
from vinemark.core.plan.plan import Category, ScaleRow

GOOD = plan(category("10", "10"))
FULL = {"ada": ["9", "8"], "bo": ["7", "7"]}


def found(of: Course, as_of: date = AFTER, submitting: bool = False) -> list[tuple[str, str | None]]:
    return [(f.code, f.student or f.category) for f in audit(of, as_of, submitting)]


def only(of: Course, code: str) -> Finding:
    matching = [f for f in audit(of, AFTER) if f.code == code]
    assert len(matching) == 1
    return matching[0]


def test_a_clean_course_is_silent() -> None:
    settled = {"ada": Settled("B"), "bo": Settled("C")}
    assert found(course(GOOD, FULL, roster("ada", "bo"), settled)) == []
    assert found(course(GOOD, FULL)) == []


def test_weights_off_is_exact() -> None:
    """3 x 33.33 is due (99.99), three exact thirds are not."""
    near = plan(*(category("1", weight="33.33", prefix=p) for p in "abc"))
    thirds = plan(*(category("1", weight="100/3", prefix=p) for p in "abc"))
    finding = only(course(near, {"ada": ["1", "1", "1"]}), "weights-off")
    assert "99.99 of 100: 0.01 open" in finding.message
    assert finding.level == "stop"
    assert found(course(thirds, {"ada": ["1", "1", "1"]})) == []
    assert found(course(replace(near, basis="points"), {"ada": ["1", "1", "1"]})) == []


def test_category_empty() -> None:
    empty = Category("lab", "Labs", Fraction(50))
    of = plan(category("10", weight="50"), empty)
    assert found(course(of, {"ada": ["9"]})) == [("category-empty", "lab")]
    free = plan(category("10"), replace(empty, weight=Fraction(0)))
    assert found(course(free, {"ada": ["9"]})) == []


def test_a_category_with_planned_items_is_not_empty_while_the_term_runs() -> None:
    planned = Category("lab", "Labs", Fraction(50), items=items("10", prefix="l", counts=False, due=date(2026, 12, 1)))
    of = course(plan(category("10", weight="50"), planned), {"ada": ["9"]})
    assert found(of, DURING) == []
    assert found(of, AFTER) == [("category-empty", "lab"), ("item-planned", "lab")]
    assert found(of, date(2026, 12, 2)) == [("category-empty", "lab"), ("item-planned", "lab")]


def test_scale_hole() -> None:
    broken = replace(GOOD, scale=(ScaleRow("A", Fraction(90)),))
    none = replace(GOOD, scale=())
    assert "no row from 0" in only(course(broken, FULL), "scale-hole").message
    assert found(course(none, FULL)) == [("scale-hole", None)]
    on_pass = {s: RosterEntry(s, s.capitalize(), "Mai", basis="pass") for s in FULL}
    assert found(course(none, FULL, roster(*FULL, **on_pass))) == []


def test_over_points_only_for_regular_items_of_ordinary_categories() -> None:
    of = course(GOOD, {"ada": ["10.5", "10"], "bo": ["10", "10"]})
    finding = only(of, "over-points")
    assert (finding.student, finding.item, finding.message) == ("ada", "i0", "Mai Ada has 10.5 of 10 on I 0.")
    bonus = replace(category("5", weight="5", prefix="x"), extra=True)
    assert found(course(plan(*GOOD.categories, bonus), {"ada": ["9", "9", "7"]})) == []


def test_blank_waits_only_after_the_term_and_names_the_letters() -> None:
    of = course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]})
    assert found(of, date(2026, 12, 18)) == []
    finding = only(of, "blank-waits")
    assert finding.message == "Mai Ada has 1 blank still left out: I 1. Now A, with zeros F."
    zero = replace(GOOD, categories=(replace(GOOD.categories[0], blanks="zero"),))
    assert found(course(zero, {"ada": ["9", None], "bo": ["7", "7"]})) == []


def test_blank_waits_leaves_out_blank_columns_withdrawn_students_and_incompletes() -> None:
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", None]})) == [("column-blank", "c-i")]
    gone = RosterEntry("ada", "Ada", "Mai", status="withdrawn")
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]}, roster("ada", "bo", ada=gone))) == []
    open_ = {"ada": Settled("I", fallback_grade="C", finish_by=date(2027, 5, 1)), "bo": Settled("C")}
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]}, roster("ada", "bo"), open_)) == []


def test_blank_under_zero_when_due_without_a_date() -> None:
    undated = replace(GOOD, categories=(replace(GOOD.categories[0], blanks="zero_when_due"),))
    assert found(course(undated, {"ada": ["9", None], "bo": ["7", "7"]})) == [("blank-waits", "ada")]


def test_roster_both_ways() -> None:
    of = course(GOOD, FULL, roster("ada", "cy"))
    assert found(of) == [("not-enrolled", "bo"), ("not-in-section", "cy")]
    aside = course(GOOD, FULL, roster("ada"), aside={"bo": "sits in"})
    assert found(aside) == []
    left = RosterEntry("cy", "Cy", "Mai", status="withdrawn")
    assert found(course(GOOD, FULL, roster("ada", "bo", "cy", cy=left))) == []


def test_unsettled_once_one_is_settled_and_always_when_submitting() -> None:
    records = roster("ada", "bo")
    assert found(course(GOOD, FULL, records)) == []
    assert found(course(GOOD, FULL, records), submitting=True) == [("unsettled", "ada"), ("unsettled", "bo")]
    assert found(course(GOOD, FULL, records, {"ada": Settled("B")})) == [("unsettled", "bo")]


def test_needs_last_attended_is_met_by_a_date_or_never_attended() -> None:
    records = roster("ada", "bo")
    for given, due in (
        (Settled("F"), True),
        (Settled("F", last_attended=date(2026, 11, 2)), False),
        (Settled("F", never_attended=True), False),
    ):
        of = course(GOOD, FULL, records, {"ada": Settled("B"), "bo": given})
        assert (("needs-last-attended", "bo") in found(of)) is due


def test_findings_come_with_stop_first() -> None:
    levels = [f.level for f in audit(course(plan(category("10", weight="90")), {"ada": ["11"]}), AFTER)]
    assert levels == ["stop", "look"]
