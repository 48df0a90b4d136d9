"""Settled grades against somebody's list of them."""

from dataclasses import replace

from tests.builders import category, course, plan
from vinemark.core.audit.official import NOT_SETTLED, compare_settled
from vinemark.core.course.course import Settled

OF = course(
    plan(category("10")), {"ada": ["9"], "bo": ["8"], "cy": ["7"], "di": ["6"]},
    settled={"ada": Settled("A-"), "bo": Settled("B"), "di": Settled("D")},
)  # fmt: skip


def test_a_grade_is_the_same_however_its_sign_is_written() -> None:
    found = compare_settled(OF, {"ada": "a−", "bo": "C", "cy": "F"})
    assert [(line.theirs.text, line.ours, line.agrees) for line in found.lines] == [
        ("a−", "A-", True), ("C", "B", False), ("F", NOT_SETTLED, False),
    ]  # fmt: skip
    assert (found.agree, found.explanations) == (1, ())


def test_who_is_on_no_line_is_named() -> None:
    assert [student.id for student in compare_settled(OF, {"ada": "A-"}).missing] == ["bo", "cy", "di"]
    aside = replace(OF, students=tuple(replace(s, set_aside="left" if s.id == "cy" else None) for s in OF.students))
    assert "cy" not in [student.id for student in compare_settled(aside, {"ada": "A-"}).missing]


def test_a_blank_says_nothing_that_agrees() -> None:
    assert not compare_settled(OF, {"cy": ""}).lines[0].agrees
