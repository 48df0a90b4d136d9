"""The registrar's codes: which may be given, what each needs, and which one follows from a letter."""

from dataclasses import dataclass

from vinemark.core.course.course import CodeRule, Course, GradingBasis, Need
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.scale import sorted_scale


@dataclass(frozen=True)
class PassCodes:
    """The registrar's codes for the pass basis."""

    passed: str | None
    failed: str | None


def pass_codes(course: Course) -> PassCodes:
    """Which pass-basis code is which: the one that needs a last date of attendance is the no-pass code."""
    rules = course.records.codes if course.records else ()
    own = [r for r in rules if r.serves("pass") and set(r.basis) == {"pass"} and "fallback_grade" not in r.needs]
    passed = [r.code for r in own if "last_attended" not in r.needs]
    failed = [r.code for r in own if "last_attended" in r.needs]
    return PassCodes(passed[0] if passed else None, failed[0] if failed else None)


def passes(course: Course, letter: str) -> bool:
    """Whether a letter passes: at or above `pass_from`, or without one, every letter but the lowest."""
    letters = [row.letter for row in sorted_scale(course.plan.scale)]
    if letter not in letters:
        return False
    pass_from = course.records.pass_from if course.records else None
    if pass_from in letters:
        return letters.index(letter) <= letters.index(pass_from)
    return letter != letters[-1]


def computed_code(course: Course, student_id: str, grade: Grade) -> str | None:
    """The code that follows from the computed letter on the student's grading basis."""
    if grade.letter is None:
        return None
    if course.grading_basis(student_id) == "letter":
        return grade.letter
    codes = pass_codes(course)
    return codes.passed if passes(course, grade.letter) else codes.failed


def codes_for(course: Course, basis: GradingBasis) -> list[CodeRule]:
    """The codes an instructor may give on a basis: the registrar's, or the scale's letters without records."""
    if course.records is None:
        return [CodeRule(row.letter) for row in sorted_scale(course.plan.scale)]
    return [rule for rule in course.records.codes if rule.serves(basis)]


def needs_of(course: Course, code: str) -> tuple[Need, ...]:
    """What the registrar needs beside a code; nothing at midterm."""
    if course.run == "midterm":
        return ()
    rule = course.records.rule(code) if course.records else None
    return rule.needs if rule else ()
