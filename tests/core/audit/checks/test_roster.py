"""Checks of the roster: found where it is due, silent where it is not."""

from dataclasses import replace

import pytest

from tests.builders import course, roster
from tests.core.audit.looked_at import FULL, GOOD, found, of_code, only
from vinemark.core.course.course import RosterEntry, Settled, Student


def test_roster_both_ways() -> None:
    of = course(GOOD, FULL, roster("ada", "cy"))
    assert found(of) == [("not-enrolled", "bo"), ("not-in-section", "cy")]
    aside = course(GOOD, FULL, roster("ada"), aside={"bo": "sits in"})
    assert found(aside) == []
    left = RosterEntry("cy", "Cy", "Mai", status="withdrawn")
    assert found(course(GOOD, FULL, roster("ada", "bo", "cy", cy=left))) == []


def test_what_stands_beside_a_student_who_is_not_enrolled() -> None:
    of = course(GOOD, {"ada": ["9", "missing"]}, roster("cy", "di"))
    finding = only(of, "not-enrolled")
    assert finding.evidence[:2] == ["Id ada, with 1 scores here.", "The registrar lists 2 people."]


def test_a_withdrawn_student_has_no_settled_grade() -> None:
    gone = roster("ada", "bo", ada=RosterEntry("ada", "Ada", "Mai", status="withdrawn"))
    assert (
        only(course(GOOD, FULL, gone, {"ada": Settled("F"), "bo": Settled("C")}), "withdrawn-graded").student == "ada"
    )
    assert of_code(course(GOOD, FULL, gone, {"bo": Settled("C")}), "withdrawn-graded") == []
    both = {"ada": Settled("F"), "bo": Settled("C")}
    aside = course(GOOD, FULL, gone, both, aside={"ada": "left"})
    assert of_code(aside, "withdrawn-graded") == []


def test_a_name_differs_where_more_than_case_and_accents_do() -> None:
    same = roster("ada", ada=RosterEntry("ada", "ÁDA", "mai"))
    assert of_code(course(GOOD, {"ada": ["9", "8"]}, same), "name-differs") == []
    other = roster("ada", ada=RosterEntry("ada", "Adams", "Mai"))
    finding = only(course(GOOD, {"ada": ["9", "8"]}, other), "name-differs")
    assert finding.evidence == ["Here: Ada, Mai", "The registrar: Adams, Mai"]


@pytest.mark.parametrize(
    ("one", "other", "twins"),
    [
        (("Lindqvist", "Aiko", None), ("LINDQVIST", "Aiko", None), True),
        (("Aiko", "Lindqvist", None), ("Lindqvist", "Aiko", None), True),
        (("Lindqvist", "Aiko", None), ("Lindquist", "Aiko", None), True),
        (("Lindqvist", "Aiko", None), ("Lindquist", "Aika", None), False),
        (("Moss", "Aiko", None), ("Most", "Aiko", None), False),
        (("Mosse", "Aiko", None), ("Moste", "Aiko", None), True),
        (("A", "B", "x@y"), ("C", "D", " X@Y "), True),
        (("A", "B", ""), ("C", "D", None), False),
    ],
)
def test_rows_that_look_like_one_person(
    one: tuple[str, str, str | None], other: tuple[str, str, str | None], twins: bool
) -> None:
    of = course(GOOD, {"a": ["9", "8"], "b": ["9", "7"]})
    of = replace(of, students=(Student("a", *one), Student("b", *other)))
    assert [(f.student, f.part) for f in of_code(of, "twin")] == ([("b", "a")] if twins else [])
