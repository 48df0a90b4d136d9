"""Three students who are settled, and what the registrar has of them."""

from datetime import datetime

from tests.builders import category, course, plan, roster
from vinemark.core.after.grade_change import ChangeState, GradeChange
from vinemark.core.course.course import Course, Settled
from vinemark.core.submit.grade_row import GradeRow

SETTLED = {"ada": Settled("B"), "bo": Settled("C"), "cy": Settled("D")}


HELD = {"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "C"), "cy": GradeRow("cy", "D")}


def klass(**settled: Settled) -> Course:
    scores = {"ada": ["85"], "bo": ["75"], "cy": ["65"]}
    return course(plan(category("100")), scores, roster("ada", "bo", "cy"), {**SETTLED, **settled})


def change(state: ChangeState, old: GradeRow | None, new: str, key: str = "k", student: str = "ada") -> GradeChange:
    return GradeChange(
        1, key, student, old, GradeRow(student, new), Settled(new), "why", None, None, "Maren",
        datetime(2026, 12, 19, 9), state, owed=old.owed if old else None,
    )  # fmt: skip
