"""After sending: settled grades that moved away from what the registrar has, and a sheet that moved since signing."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date

from vinemark.core.after.grade_change import GradeChange
from vinemark.core.base.dates import short_day_words
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.codes import computed_code
from vinemark.core.submit.grade_row import GradeRow, grade_row


@dataclass(frozen=True)
class Drift:
    """A settled grade that is no longer what the registrar has; `now` is None where it was opened again."""

    student_id: str
    name: str
    held: GradeRow
    now: GradeRow | None


def drifted(
    course: Course,
    held: Mapping[str, GradeRow],
    fell_back: Collection[str] = (),
    changes: Collection[GradeChange] = (),
) -> list[Drift]:
    """Enrolled students whose settled grade is another than what the registrar accepted.

    `fell_back` are students whose grade the registrar itself changed (a fallback applied): no drift of ours. Nor is
    a grade that an open change of grade asks for.
    """
    asked = {change.student_id: change.new for change in changes if change.open}
    found = []
    for student in course.enrolled():
        there, settled = held.get(student.id), course.settled.get(student.id)
        now = grade_row(course, student.id, settled) if settled else None
        if there is None or there == now or student.id in fell_back:
            continue
        if now is None or asked.get(student.id) != now:
            found.append(Drift(student.id, student.name, there, now))
    return found


def alarm(drifts: Collection[Drift], since: date) -> str:
    """'2 settled grades changed since 18 Dec; the registrar still has the old ones.'"""
    if not drifts:
        return ""
    many = len(drifts) > 1
    return (
        f"{len(drifts)} settled grade{'s' if many else ''} changed since {short_day_words(since)}; "
        f"the registrar still has the old one{'s' if many else ''}."
    )


@dataclass(frozen=True)
class Moved:
    """A student whose computed grade is another than when it was signed, the settled one being the same."""

    student_id: str
    name: str
    was: str
    now: str


def moved(signed: Course, signed_on: date, course: Course, as_of: date) -> list[Moved]:
    """Whose computed code moved since signing while the settled grade did not."""
    before, after = grades_of(signed, signed_on), grades_of(course, as_of)
    found = []
    for student in course.enrolled():
        if student.id not in before or course.settled.get(student.id) != signed.settled.get(student.id):
            continue
        was = computed_code(signed, student.id, before[student.id]) or "no grade"
        now = computed_code(course, student.id, after[student.id]) or "no grade"
        if was != now:
            found.append(Moved(student.id, student.name, was, now))
    return found


def official(
    accepted: Mapping[str, GradeRow],
    changes: Collection[GradeChange],
    fell_back: Collection[str],
    read: Mapping[str, GradeRow],
) -> dict[str, GradeRow]:
    """What the registrar should hold: what its receipts took, then what it granted, then the fallbacks it applied."""
    held = dict(accepted)
    held.update({change.student_id: change.new for change in changes if change.state == "granted"})
    held.update({student: read[student] for student in fell_back if student in read})
    return held
