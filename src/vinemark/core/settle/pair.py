"""A pair of points earned and possible, or a percent, in the place of a grade: '600/641' is the letter that it gets."""

from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.number import NotANumber, fixed, parse_decimal
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, Settled
from vinemark.core.grade.codes import code_of
from vinemark.core.grade.letters import letter_for
from vinemark.core.plan.plan import HUNDRED


def of_pair(course: Course, student_id: str, typed: Settled) -> Settled:
    """A settled grade as typed, with the code that its pair gets by the plan's scale and rounding, and the pair as the
    beginning of its reason; one without a pair stays as it is. Raises Refused at 'grade'."""
    percent = _percent(typed.grade)
    if percent is None:
        return typed
    code = code_of(course, student_id, percent, letter_for(course.plan, percent))
    if code is None:
        raise Refused("grade", f"{typed.grade.strip()} is {_words(percent)}, and no letter of the scale goes with it")
    said = f"{' '.join(typed.grade.split())} = {_words(percent)}"
    reason = (typed.reason or "").strip()
    return replace(typed, grade=code, reason=f"{said}: {reason}" if reason else said)


def _percent(typed: str) -> Fraction | None:
    """'600/641' or '93.5%' as a percent; None for what is neither. Raises Refused where nothing is possible."""
    text = typed.replace(",", ".").strip()
    earned, slash, possible = text.partition("/")
    if not slash and not text.endswith("%"):
        return None
    try:
        if not slash:
            return parse_decimal(text.removesuffix("%").strip())
        numbers = parse_decimal(earned.strip()), parse_decimal(possible.strip())
    except NotANumber:
        return None
    if not numbers[1]:
        raise Refused("grade", "nothing can be earned of 0 points")
    return HUNDRED * numbers[0] / numbers[1]


def _words(percent: Fraction) -> str:
    return f"{fixed(percent, 4)}%"
