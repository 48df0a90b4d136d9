"""The test student: not real, counted nowhere."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.scores.trial_student import (
    TRIAL,
    TRIAL_ID,
    is_trial,
    no_trial_cells,
    trial_cells,
    trial_percent,
)
from vinemark.core.settle.settling import take_as_computed

HERE = course(plan(category("10", "7.5")), {"ada": ["9", "6"]})


def with_trial(percent: str) -> dict[tuple[str, str], object]:
    return {(c.student_id, c.item_id): c.cell for c in trial_cells(HERE, trial_percent(percent))}


def test_every_score_is_so_much_of_its_points() -> None:
    assert with_trial("80%") == {(TRIAL_ID, "i0"): 8, (TRIAL_ID, "i1"): 6}
    assert with_trial("33.3333333") == {(TRIAL_ID, "i0"): Fraction("3.333333"), (TRIAL_ID, "i1"): Fraction("2.5")}
    assert with_trial("") == {}


@pytest.mark.parametrize("typed", ["much", "-1", "2000"])
def test_what_is_no_percent_is_refused(typed: str) -> None:
    with pytest.raises(Refused) as refused:
        trial_percent(typed)
    assert refused.value.field == "all"


def test_they_have_a_grade_and_count_nowhere() -> None:
    there = replace(HERE, students=(*HERE.students, TRIAL))
    cells = {(one.student_id, one.item_id): one.cell for one in trial_cells(there, Fraction(80))}
    there = there.with_cells(cells)
    assert grades_of(there, AFTER)[TRIAL_ID].percent == 80
    assert [s.id for s in there.enrolled()] == ["ada"]
    assert set(take_as_computed(there, grades_of(there, AFTER))) == {"ada"}
    assert {(c.item_id, c.cell) for c in no_trial_cells(there)} == {("i0", None), ("i1", None)}
    assert [is_trial(s) for s in there.students] == [False, True]
