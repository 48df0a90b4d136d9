"""What a fix would do to letters."""

from collections.abc import Mapping

from vinemark.core.audit.fix import Fix
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Calculators, Grade

MOST_STUDENTS = 3


def fix_effect(course: Course, fix: Fix, grades: Mapping[str, Grade], calculators: Calculators) -> str:
    """'A now, C+ after it' for a fix of a few students' cells; empty for any other.

    `calculators` are those of the course's plan.
    """
    students = list(dict.fromkeys(student for student, _ in fix.cells))
    if not students or len(students) > MOST_STUDENTS:
        return ""
    after = course.with_cells(fix.cells)
    said = []
    for student in students:
        now = grades[student].letter or "no letter"
        then = calculators.grade_of_student(after, student).letter or "no letter"
        person = course.student(student)
        name = f"{person.plain_name}: " if person and len(students) > 1 else ""
        said.append(f"{name}{now} stays" if now == then else f"{name}{now} now, {then} after it")
    return "; ".join(said)
