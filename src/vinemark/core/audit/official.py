"""Settled grades against a list of the registrar's or of somebody else, student by student."""

from collections.abc import Mapping

from vinemark.core.audit.outside_totals import Comparison, OutsideFigure, TotalLine
from vinemark.core.course.course import Course

NOT_SETTLED = "not settled"


def compare_settled(course: Course, theirs: Mapping[str, str]) -> Comparison:
    """The settled grades of a course's run against grades as a list writes them; who is on no line of it is missing.

    A minus sign is a minus sign, however it is written; small letters are capital ones.
    """
    lines = []
    for student in course.students:
        if student.id not in theirs:
            continue
        settled = course.settled.get(student.id)
        ours, listed = settled.grade if settled else "", theirs[student.id].strip()
        lines.append(TotalLine(student, OutsideFigure(listed), ours or NOT_SETTLED, _same(listed, ours)))
    due = {*course.enrolled_ids, *course.settled}
    missing = [student for student in course.students if student.id not in theirs and student.id in due]
    return Comparison(lines, sum(line.agrees for line in lines), (), missing)


def _same(one: str, other: str) -> bool:
    return bool(other) and one.replace("−", "-").casefold() == other.replace("−", "-").casefold()
