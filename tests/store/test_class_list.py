"""Students, what is kept beside them, cells, plan and numbers changed in one act, and undone in one."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import category, plan
from tests.store.conftest import Kept
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.course.detail import NO_DETAIL, StudentDetail
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import scores
from vinemark.store.class_list import (
    ClassChange,
    details_of,
    former_ids,
    kept_for,
    people_state,
    put_ids,
    write_class,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.plans import latest_version, plan_versions
from vinemark.store.remarks import remarks_of, write_remark
from vinemark.store.undo import undo_entry

CY = Student("cy", "Cy", "Li", "cy@x.example")
NOTED = StudentDetail("Mia", "MEE-ah", "sits in front", date(2026, 9, 20))


def everything(kept: Kept) -> ClassChange:
    """A change of each kind at once."""
    wider = plan(category("10", "20", "30"))
    assert kept.course().plan != wider
    return ClassChange(
        people={"cy": CY, "bo": Student("bo", "Boe", "Mai")},
        details={"ada": NOTED, "cy": StudentDetail(remark="new")},
        cells=[CellWrite("cy", "i2", Fraction(25)), CellWrite("ada", "i0", Fraction(9))],
        plan=wider,
        ids={"ada": "L1"},
    )


def test_all_of_it_happens_and_is_undone_and_done_again(kept: Kept) -> None:
    before = kept.course()
    entry = write_class(kept.connection, kept.act(), everything(kept), "brought")
    after = kept.course()
    assert [s.id for s in after.students] == ["L1", "bo", "cy"]
    assert after.students[1].family_name == "Boe"
    assert after.scores == {"L1": {"i0": 9}, "cy": {"i2": 25}}
    assert len(after.plan.columns) == 3
    assert details_of(kept.connection, kept.section) == {"L1": NOTED, "cy": StudentDetail(remark="new")}
    assert former_ids(kept.connection, kept.section, "L1") == ["ada"]
    undone = undo_entry(kept.connection, kept.act(), entry)
    assert kept.course() == before
    assert details_of(kept.connection, kept.section) == {}
    undo_entry(kept.connection, kept.act(), undone.entry)
    assert kept.course() == after
    assert plan_versions(kept.connection, kept.section)[0]["version"] == 4


def test_it_is_done_once_for_one_key(kept: Kept) -> None:
    write_class(kept.connection, kept.act("k"), ClassChange(people={"cy": CY}), "added")
    with pytest.raises(Exception, match="k"):
        write_class(kept.connection, kept.act("k"), ClassChange(people={"cy": None}), "removed")
    assert len(kept.course().students) == 3


@pytest.mark.parametrize("later", ["cell", "person", "detail", "plan"])
def test_an_undoing_stops_at_a_later_change(kept: Kept, later: str) -> None:
    entry = write_class(kept.connection, kept.act(), everything(kept), "brought")
    change = {
        "cell": ClassChange(cells=[CellWrite("cy", "i2", Fraction(1))]),
        "person": ClassChange(people={"bo": Student("bo", "Bow", "Mai")}),
        "detail": ClassChange(details={"cy": NO_DETAIL}),
        "plan": ClassChange(plan=plan(category("10"))),
    }[later]
    write_class(kept.connection, kept.act(), change, "later")
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), entry)
    assert len(kept.course().students) == 3


def test_nobody_leaves_with_something_kept(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", Fraction(9))], "typed")
    assert kept_for(kept.connection, kept.section, ["ada", "bo"]) == {"ada": 1}
    with pytest.raises(ChangedSinceError):
        write_class(kept.connection, kept.act(), ClassChange(people={"ada": None}), "removed")
    assert people_state(kept.connection, kept.section, ["ada"])["ada"] is not None
    write_class(kept.connection, kept.act(), ClassChange(people={"bo": None}), "removed")
    assert [s.id for s in kept.course().students] == ["ada"]


def test_undoing_an_addition_takes_its_own_scores_along_but_no_later_ones(kept: Kept) -> None:
    change = ClassChange(people={"cy": CY}, cells=[CellWrite("cy", "i0", Fraction(9))])
    entry = write_class(kept.connection, kept.act(), change, "brought")
    scores.write_cells(kept.connection, kept.act(), [CellWrite("cy", "i1", Fraction(9))], "typed")
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), entry)
    scores.write_cells(kept.connection, kept.act(), [CellWrite("cy", "i1", None)], "emptied")
    undo_entry(kept.connection, kept.act(), entry)
    assert [s.id for s in kept.course().students] == ["ada", "bo"]


def test_a_number_of_somebody_else_is_refused(kept: Kept) -> None:
    with pytest.raises(Refused, match="another student here has the ID bo"):
        write_class(kept.connection, kept.act(), ClassChange(ids={"ada": "bo"}), "number")
    with pytest.raises(ChangedSinceError):
        put_ids(kept.connection, kept.section, {"nobody": "x"})
    entry = write_class(kept.connection, kept.act(), ClassChange(ids={"ada": "L1"}), "number")
    write_class(kept.connection, kept.act(), ClassChange(people={"ada": replace(CY, id="ada")}), "added")
    with pytest.raises(ChangedSinceError, match="Another student here has the ID ada"):
        undo_entry(kept.connection, kept.act(), entry)


def test_the_history_of_a_cell_knows_what_came_under_another_number(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", Fraction(8))], "typed")
    write_class(kept.connection, kept.act(), ClassChange(ids={"ada": "L1"}), "number")
    change = ClassChange(cells=[CellWrite("L1", "i0", Fraction(9))])
    write_class(kept.connection, kept.act(), change, "brought")
    found = scores.history_of_cell(kept.connection, kept.section, "L1", "i0")
    told = [(row["what"], row["before"], row["after"]) for row in found]
    assert told == [("brought", "8", "9"), ("typed", None, "8")]
    assert scores.last_writer(kept.connection, kept.section, "L1", "i0") == "Maren"
    assert scores.since(kept.connection, kept.section, 0).places == {("ada", "i0"), ("L1", "i0")}
    assert latest_version(kept.connection, kept.section) == 1


def test_remarks_at_cells_come_with_a_change_and_go_with_its_undo(kept: Kept) -> None:
    write_remark(kept.connection, kept.act(), ("ada", "i0"), "first", "remark")
    change = ClassChange(remarks={("ada", "i0"): "first; abs", ("bo", "i1"): "see me"})
    entry = write_class(kept.connection, kept.act(), change, "from a file")
    assert remarks_of(kept.connection, kept.section) == {("ada", "i0"): "first; abs", ("bo", "i1"): "see me"}
    undo_entry(kept.connection, kept.act(), entry)
    assert remarks_of(kept.connection, kept.section) == {("ada", "i0"): "first"}
