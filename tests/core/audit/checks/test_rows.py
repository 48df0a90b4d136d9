"""Whole rows: that are no person, that are filled across, that begin with zeros."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

import pytest

from tests.builders import category, course, items, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Course, Records, RosterEntry
from vinemark.core.plan.plan import Plan

TWO_KINDS = plan(category(*["10"] * 5, weight="50"), category(*["20"] * 5, weight="50", prefix="j"))
ROWS = {
    f"s{n}": [str(6 + (n + k) % 5) for k in range(5)] + [str(12 + (3 * n + k) % 7) for k in range(5)] for n in range(12)
}


def found(of: Course, code: str) -> list[tuple[str | None, str]]:
    return [(one.student, one.message) for one in of_code(of, code)]


def named(family: str, given: str = "", records: Records | None = None) -> Course:
    of = course(TWO_KINDS, {**ROWS, "x": ["8"] * 5 + ["15"] * 5}, records=records)
    people = tuple(replace(s, family_name=family, given_name=given) if s.id == "x" else s for s in of.students)
    return replace(of, students=people)


@pytest.mark.parametrize(
    "name",
    [("Average", ""), ("Points", "Possible"), ("Student", "Test"), ("TOTAL", ""), ("Class", "Average"), ("Max", "")],
)
def test_a_row_of_figures_is_no_student(name: tuple[str, str]) -> None:
    assert [student for student, _ in found(named(*name), "row-no-person")] == ["x"]


@pytest.mark.parametrize(
    "name", [("Sum", "Mei"), ("Total", "Ada"), ("Test", "Ada"), ("Averin", ""), ("Key", "Francis")]
)
def test_people_with_such_names_are_people(name: tuple[str, str]) -> None:
    assert found(named(*name), "row-no-person") == []


def test_who_is_on_the_roster_is_a_student_whatever_the_name() -> None:
    entries = tuple(RosterEntry(s, "Average", "") for s in [*ROWS, "x"])
    assert found(named("Average", "", Records(entries)), "row-no-person") == []


def with_row(of: Plan, cells: Sequence[str | None]) -> Course:
    return course(of, {**ROWS, "x": cells})


def test_one_part_of_the_points_on_everything() -> None:
    assert found(with_row(TWO_KINDS, ["8"] * 5 + ["16"] * 5), "row-even")[0][1].endswith("has 80% on every item.")
    assert found(with_row(TWO_KINDS, ["10"] * 5 + ["20"] * 5), "row-even") == []
    assert found(with_row(TWO_KINDS, ["0"] * 5 + ["0"] * 5), "row-even") == []
    assert found(with_row(TWO_KINDS, ["8"] * 5 + ["16", "16", None, None, None]), "row-even") == []
    many = course(TWO_KINDS, {**{s: ["8"] * 5 + ["16"] * 5 for s in ("x", "y")}, **ROWS})
    assert found(many, "row-even") == []


def test_an_average_on_all_of_a_category() -> None:
    one = with_row(TWO_KINDS, ["7.83"] * 5 + ["12", "14", "15", "16", "17"])
    assert found(one, "row-even")[0][1].endswith("has 7.83 on every item of Category i.")
    assert found(with_row(TWO_KINDS, ["7.5"] * 5 + ["12", "14", "15", "16", "17"]), "row-even") == []
    two = course(TWO_KINDS, {**ROWS, **{s: ["7.83"] * 5 + ["12", "14", "15", "16", "17"] for s in ("x", "y")}})
    assert found(two, "row-even") == []


def dated() -> Plan:
    first = date(2026, 9, 7)
    made = tuple(replace(item, due=first + timedelta(days=7 * n)) for n, item in enumerate(items(*["10"] * 10)))
    return plan(replace(category(*["10"] * 10), items=made))


def test_zeros_before_the_first_work() -> None:
    of = dated()
    late = with_row(of, ["0"] * 4 + ["7", "8", "9", "7", "8", "9"])
    assert found(late, "zeros-first")[0][1].endswith("has 0 on the first 4 items and on none after them.")
    assert found(with_row(of, ["0", "0", *["8"] * 8]), "zeros-first") == []
    assert found(with_row(of, ["0", "0", "0", "8", "0", *["8"] * 5]), "zeros-first") == []
    assert found(with_row(of, ["0"] * 6 + ["8"] * 4), "zeros-first") == []


@pytest.mark.parametrize(
    "of",
    [
        course(plan(category()), {"ada": []}), course(TWO_KINDS, {}), course(plan(category("10")), {"ada": [None]}),
        course(plan(), {"ada": []}), course(plan(), {}),
    ],
)  # fmt: skip
def test_a_section_without_items_or_without_students_is_looked_at(of: Course) -> None:
    for code in ("row-even", "zeros-first", "row-no-person"):
        assert found(of, code) == []
