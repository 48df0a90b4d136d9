"""Groups of an item: typed, drawn in the order of the class, and one score for all members."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.base.refused import Refused, count
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, Student
from vinemark.core.plan.plan import Item
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.core.scores.typed_score import read_plan_score

LONGEST_GROUP = 40


@dataclass(frozen=True)
class ItemGroup:
    """A group with its members, the score that all of them have (None: they differ), and what each has."""

    name: str
    members: Sequence[Student]
    same: str | None
    each: Sequence[str]


def typed_groups(course: Course, typed: Mapping[str, str]) -> dict[str, str]:
    """The group of each student as typed; an empty one is none. Raises Refused at 'group-L1'."""
    found: dict[str, str] = {}
    for student, text in typed.items():
        name = " ".join(text.split())
        if len(name) > LONGEST_GROUP:
            raise Refused(f"group-{student}", f"must be {LONGEST_GROUP} signs at most")
        if name and course.student(student) is not None:
            found[student] = name
    return found


def even_groups(students: Sequence[Student], typed: str) -> dict[str, str]:
    """Groups of so many in the order of the class: 1, 2, 3 …; the last may be smaller. Raises Refused at 'size'."""
    size = count(typed.strip(), "size")
    if size < 2:
        raise Refused("size", "must be 2 or more")
    return {student.id: str(place // size + 1) for place, student in enumerate(students)}


def item_groups(course: Course, item: Item, groups: Mapping[str, str]) -> list[ItemGroup]:
    """The groups of an item by name, numbers in their order, each with its members' scores."""
    names = sorted(set(groups.values()), key=_order)
    found = []
    for name in names:
        members = [student for student in course.students if groups.get(student.id) == name]
        each = [cell_text(course.cell(student.id, item.id)) for student in members]
        found.append(ItemGroup(name, members, each[0] if len(set(each)) == 1 else None, each))
    return found


def _order(name: str) -> tuple[bool, int, str]:
    number = int(name) if name.isascii() and name.isdecimal() else 0
    return not number, number, name


def group_cells(course: Course, item: Item, groups: Mapping[str, str], typed: Mapping[str, str]) -> list[CellWrite]:
    """The cells that change when groups get scores as typed; nothing typed leaves a group as it is.

    Raises Refused at 'score-2'.
    """
    found: list[CellWrite] = []
    for group in item_groups(course, item, groups):
        text = typed.get(group.name, "").strip()
        if not text or text == group.same:
            continue
        try:
            cell = read_plan_score(course.plan, item, text).cell
        except Refused as refused:
            raise Refused(f"score-{group.name}", refused.reason) from refused
        for student, before in zip(group.members, group.each, strict=True):
            if course.cell(student.id, item.id) != cell:
                found.append(CellWrite(student.id, item.id, cell, before))
    return found
