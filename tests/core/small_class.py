"""Three students of one category, one of them taken pass or not: 85, 65 and 40."""

from dataclasses import replace

from tests.builders import AFTER, category, course, plan, roster
from vinemark.core.course.course import Course, RosterEntry, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.codes import computed_code

PLAN = plan(category("100"))
PASS = {"bo": RosterEntry("bo", "Bo", "Mai", basis="pass")}


def small_class(settled: dict[str, Settled] | None = None, pass_from: str | None = None) -> Course:
    records = replace(roster("ada", "bo", "cy", **PASS), pass_from=pass_from)
    return course(PLAN, {"ada": ["85"], "bo": ["65"], "cy": ["40"]}, records, settled)


def code_of(of: Course, student: str) -> str | None:
    return computed_code(of, student, grade_of(of, student, AFTER))
