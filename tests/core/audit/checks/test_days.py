"""Late days, days to come, extensions and counts, each at its limit."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

import pytest

from tests.builders import DURING, TERM, category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import with_due_dates
from vinemark.core.plan.rules import LateRule, RecordedItem

DUE = date(2026, 10, 20)
PEOPLE = {f"s{n}": ["9", "8"] for n in range(8)}


def dated(day: date = DUE, **options: Any) -> Course:
    made = plan(replace(category("10", "10"), late=LateRule(Fraction(10))), **options)
    return course(with_due_dates(made, {"i0": day}), PEOPLE)


def late(made: Course, **days: int) -> Course:
    scores = {s: {**row, "i0": DetailedScore(Fraction(9), None, days[s])} if s in days else row
              for s, row in made.scores.items()}  # fmt: skip
    return replace(made, scores=scores)


@pytest.mark.parametrize(("days", "due"), [(19, False), (20, True), (120, True)])
def test_more_late_days_than_there_were(days: int, due: bool) -> None:
    assert [f.student for f in of_code(late(dated(), s3=days), "late-odd", DURING)] == (["s3"] if due else [])


@pytest.mark.parametrize(("usual", "due"), [(2, True), (9, False)])
def test_late_days_far_beyond_those_of_others(usual: int, due: bool) -> None:
    made = late(dated(TERM.starts), s1=usual, s2=usual, s3=30)
    assert [f.student for f in of_code(made, "late-odd", DURING)] == (["s3"] if due else [])


@pytest.mark.parametrize(("ahead", "due"), [(7, False), (8, True)])
def test_scored_before_it_is_due(ahead: int, due: bool) -> None:
    made = dated(DURING + timedelta(days=ahead))
    assert [f.item for f in of_code(made, "due-later", DURING)] == (["i0"] if due else [])


@pytest.mark.parametrize(("by", "due"), [(-1, True), (9, False), (900, True)])
def test_an_odd_day_of_ones_own(by: int, due: bool) -> None:
    made = replace(dated(), extensions={("s2", "i0"): DUE + timedelta(days=by)})
    assert [f.student for f in of_code(made, "extension-odd", DURING)] == (["s2"] if due else [])


@pytest.mark.parametrize(("count", "due"), [(9, False), (14, False), (15, True)])
def test_a_count_far_above_the_others(count: int, due: bool) -> None:
    made = dated(recorded=(RecordedItem("za", "Absences"),))
    scores = {s: {**row, "za": Fraction(3)} for s, row in made.scores.items()}
    made = replace(made, scores={**scores, "s4": {**scores["s4"], "za": Fraction(count)}})
    assert [(f.student, f.item) for f in of_code(made, "count-odd", DURING)] == ([("s4", "za")] if due else [])


@pytest.mark.parametrize(("blanks", "scored", "due"), [("zero", True, True), ("zero_when_due", True, False),
                                                       ("zero", False, False)])  # fmt: skip
def test_blanks_of_work_to_come_that_count_as_zero(blanks: str, scored: bool, due: bool) -> None:
    made = course(plan(category("10", "10", blanks=blanks)), {"ada": ["9" if scored else None, None]})
    assert bool(of_code(made, "zero-early", DURING)) == due
