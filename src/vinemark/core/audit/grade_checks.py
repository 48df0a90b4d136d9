"""Checks of the final grades."""

from collections.abc import Iterator

from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.settling import last_work
from vinemark.core.working import percent_text


def unsettled(facts: Facts) -> Iterator[Finding]:
    """An enrolled student without a settled grade, once any is settled or when submitting."""
    if not facts.course.settled and not facts.submitting:
        return
    for student in facts.enrolled:
        if student.id not in facts.course.settled:
            grade = facts.grades[student.id]
            yield Finding(
                "unsettled",
                "stop",
                f"{student.plain_name} has no settled grade.",
                student=student.id,
                evidence=[f"Computed: {percent_text(grade.percent) or 'no grade yet'}, {grade.letter or 'no letter'}."],
                step="settle",
            )


def needs_last_attended(facts: Facts) -> Iterator[Finding]:
    """A code that needs a last date of attendance, and none is given."""
    records = facts.course.records
    if records is None:
        return
    for student in facts.taking_part:
        settled, status = facts.course.settled.get(student.id), facts.course.status(student)
        if settled is None or status in {None, "withdrawn"} or settled.last_attended or settled.never_attended:
            continue
        rule = records.rule(settled.grade)
        if rule is not None and "last_attended" in rule.needs:
            yield Finding(
                "needs-last-attended",
                "stop",
                f"{settled.grade} lacks the last date of attendance of {student.plain_name}.",
                student=student.id,
                evidence=[_suggestion(facts, student.id)],
                step="settle",
            )


def _suggestion(facts: Facts, student_id: str) -> str:
    work = last_work(facts.course, student_id, facts.as_of)
    if work is None:
        return "No dated work with a score above 0: perhaps never attended."
    return f"The last work with a score above 0 is {work.name}, due {work.due:%d %b %Y}."
