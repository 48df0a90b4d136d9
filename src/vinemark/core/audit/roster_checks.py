"""Checks of the roster, where the course has the office's records."""

from collections.abc import Iterator
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Finding


def not_enrolled(facts: Facts) -> Iterator[Finding]:
    """A student of the section who is not on the registrar's roster."""
    records = facts.course.records
    if records is None:
        return
    for student in facts.taking_part:
        if records.entry(student.id) is None:
            numbers = sum(isinstance(c, Fraction) for c in facts.course.scores.get(student.id, {}).values())
            yield Finding(
                "not-enrolled",
                "stop",
                f"{student.plain_name} is not on the registrar’s roster and cannot be given a grade there.",
                student=student.id,
                evidence=[
                    f"Id {student.id}, with {numbers} scores here.",
                    f"The office lists {len(records.roster)} people.",
                    "Set the student aside with a reason, or have the office enrol them.",
                ],
                step="settle",
            )


def not_in_section(facts: Facts) -> Iterator[Finding]:
    """An enrolled student of the registrar's roster who is not in the section."""
    for entry in facts.course.not_in_section():
        if entry.status == "enrolled":
            yield Finding(
                "not-in-section",
                "stop",
                f"{entry.given_name} {entry.family_name}".strip()
                + " is on the registrar’s roster and not in this section.",
                student=entry.id,
                evidence=[f"Id {entry.id}, {entry.basis} basis.", "Add them to the section from the roster."],
                step="settle",
            )
