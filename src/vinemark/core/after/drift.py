"""After sending: settled grades that moved away from what the registrar has, and a sheet that moved since signing."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from vinemark.core.after.grade_change import GradeChange
from vinemark.core.base.dates import short_day_words
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Grade
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
    """A student whose computed grade is another than when it was signed, the settled one being the same; `scores` are
    those that moved it, in words."""

    student_id: str
    name: str
    was: str
    now: str
    scores: Sequence[str] = ()

    @property
    def words(self) -> str:
        """'Lars Sørensen: computed B when it was signed, A now (Paper: 80 to 92).'"""
        why = f" ({'; '.join(self.scores)})" if self.scores else ""
        return f"{self.name}: computed {self.was} when it was signed, {self.now} now{why}."

    @property
    def reason(self) -> str:
        """What a change of grade can say of it."""
        return f"after the grades were signed: {'; '.join(self.scores)}" if self.scores else ""


def moved(signed: Course, before: Mapping[str, Grade], course: Course, after: Mapping[str, Grade]) -> list[Moved]:
    """Whose computed code moved since signing while the settled grade did not; `before` and `after` are the grades."""
    found = []
    for student in course.enrolled():
        if student.id not in before or course.settled.get(student.id) != signed.settled.get(student.id):
            continue
        was = computed_code(signed, student.id, before[student.id]) or "no grade"
        now = computed_code(course, student.id, after[student.id]) or "no grade"
        if was != now:
            found.append(Moved(student.id, student.plain_name, was, now, moved_scores(signed, course, student.id)))
    return found


def moved_scores(signed: Course, course: Course, student_id: str) -> list[str]:
    """A student's scores that are others than when they were signed: 'Paper: 80 to 92'."""
    pairs = [
        (item, signed.cell(student_id, item.id), course.cell(student_id, item.id)) for _, item in course.plan.items()
    ]
    return [
        f"{item.name}: {cell_text(was) or 'blank'} to {cell_text(now) or 'blank'}"
        for item, was, now in pairs
        if was != now
    ]


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
