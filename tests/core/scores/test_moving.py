"""Students who move: a score comes along to the item of its name and points, where nothing else stands."""

from dataclasses import replace
from datetime import date

from tests.builders import category, course, plan
from vinemark.core.course.cell_text import cell_text
from vinemark.core.scores.moving import PlannedMove, planned_move

HERE = course(plan(category("10", "20", "30")), {"ada": ["7.5", "missing", "30"], "bo": ["1", None, "2"]})
NAMES = [one.name for one in HERE.plan.columns.values()]


def moved(target: object, *ids: str) -> PlannedMove:
    return planned_move(HERE, target, ids, {("ada", "i0"): "late"})  # type: ignore[arg-type]


def cells(move: PlannedMove) -> dict[tuple[str, str], str]:
    return {(one.student_id, one.item_id): cell_text(one.cell) for one in move.cells}


def test_everything_comes_along_where_the_plan_is_the_same() -> None:
    here = replace(HERE, extensions={("ada", "i1"): date(2026, 12, 1), ("bo", "i1"): date(2026, 12, 2)})
    there = course(HERE.plan, {"cy": ["5", None, None]})
    move = planned_move(here, there, ["ada"], {("ada", "i0"): "late", ("bo", "i0"): "other"})
    assert [one.id for one in move.new] == ["ada"]
    assert cells(move) == {("ada", "i0"): "7.5", ("ada", "i1"): "missing", ("ada", "i2"): "30"}
    assert all(one.was == "" for one in move.cells)
    assert move.remarks == {("ada", "i0"): "late"}
    assert move.extensions == {("ada", "i1"): date(2026, 12, 1)}
    assert not move.left


def test_what_has_no_place_there_stays_and_says_why() -> None:
    there = course(plan(category("10", "25")), {"cy": [None, None]})
    move = moved(there, "ada")
    assert cells(move) == {("ada", "i0"): "7.5"}
    assert [(one.text, one.why) for one in move.left] == [
        ("missing", "it has other points there"), ("30", "there is no item of this name"),
    ]  # fmt: skip
    assert [one.there is not None for one in move.items] == [True, False, False]


def test_what_stands_there_is_not_written_over() -> None:
    there = course(HERE.plan, {"ada": ["7.5", "20", None]})
    move = moved(there, "ada")
    assert not move.new
    assert cells(move) == {("ada", "i2"): "30"}
    assert [one.why for one in move.left] == ["20 stands there already"]


def test_who_is_set_aside_or_unknown_does_not_move() -> None:
    here = course(HERE.plan, {"ada": ["1"], "bo": ["2"]}, aside={"bo": "withdrawn"})
    there = course(HERE.plan, {"cy": [None]})
    move = planned_move(here, there, ["bo", "nobody", "ada"], {})
    assert [one.id for one in move.students] == ["ada"]


def test_two_items_of_one_name_are_not_chosen_from() -> None:
    twice = category("10", "10")
    same = replace(twice, items=tuple(replace(one, name=NAMES[0]) for one in twice.items))
    move = moved(course(plan(same), {"cy": [None, None]}), "bo")
    assert not move.cells
    assert "2 items of this name" in move.left[0].why


def test_remarks_and_due_dates_there_are_not_written_over() -> None:
    here = replace(HERE, extensions={("ada", "i1"): date(2026, 12, 1)})
    there = replace(course(HERE.plan, {"ada": [None, None, None]}), extensions={("ada", "i1"): date(2026, 12, 5)})
    move = planned_move(here, there, ["ada"], {("ada", "i0"): "late", ("ada", "i2"): "x"}, {("ada", "i0"): "theirs"})
    assert move.extensions == {}
    assert move.remarks == {("ada", "i2"): "x"}
