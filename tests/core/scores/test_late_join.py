"""A student who joined late: what was due before becomes exempt, what was scored stays."""

from dataclasses import replace
from datetime import date, timedelta

from tests.builders import category, course, plan
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.late_join import late_join

JOINED = date(2026, 9, 21)


def dated(*days: int | None) -> Plan:
    """Items due so many days before or after the day of joining."""
    of = category(*["10"] * len(days))
    due = [None if d is None else JOINED + timedelta(d) for d in days]
    return plan(replace(of, items=tuple(replace(i, due=d) for i, d in zip(of.items, due, strict=True))))


def test_blank_and_missing_cells_due_before_become_exempt_and_scores_stay() -> None:
    of = course(dated(-3, -2, -1, 0, 1, None), {"ada": [None, "missing", "0", None, None, None]})
    found = late_join(of, of.students[0], JOINED)
    assert [i.id for i in found.exempt] == ["i0", "i1"]
    assert [i.id for i in found.scored] == ["i2"]
    assert found.words == "2 cells become exempt: I 0, I 1; 1 score stays"


def test_an_exempt_cell_is_neither() -> None:
    of = course(dated(-3, -2), {"ada": ["exempt", None]})
    found = late_join(of, of.students[0], JOINED)
    assert ([i.id for i in found.exempt], list(found.scored)) == (["i1"], [])
    assert found.words == "1 cell becomes exempt: I 1"


def test_nothing_to_exempt_is_said_and_several_scores_are_counted() -> None:
    of = course(dated(-3, -2, -1), {"ada": ["1", "2", None], "bo": ["1", "2", "3"]})
    ada, bo = (late_join(of, student, JOINED) for student in of.students)
    assert ada.words == "1 cell becomes exempt: I 2; 2 scores stay"
    assert bo.words == "nothing to exempt: no blank or missing cell was due before that day"
