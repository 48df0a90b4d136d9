"""Who stands in the same place before a grade is raised."""

from collections.abc import Mapping, Sequence

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.scale import sorted_scale


def same_place(course: Course, grades: Mapping[str, Grade], student_id: str, code: str) -> list[Student]:
    """Who has as good a claim to a raised grade: enrolled students with the same computed letter, no lower percent,
    on the same basis, and not settled as well; empty where the grade is not a raise."""
    order = [row.letter for row in sorted_scale(course.plan.scale)]
    mine = grades[student_id]
    if code not in order or mine.letter not in order or order.index(code) >= order.index(mine.letter):
        return []
    better = frozenset(order[: order.index(code) + 1])
    return [
        other
        for other in course.enrolled()
        if other.id != student_id
        and grades[other.id].letter == mine.letter
        and (grades[other.id].percent or 0) >= (mine.percent or 0)
        and course.grading_basis(other.id) == course.grading_basis(student_id)
        and not (other.id in course.settled and course.settled[other.id].grade in better)
    ]


def refuse_unseen(others: Sequence[Student], seen: str) -> None:
    """A raise waits until it was seen who stands in the same place; `seen` is how many were shown."""
    if others and seen != str(len(others)):
        names = ", ".join(s.plain_name for s in others[:6]) + (" …" if len(others) > 6 else "")
        many = f"{len(others)} others are" if len(others) > 1 else "1 other student is"
        raise Refused("fair", f"{many} as high or higher with the same letter: {names}")
