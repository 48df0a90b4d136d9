"""What a grader is limited to: some items, some students, or both."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, Student
from vinemark.core.plan.plan import Item


@dataclass(frozen=True)
class PartLimit:
    """The items and the students whose scores a grader sees and enters; None for all."""

    items: frozenset[str] | None = None
    students: frozenset[str] | None = None

    @property
    def is_one(self) -> bool:
        """Whether anything is left out by it."""
        return self.items is not None or self.students is not None

    def allows(self, student_id: str, item_id: str) -> bool:
        """Whether a cell is within it."""
        of_items = self.items is None or item_id in self.items
        return of_items and (self.students is None or student_id in self.students)

    def items_of(self, course: Course) -> Sequence[Item]:
        """The items of a course that are within it."""
        return [one for one in course.plan.columns.values() if self.items is None or one.id in self.items]

    def students_of(self, course: Course) -> Sequence[Student]:
        """The students of a course that are within it."""
        return [one for one in course.students if self.students is None or one.id in self.students]

    def words(self, course: Course) -> str:
        """'2 items, all students'."""
        items, students = len(self.items_of(course)), len(self.students_of(course))
        of_items = "all items" if self.items is None else f"{items} item{'' if items == 1 else 's'}"
        of_students = "all students" if self.students is None else f"{students} student{'' if students == 1 else 's'}"
        return f"{of_items}, {of_students}"

    @property
    def value(self) -> dict[str, Any]:
        """As it is kept."""
        return {name: None if ids is None else sorted(ids) for name, ids in self._both()}

    def _both(self) -> list[tuple[str, frozenset[str] | None]]:
        return [("items", self.items), ("students", self.students)]


NO_LIMIT: Final = PartLimit()


def read_part_limit(kept: Mapping[str, Any] | None) -> PartLimit:
    """A limit as it is kept; anything else than ids is within none."""
    if kept is None:
        return NO_LIMIT
    return PartLimit(*(None if kept.get(name) is None else _ids(kept[name]) for name in ("items", "students")))


def _ids(kept: Any) -> frozenset[str]:
    return frozenset(one for one in kept if isinstance(one, str)) if isinstance(kept, list) else frozenset()


def typed_part_limit(course: Course, items: Sequence[str] | None, students: Sequence[str] | None) -> PartLimit:
    """A limit as chosen; what the course does not have is left out. Raises Refused where nothing is left to enter."""
    of_items = None if items is None else frozenset(items) & course.plan.columns.keys()
    of_students = None if students is None else frozenset(students) & {one.id for one in course.students}
    for field, chosen in (("items", of_items), ("students", of_students)):
        if chosen is not None and not chosen:
            raise Refused(field, "must be chosen, one or more")
    return PartLimit(of_items, of_students)
