"""Before a grade is raised: who has as good a claim to it."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, TENS, category, course, plan, roster
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, RosterEntry, Settled, Student
from vinemark.core.grade.calculation import grade_of
from vinemark.core.settle.same_place import refuse_unseen, same_place

PLAN = plan(category("100"))
SCORES = {"ada": ["84"], "bo": ["84"], "cy": ["88"], "di": ["81"], "ed": ["92"], "flo": ["85"]}
WITH_PASS = {"flo": RosterEntry("flo", "Flo", "Mai", basis="pass")}


def peers(of: Course, student: str, code: str) -> list[str]:
    grades = {s.id: grade_of(of, s.id, AFTER) for s in of.enrolled()}
    return [s.id for s in same_place(of, grades, student, code)]


def test_those_with_the_same_letter_and_no_lower_percent_are_named() -> None:
    assert peers(course(PLAN, SCORES, roster(*SCORES)), "ada", "A") == ["bo", "cy", "flo"]


def test_another_basis_and_who_is_settled_as_well_already_are_not() -> None:
    records = roster(*SCORES, **WITH_PASS)
    settled = {"bo": Settled("A", "raised"), "cy": Settled("B")}
    assert peers(course(PLAN, SCORES, records, settled), "ada", "A") == ["cy"]


def test_only_a_raise_asks() -> None:
    of = course(PLAN, SCORES, roster(*SCORES))
    assert [peers(of, "ada", code) for code in ("B", "C", "F", "I")] == [[], [], [], []]
    assert peers(of, "ed", "A") == []


def test_without_any_score_everyone_without_one_stands_in_the_same_place() -> None:
    of = course(
        plan(category("100", blanks="zero")), {"ada": [None], "bo": [None], "cy": ["10"]}, roster("ada", "bo", "cy")
    )
    assert peers(of, "ada", "D") == ["bo", "cy"]


def test_a_scale_is_followed_from_its_best_letter_whatever_order_it_is_written_in() -> None:
    turned = replace(PLAN, scale=tuple(reversed(TENS)))
    assert peers(course(turned, SCORES, roster(*SCORES)), "di", "A") == ["ada", "bo", "cy", "flo"]
    assert Fraction(80) in {row.cutoff for row in turned.scale}


def test_a_raise_waits_until_as_many_were_seen() -> None:
    def some(count: int) -> list[Student]:
        return [Student(str(n), f"N{n}", "Mai") for n in range(count)]

    refuse_unseen([], "")
    refuse_unseen(some(2), "2")
    with pytest.raises(Refused, match=r"1 other student is as high or higher with the same letter: Mai N0$"):
        refuse_unseen(some(1), "")
    with pytest.raises(Refused, match=r"7 others are .* Mai N5 …$"):
        refuse_unseen(some(7), "6")
    with pytest.raises(Refused, match=r"Mai N5$"):
        refuse_unseen(some(6), "")
