"""Students who move to another section with their scores: which item is which there, and what comes along."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from types import MappingProxyType

from vinemark.core.base.names import folded
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, Student
from vinemark.core.course.tally import Place
from vinemark.core.plan.plan import Item
from vinemark.core.scores.typed_cells import CellWrite, TypedCell, read_typed


@dataclass(frozen=True)
class ItemThere:
    """An item with scores to move, the one that takes them, or why none does."""

    item: Item
    there: Item | None
    why_not: str = ""
    scores: int = 0


@dataclass(frozen=True)
class LeftScore:
    """A score that stays behind, and why."""

    student: Student
    item: Item
    text: str
    why: str


@dataclass(frozen=True)
class PlannedMove:
    """What would come to the other section: students who are new there, cells, their own due dates, remarks; and what
    stays behind."""

    students: Sequence[Student]
    new: Sequence[Student]
    items: Sequence[ItemThere]
    cells: Sequence[CellWrite]
    extensions: Mapping[Place, date]
    remarks: Mapping[Place, str]
    left: Sequence[LeftScore]


def planned_move(
    source: Course,
    target: Course,
    ids: Sequence[str],
    remarks: Mapping[Place, str],
    remarks_there: Mapping[Place, str] = MappingProxyType({}),
) -> PlannedMove:
    """Move some students: a score comes along to the item of the same name and points, where nothing else stands yet.

    `remarks` are those at cells of the source, `remarks_there` those of the target: nothing there is written over. What
    is set aside already does not move.
    """
    students = [one for one in source.students if one.id in set(ids) and not one.set_aside]
    items = _items(source, target, [one.id for one in students])
    there = {one.item.id: one.there for one in items if one.there is not None}
    new = [one for one in students if target.student(one.id) is None]
    reading = replace(target, students=(*target.students, *new))
    cells: list[CellWrite] = []
    left: list[LeftScore] = []
    for student in students:
        for one in items:
            _move_cell(source, reading, student, one, cells, left)
    moved = {one.id for one in students}
    return PlannedMove(
        students,
        new,
        items,
        cells,
        {(s, there[i].id): day for (s, i), day in source.extensions.items()
         if s in moved and i in there and (s, there[i].id) not in target.extensions},
        {(s, there[i].id): text for (s, i), text in remarks.items()
         if s in moved and i in there and (s, there[i].id) not in remarks_there},
        left,
    )  # fmt: skip


def _items(source: Course, target: Course, ids: Sequence[str]) -> list[ItemThere]:
    """Every item that one of them has a score in, and the one of its name there."""
    names = Counter(folded(one.name) for one in target.plan.columns.values())
    by_name = {folded(one.name): one for one in target.plan.columns.values()}
    found = []
    for item in source.plan.columns.values():
        scores = sum(bool(cell_text(source.cell(one, item.id))) for one in ids)
        if scores:
            name = folded(item.name)
            found.append(_item_there(item, by_name.get(name), names[name], scores))
    return found


def _item_there(item: Item, there: Item | None, many: int, scores: int) -> ItemThere:
    if there is None:
        return ItemThere(item, None, "there is no item of this name", scores)
    if many > 1:
        return ItemThere(item, None, f"there are {many} items of this name", scores)
    if there.points != item.points:
        return ItemThere(item, None, "it has other points there", scores)
    return ItemThere(item, there, "", scores)


def _move_cell(
    source: Course, target: Course, student: Student, one: ItemThere, cells: list[CellWrite], left: list[LeftScore]
) -> None:
    text = cell_text(source.cell(student.id, one.item.id))
    if not text:
        return
    if one.there is None:
        left.append(LeftScore(student, one.item, text, one.why_not))
        return
    now = cell_text(target.cell(student.id, one.there.id))
    if now:
        if now != text:
            left.append(LeftScore(student, one.item, text, f"{now} stands there already"))
        return
    read = read_typed(target, [TypedCell(student.id, one.there.id, text, "")])
    cells += read.cells
    left += [LeftScore(student, one.item, text, f"it {refused.reason}") for refused in read.refused]
