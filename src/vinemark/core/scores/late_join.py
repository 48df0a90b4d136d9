"""A student who joined late: exempt from everything that was due before."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Course, Student
from vinemark.core.plan.plan import Item


@dataclass(frozen=True)
class LateJoin:
    """Items that become exempt, and those due before that keep the score they have."""

    exempt: Sequence[Item]
    scored: Sequence[Item]

    @property
    def words(self) -> str:
        """What it comes to: '3 cells become exempt: Quiz 1, Quiz 2, Quiz 3; 1 score stays'."""
        if not self.exempt:
            return "nothing to exempt: no blank or missing cell was due before that day"
        count = f"{len(self.exempt)} cell{'s become' if len(self.exempt) > 1 else ' becomes'} exempt"
        names = ", ".join(item.name for item in self.exempt)
        stays = f"; {len(self.scored)} score{'s stay' if len(self.scored) > 1 else ' stays'}" if self.scored else ""
        return f"{count}: {names}{stays}"


def late_join(course: Course, student: Student, joined: date) -> LateJoin:
    """What exempting a student from everything due before the day they joined would change.

    Blank and missing cells become exempt; a number stays, since somebody entered it on purpose.
    """
    before = [item for _, item in course.plan.items() if item.due is not None and item.due < joined]
    cells = [(item, course.cell(student.id, item.id)) for item in before]
    return LateJoin(
        [item for item, cell in cells if cell is None or cell == "missing"],
        [item for item, cell in cells if isinstance(cell, Fraction | DetailedScore)],
    )
