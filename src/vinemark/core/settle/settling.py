"""Settling: from the computed grade to the code handed in, with what the registrar needs beside it."""

from collections.abc import Mapping
from datetime import date

from vinemark.core.base.dates import day_words
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, GradingBasis, Settled
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.codes import codes_for, computed_code, needs_of
from vinemark.core.plan.scale import sorted_scale


def take_as_computed(course: Course, grades: Mapping[str, Grade]) -> dict[str, Settled]:
    """A settled grade for every enrolled student without one, where the registrar takes the computed code."""
    taken = {}
    for student in course.enrolled():
        code = computed_code(course, student.id, grades[student.id])
        known = {rule.code for rule in codes_for(course, course.grading_basis(student.id))}
        if student.id not in course.settled and code is not None and code in known:
            taken[student.id] = Settled(code)
    return taken


def checked_grade(course: Course, student_id: str, typed: Settled, computed: str | None) -> Settled:
    """Check one typed settled grade against the registrar's codes. Raises Refused at the field.

    A code other than the computed one needs a reason; codes that say the work is not done
    (those with a fallback grade) need none. What the code does not need is not kept.
    """
    _refuse_outsider(course, student_id)
    basis = course.grading_basis(student_id)
    code = _code(course, basis, typed.grade)
    needs = needs_of(course, code)
    if code != computed and not _says_unfinished(course, code) and not (typed.reason or "").strip():
        raise Refused("reason", f"type why it is {code}" + (f" instead of {computed}" if computed else ""))
    _refuse_dates(course, typed)
    attendance = "last_attended" in needs
    incomplete = "fallback_grade" in needs
    return Settled(
        grade=code,
        reason=(typed.reason or "").strip() or None,
        last_attended=typed.last_attended if attendance and not typed.never_attended else None,
        never_attended=typed.never_attended and attendance,
        fallback_grade=_fallback(course, basis, typed.fallback_grade) if incomplete else None,
        finish_by=_finish_by(course, typed.finish_by) if "finish_by" in needs else None,
        owed=typed.owed if incomplete else None,
    )


def _says_unfinished(course: Course, code: str) -> bool:
    rule = course.records.rule(code) if course.records else None
    return rule is not None and "fallback_grade" in rule.needs


def _refuse_outsider(course: Course, student_id: str) -> None:
    student = course.student(student_id)
    if student is None or student.set_aside is not None or course.status(student) in {None, "withdrawn"}:
        raise Refused("grade", "only a student on the roster, neither withdrawn nor set aside, is given a grade")


def typed_code(course: Course, student_id: str, typed: str) -> str:
    """A code as typed, as the registrar spells it. Raises Refused where the registrar does not take it."""
    return _code(course, course.grading_basis(student_id), typed)


def _code(course: Course, basis: GradingBasis, typed: str) -> str:
    wanted = typed.strip().replace("−", "-").replace("–", "-")
    codes = [rule.code for rule in codes_for(course, basis)]
    if wanted in codes:
        return wanted
    folded = [code for code in codes if code.casefold() == wanted.casefold()]
    if len(folded) == 1:
        return folded[0]
    raise Refused("grade", f"the registrar takes {', '.join(codes) or 'no code'} on the {basis} basis, not “{wanted}”")


def _fallback(course: Course, basis: GradingBasis, typed: str | None) -> str | None:
    fixed = course.records.incomplete_fallback if course.records else None
    if fixed is not None:
        return fixed
    if not typed or not typed.strip():
        return None
    code = _code(course, basis, typed)
    if "fallback_grade" in needs_of(course, code):
        raise Refused("fallback_grade", "must be a grade, not another incomplete")
    return code


def _finish_by(course: Course, typed: date | None) -> date | None:
    fixed = course.records.incomplete_finish_by if course.records else None
    return fixed if fixed is not None else typed


def _refuse_dates(course: Course, typed: Settled) -> None:
    term = course.term
    if typed.last_attended and not term.starts <= typed.last_attended <= term.ends:
        raise Refused("last_attended", f"must be in the term, {day_words(term.starts)} to {day_words(term.ends)}")
    if typed.finish_by and typed.finish_by <= term.ends:
        raise Refused("finish_by", f"must be after the term’s end, {day_words(term.ends)}")


def letter_counts(course: Course) -> list[tuple[str, int]]:
    """How many enrolled students are settled with each code, the scale's letters first, in its order."""
    grades = [course.settled[s.id].grade for s in course.enrolled() if s.id in course.settled]
    order = {row.letter: place for place, row in enumerate(sorted_scale(course.plan.scale))}
    codes = sorted(set(grades), key=lambda code: (order.get(code, len(order)), code))
    return [(code, grades.count(code)) for code in codes]


def still_open(course: Course) -> int:
    """How many enrolled students have no settled grade."""
    return sum(s.id not in course.settled for s in course.enrolled())
