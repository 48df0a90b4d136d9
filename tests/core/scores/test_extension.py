"""A due date of one student: what it does to blanks, to late days, to missing work, and what is refused."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from tests.builders import DURING, category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import grade_of
from vinemark.core.plan.rules import LateRule
from vinemark.core.scores.extension import Extension, extension
from vinemark.core.submit.progress import blanks

DUE = date(2026, 10, 1)
LATER = (DURING + timedelta(3)).isoformat()


def dated(*cells: str | None) -> Course:
    """Two items of 10, the second without a date; blanks count as 0 once due, a late day costs 10%."""
    of = category("10", "10", blanks="zero_when_due", late=LateRule(Fraction(10)))
    first, second = of.items
    return course(plan(replace(of, items=(replace(first, due=DUE), second))), {"ada": cells, "bo": cells})


def given(of: Course, typed: str) -> Extension:
    return extension(of, of.students[0], of.plan.columns["i0"], typed, DURING)


def with_cell(of: Course, cell: Cell) -> Course:
    return replace(of, scores={**of.scores, "ada": {**of.scores["ada"], "i0": cell}})


def test_a_blank_is_not_due_before_the_day_of_the_student() -> None:
    of = dated(None, "8")
    longer = replace(of, extensions={("ada", "i0"): DURING})
    over = replace(of, extensions={("ada", "i0"): DURING - timedelta(1)})
    assert [grade_of(one, "ada", DURING).percent for one in (of, longer, over)] == [40, 80, 40]
    assert grade_of(longer, "bo", DURING).percent == 40
    assert [blanks(one, DURING) for one in (of, longer, over)] == [2, 1, 2]


def test_late_days_recorded_already_are_lessened_by_those_given_and_come_back_with_the_day() -> None:
    of = with_cell(dated(None, "8"), DetailedScore(Fraction(9), None, 5))
    found = given(of, (DUE + timedelta(3)).isoformat())
    assert found.cell is not None
    assert found.cell.cell == DetailedScore(Fraction(9), None, 2)
    assert found.words == "Mai Ada, I 0: due Oct 4, 2026, 2 instead of 5 days late"
    after = replace(with_cell(of, found.cell.cell), extensions={("ada", "i0"): DUE + timedelta(3)})
    back = given(after, "")
    assert back.due is None
    assert back.cell is not None
    assert back.cell.cell == DetailedScore(Fraction(9), None, 5)
    assert given(of, LATER).cell is not None
    assert given(of, LATER).cell.cell == Fraction(9)  # type: ignore[union-attr]


def test_missing_work_that_is_not_due_any_more_is_blank() -> None:
    of = dated("missing", "8")
    assert given(of, LATER).cell is not None
    assert given(of, LATER).words == "Mai Ada, I 0: due Nov 4, 2026, blank instead of missing"
    assert given(of, (DUE + timedelta(1)).isoformat()).cell is None
    assert given(dated("exempt", "8"), LATER).cell is None


@pytest.mark.parametrize(
    ("typed", "reason"),
    [
        ("2026-10-01", "must be after Oct 1, 2026, the day of the class"),
        ("2026-09-30", "must be after Oct 1, 2026, the day of the class"),
        ("3026-10-02", "must be a date from 1900 to 2200"),
        ("soon", "must be a date"),
    ],
)
def test_a_day_that_cannot_be_is_refused(typed: str, reason: str) -> None:
    with pytest.raises(Refused, match=reason):
        given(dated("8", "8"), typed)


def test_an_item_without_a_date_has_none_to_extend() -> None:
    of = dated("8", "8")
    with pytest.raises(Refused, match="I 1 has no due date"):
        extension(of, of.students[0], of.plan.columns["i1"], LATER, DURING)
