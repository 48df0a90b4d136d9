"""Cells as somebody typed or pasted them, read one by one: what can be kept, and what is refused and why."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.scores.typed_score import read_plan_score


@dataclass(frozen=True)
class TypedCell:
    """One cell as typed; `was` is what the person saw there before ('' for blank), None where it was not said."""

    student_id: str
    item_id: str
    typed: str
    was: str | None = None


@dataclass(frozen=True)
class CellWrite:
    """One cell to be written. `was` is what the writer saw there before, '' for blank; None writes whatever stands."""

    student_id: str
    item_id: str
    cell: Cell
    was: str | None = None


@dataclass(frozen=True)
class RefusedCell:
    """A cell that cannot, and the reason, worded to follow 'it'."""

    student: str
    item: str
    reason: str


@dataclass
class ReadCells:
    """Typed cells, sorted."""

    cells: list[CellWrite] = field(default_factory=list)
    refused: list[RefusedCell] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    what: str = ""


def read_typed(course: Course, typed: Iterable[TypedCell]) -> ReadCells:
    """Each typed cell as a cell of the course; `what` names the whole for the history."""
    found = ReadCells()
    for one in typed:
        _read(course, one, found)
    if len(found.cells) > 1:
        people = len({cell.student_id for cell in found.cells})
        found.what = f"{len(found.cells)} cells of {people} student{'s' if people > 1 else ''}"
    return found


def _read(course: Course, one: TypedCell, found: ReadCells) -> None:
    student, item = course.student(one.student_id), course.plan.columns.get(one.item_id)
    if student is None or item is None:
        reason = "is for a student or item no longer in the section; load the page again"
        found.refused.append(RefusedCell(one.student_id, one.item_id, reason))
        return
    try:
        entry = read_plan_score(course.plan, item, one.typed)
    except Refused as error:
        found.refused.append(RefusedCell(student.id, item.id, error.reason))
        return
    found.cells.append(CellWrite(student.id, item.id, entry.cell, one.was))
    found.what = f"{student.plain_name}, {item.name}: {cell_text(entry.cell) or 'blank'}"
    if entry.remark:
        found.remarks.append(entry.remark)
