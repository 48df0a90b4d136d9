"""Undoing an entry of the history."""

from dataclasses import replace

from tests.section.conftest import House
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.section.acts.scores import enter_scores
from vinemark.section.acts.undo import undo, undo_cells
from vinemark.section.outcome import Conflict, Done
from vinemark.section.state import SectionState
from vinemark.store import plans


def typed(house: House, section: SectionState, text: str) -> int:
    student = section.course.enrolled()[0]
    _, item = next(iter(section.course.plan.items()))
    entry = enter_scores(section, house.act(section), [TypedCell(student.id, item.id, text)]).written.entry
    assert entry is not None
    return entry


def by_points(plan: Plan) -> tuple[Plan, str]:
    return replace(plan, basis="points"), "by points"


def test_undone_and_done_again(house: House) -> None:
    section = house.section("HYDR 230-01")
    entry = typed(house, section, "3")
    undone = undo_cells(section, house.act(section), entry)
    assert isinstance(undone, Done)
    assert undone.entry is not None
    assert isinstance(undo_cells(section, house.act(section), entry), Conflict)
    assert isinstance(undo_cells(section, house.act(section), undone.entry), Done)
    student = section.course.enrolled()[0]
    assert section.fresh().course.cell(student.id, next(iter(section.course.plan.items()))[1].id) == 3


def test_the_sheet_undoes_cells_alone(house: House) -> None:
    section = house.section("HYDR 230-01")
    plan = plans.write_plan_version(house.connection, house.act(section), by_points)
    assert plan is not None
    assert isinstance(undo_cells(section, house.act(section), plan), Refused)
    assert isinstance(undo_cells(section, house.act(section), 10**9), Refused)
    assert isinstance(undo(section, house.act(section), plan), Done)


def test_only_the_instructor_undoes_and_never_over_a_later_change(house: House) -> None:
    section = house.section("HYDR 230-01")
    entry = typed(house, section, "3")
    reviewer = replace(section, record=replace(section.record, role="reviewer"))
    assert isinstance(undo(reviewer, house.act(section), entry), Refused)
    typed(house, section, "4")
    assert isinstance(undo(section, house.act(section), entry), Conflict)
