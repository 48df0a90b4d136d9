"""From the computed grade to the rows that go out, and back."""

from dataclasses import replace
from datetime import date

import pytest

from tests.builders import AFTER, course, roster
from tests.core.small_class import PLAN, code_of, small_class
from vinemark.core.audit import audit
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import CodeRule, Course, RosterEntry, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.settle.settling import checked_grade, letter_counts, still_open, take_as_computed
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.rows import (
    SubmitRow,
    left,
    submission_rows,
)
from vinemark.core.submit.submission import AtRegistrar


def test_taking_all_as_computed_leaves_what_is_settled() -> None:
    of = small_class({"ada": Settled("A", "raised")})
    grades = {s.id: grade_of(of, s.id, AFTER) for s in of.enrolled()}
    assert take_as_computed(of, grades) == {"bo": Settled("P"), "cy": Settled("F")}


def test_another_grade_than_the_computed_one_needs_a_reason() -> None:
    with pytest.raises(Refused) as caught:
        checked_grade(small_class(), "ada", Settled("A", " "), "B")
    assert (caught.value.field, caught.value.reason) == ("reason", "type why it is A instead of B")
    assert checked_grade(small_class(), "ada", Settled("a", "strong report"), "B") == Settled("A", "strong report")
    assert checked_grade(small_class(), "ada", Settled("B"), "B") == Settled("B")


@pytest.mark.parametrize(
    ("student", "typed", "place"),
    [
        ("ada", Settled("P"), "grade"),
        ("bo", Settled("A"), "grade"),
        ("ada", Settled("W"), "grade"),
        ("ada", Settled("1"), "grade"),
        ("cy", Settled("F", last_attended=date(2026, 8, 30)), "last_attended"),
        ("cy", Settled("F", last_attended=date(2026, 12, 19)), "last_attended"),
        ("ada", Settled("I", finish_by=date(2026, 12, 18), fallback_grade="C"), "finish_by"),
        ("ada", Settled("I", finish_by=date(2027, 1, 18), fallback_grade="I"), "fallback_grade"),
    ],
)
def test_what_the_office_does_not_take_is_refused_at_its_field(student: str, typed: Settled, place: str) -> None:
    with pytest.raises(Refused) as caught:
        checked_grade(small_class(), student, typed, code_of(small_class(), student))
    assert caught.value.field == place


def test_nobody_outside_the_roster_is_given_a_grade() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    scores = {"ada": ["85"], "bo": ["65"], "dee": ["90"], "eli": ["90"]}
    of = course(PLAN, scores, roster("ada", "bo", "eli", **gone), aside={"eli": "sits in"})
    for student in ("bo", "dee", "eli", "nobody"):
        with pytest.raises(Refused, match="only a student on the roster"):
            checked_grade(of, student, Settled("A", "asked for it"), "A")


def test_settled_grades_are_counted_in_the_scales_order() -> None:
    of = small_class({"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("B", "raised")})
    assert (letter_counts(of), still_open(of)) == ([("B", 2), ("P", 1)], 0)
    assert still_open(small_class()) == 3


def test_what_a_code_does_not_need_is_not_kept() -> None:
    typed = Settled("B", last_attended=date(2026, 11, 2), fallback_grade="C", never_attended=True)
    assert checked_grade(small_class(), "ada", typed, "B") == Settled("B")
    never = Settled("F", last_attended=date(2026, 11, 2), never_attended=True)
    assert checked_grade(small_class(), "cy", never, "F") == Settled("F", never_attended=True)
    open_ = Settled("I", finish_by=date(2027, 5, 1), fallback_grade="c", owed="report")
    assert checked_grade(small_class(), "ada", open_, "B").fallback_grade == "C"


def rows(of: Course, held: dict[str, GradeRow] | None = None) -> list[SubmitRow]:
    return submission_rows(of, audit(of, AFTER, submitting=True), AtRegistrar(held or {}, held or {}))


def test_withdrawn_and_set_aside_students_are_not_left_to_do() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    of = course(
        PLAN, {"ada": ["85"], "bo": ["65"], "dee": ["1"]}, roster("ada", "bo", **gone), aside={"dee": "sits in"}
    )
    found = {row.student_id: row.state for row in rows(of)}
    assert found == {"ada": "stopped", "bo": "withdrawn", "dee": "set aside"}
    assert left(rows(of)) == 1


def test_what_the_office_fixes_for_an_incomplete_stands_over_what_is_typed() -> None:
    of = small_class()
    assert of.records is not None
    fixed = replace(of.records, incomplete_fallback="F", incomplete_finish_by=date(2027, 2, 1))
    typed = Settled("I", "ill", fallback_grade="C", finish_by=date(2027, 5, 1))
    made = checked_grade(replace(of, records=fixed), "ada", typed, "B")
    assert (made.fallback_grade, made.finish_by) == ("F", date(2027, 2, 1))
    free = checked_grade(of, "ada", typed, "B")
    assert (free.fallback_grade, free.finish_by) == ("C", date(2027, 5, 1))
    blank = checked_grade(of, "ada", Settled("I", "ill"), "B")
    assert (blank.fallback_grade, blank.finish_by) == (None, None)


def test_a_code_for_another_that_needs_a_date_too_keeps_it() -> None:
    of = small_class()
    assert of.records is not None
    more = replace(of.records, codes=(*of.records.codes, CodeRule("FX", ("letter",), ("last_attended",))))
    failed = checked_grade(replace(of, records=more), "cy", Settled("F", last_attended=date(2026, 11, 2)), "F")
    other = checked_grade(replace(of, records=more), "cy", replace(failed, grade="FX", reason="copied"), "F")
    assert (other.grade, other.last_attended) == ("FX", date(2026, 11, 2))
