"""A section with everything that belongs to its grades."""

from dataclasses import replace

import pytest

from tests.builders import category, course, plan, roster
from vinemark.core.course.course import CodeRule, GradingBasis, RosterEntry, SectionName, Settled, Student

CLASS = course(plan(category("10")), {"ada": ["8"], "bo": ["exempt"], "cy": [None]},
               roster("ada", "bo", "di", bo=RosterEntry("bo", "Bo", "Mai", status="withdrawn", basis="pass")),
               aside={"cy": "moved"})  # fmt: skip


def test_names_as_lists_and_as_sentences_say_them() -> None:
    assert (Student("1", "Ode", "Marit").name, Student("1", "Ode", "Marit").plain_name) == ("Ode, Marit", "Marit Ode")
    assert (Student("1", "Ode").name, Student("1", "Ode").plain_name, RosterEntry("1", "Ode").name) == ("Ode",) * 3
    assert (SectionName("HYDR 230", "", "01").short, SectionName("HYDR 230", "", "").short) == (
        "HYDR 230-01",
        "HYDR 230",
    )


@pytest.mark.parametrize(
    ("rule", "basis", "serves"),
    [
        (CodeRule("A", ("letter",)), "letter", True),
        (CodeRule("A", ("letter",)), "pass", False),
        (CodeRule("I"), "pass", True),
        (CodeRule("W", office_only=True), "letter", False),
    ],
)
def test_whom_a_code_serves(rule: CodeRule, basis: GradingBasis, serves: bool) -> None:
    assert rule.serves(basis) is serves


def test_status_and_basis_by_the_roster_and_without_one() -> None:
    assert [CLASS.status(s) for s in CLASS.students] == ["enrolled", "withdrawn", None]
    assert [CLASS.grading_basis(s.id) for s in CLASS.students] == ["letter", "pass", "letter"]
    assert [s.id for s in CLASS.enrolled()] == ["ada"]
    free = replace(CLASS, records=None)
    assert [s.id for s in free.enrolled()] == ["ada", "bo"]
    assert free.not_in_section() == []
    assert [e.id for e in CLASS.not_in_section()] == ["di"]
    assert (CLASS.never_attended, free.never_attended) == ("first_day", "first_day")
    assert CLASS.records is not None
    hours = replace(CLASS, records=replace(CLASS.records, never_attended="zero_hours"))
    assert hours.never_attended == "zero_hours"


def test_cells_and_what_is_recorded() -> None:
    assert (CLASS.cell("ada", "i0"), CLASS.cell("ada", "x"), CLASS.cell("x", "i0")) == (8, None, None)
    assert CLASS.recorded_items == {"i0"}
    assert course(plan(category("10")), {"bo": ["exempt"], "cy": [None]}).recorded_items == frozenset()
    assert (CLASS.student("ada"), CLASS.student("x")) == (CLASS.students[0], None)


def test_going_to_the_midterm_run_and_back_loses_neither_runs_grades() -> None:
    both = replace(CLASS, settled={"ada": Settled("A")}, midterm={"ada": Settled("C")})
    midterm = both.for_run("midterm")
    assert (midterm.run, midterm.settled["ada"].grade) == ("midterm", "C")
    assert midterm.for_run("midterm") is midterm
    assert midterm.for_run("final") == both
