"""The registrar's codes: which may be given, what each needs, and which one follows from a letter."""

from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import NotANumber, exact_text, parse_decimal, rounded_to
from vinemark.core.course.course import CodeRule, Course, GradingBasis, Need, NumberGrades
from vinemark.core.grade.calculation import Grade
from vinemark.core.plan.plan import Rounding
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
    """The code that follows from the computed letter on the student's grading basis, or the number where the registrar
    takes numbers."""
    return code_of(course, student_id, grade.percent, grade.letter)


def code_of(course: Course, student_id: str, percent: Fraction | None, letter: str | None) -> str | None:
    """The code of a course percent with its letter, for a student."""
    numbers = numbers_for(course, student_id)
    if numbers is not None:
        number = computed_number(course.plan.rounding, numbers, percent)
        return None if number is None else exact_text(number)
    if letter is None:
        return None
    if course.grading_basis(student_id) == "letter":
        return letter
    codes = pass_codes(course)
    return codes.passed if passes(course, letter) else codes.failed


def numbers_for(course: Course, student_id: str) -> NumberGrades | None:
    """The numbers that the registrar takes for a student, in place of letters; None where it takes letters."""
    if course.records is None or course.grading_basis(student_id) != "letter":
        return None
    return course.records.numbers


def computed_number(rounding: Rounding | None, numbers: NumberGrades, percent: Fraction | None) -> Fraction | None:
    """The course percent rounded once: by the plan's rounding where it gives that place, else half up; within the
    range. None where there is no grade yet."""
    if percent is None:
        return None
    way = rounding.way if rounding is not None and rounding.decimals == numbers.decimals else "nearest"
    return min(numbers.highest, max(numbers.lowest, rounded_to(percent, numbers.decimals, way)))


def settled_number(text: str) -> Fraction | None:
    """A settled grade as a number; None for a code."""
    try:
        return parse_decimal(text.strip())
    except NotANumber:
        return None


def number_fault(numbers: NumberGrades, text: str, number: Fraction) -> str:
    """Why the registrar does not take a number; empty where it does."""
    if not numbers.lowest <= number <= numbers.highest:
        return f"it takes numbers from {exact_text(numbers.lowest)} to {exact_text(numbers.highest)}"
    if len(text.strip().partition(".")[2]) > numbers.decimals:
        return f"it takes at most {numbers.decimals} decimals"
    return ""


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
