"""Settling: from the computed grade to the code handed in, with what the office needs beside it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.course.course import CodeRule, Course, GradingBasis, Need, Settled, Student
from vinemark.core.course.read import Refused
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.letters import sorted_scale
from vinemark.core.plan.plan import Item


@dataclass(frozen=True)
class PassCodes:
    """The office's codes for the pass basis."""

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
    """The codes an instructor may give on a basis: the office's, or the scale's letters without records."""
    if course.records is None:
        return [CodeRule(row.letter) for row in sorted_scale(course.plan.scale)]
    return [rule for rule in course.records.codes if rule.serves(basis)]


def needs_of(course: Course, code: str) -> tuple[Need, ...]:
    """What the office needs beside a code; nothing at midterm."""
    if course.run == "midterm":
        return ()
    rule = course.records.rule(code) if course.records else None
    return rule.needs if rule else ()


def take_as_computed(course: Course, grades: Mapping[str, Grade]) -> dict[str, Settled]:
    """A settled grade for every enrolled student without one, where the office takes the computed code."""
    taken = {}
    for student in course.enrolled():
        code = computed_code(course, student.id, grades[student.id])
        known = {rule.code for rule in codes_for(course, course.grading_basis(student.id))}
        if student.id not in course.settled and code is not None and code in known:
            taken[student.id] = Settled(code)
    return taken


def settle_one(course: Course, student_id: str, typed: Settled, computed: str | None) -> Settled:
    """Check one typed settled grade against the office's codes. Raises Refused at the field.

    A code other than the computed one needs a reason; codes that say the work is not done
    (those with a fallback grade) need none. What the code does not need is not kept.
    """
    _refuse_outsider(course, student_id)
    basis = course.grading_basis(student_id)
    code = _code(course, basis, typed.grade)
    needs = needs_of(course, code)
    if code != computed and not _says_unfinished(course, code) and not (typed.reason or "").strip():
        raise Refused("reason", f"say why it is {code}" + (f" and not {computed}" if computed else ""))
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
    """A code as typed, as the office spells it. Raises Refused where the office does not take it."""
    return _code(course, course.grading_basis(student_id), typed)


def _code(course: Course, basis: GradingBasis, typed: str) -> str:
    wanted = typed.strip().replace("−", "-").replace("–", "-")
    codes = [rule.code for rule in codes_for(course, basis)]
    if wanted in codes:
        return wanted
    folded = [code for code in codes if code.casefold() == wanted.casefold()]
    if len(folded) == 1:
        return folded[0]
    raise Refused("grade", f"the office takes {', '.join(codes) or 'no code'} on the {basis} basis, not “{wanted}”")


def _fallback(course: Course, basis: GradingBasis, typed: str | None) -> str | None:
    fixed = course.records.incomplete_fallback if course.records else None
    if fixed is not None:
        return fixed
    if not typed or not typed.strip():
        return None
    code = _code(course, basis, typed)
    if "fallback_grade" in needs_of(course, code):
        raise Refused("fallback_grade", "must be a grade of its own")
    return code


def _finish_by(course: Course, typed: date | None) -> date | None:
    fixed = course.records.incomplete_finish_by if course.records else None
    return fixed if fixed is not None else typed


def _refuse_dates(course: Course, typed: Settled) -> None:
    term = course.term
    if typed.last_attended and not term.starts <= typed.last_attended <= term.ends:
        raise Refused("last_attended", f"must lie in the term, {term.starts} to {term.ends}")
    if typed.finish_by and typed.finish_by <= term.ends:
        raise Refused("finish_by", f"must be after the term’s end, {term.ends}")


def same_place(course: Course, grades: Mapping[str, Grade], student_id: str, code: str) -> list[Student]:
    """Who has as good a claim to a raised grade: enrolled students with the same computed letter, no lower percent,
    on the same basis, and not settled as well; empty where the grade is not a raise."""
    order = [row.letter for row in sorted_scale(course.plan.scale)]
    mine = grades[student_id]
    if code not in order or mine.letter not in order or order.index(code) >= order.index(mine.letter):
        return []
    better = frozenset(order[: order.index(code) + 1])
    return [
        other
        for other in course.enrolled()
        if other.id != student_id
        and grades[other.id].letter == mine.letter
        and (grades[other.id].percent or 0) >= (mine.percent or 0)
        and course.grading_basis(other.id) == course.grading_basis(student_id)
        and not (other.id in course.settled and course.settled[other.id].grade in better)
    ]


def refuse_unseen(others: Sequence[Student], seen: str) -> None:
    """A raise waits until it was seen who stands in the same place; `seen` is how many were shown."""
    if others and seen != str(len(others)):
        names = ", ".join(s.plain_name for s in others[:6]) + (" …" if len(others) > 6 else "")
        many = f"{len(others)} others stand" if len(others) > 1 else "1 other stands"
        raise Refused("fair", f"{many} as high or higher with the same letter: {names}")


def last_work(course: Course, student_id: str, as_of: date) -> Item | None:
    """The latest dated item, due within the term and by the as-of day, with a score above 0."""
    limit = min(as_of, course.term.ends)
    dated = [
        item
        for _, item in course.plan.items()
        if item.due is not None and course.term.starts <= item.due <= limit and _scored(course, student_id, item.id)
    ]
    return max(dated, key=lambda item: item.due or limit, default=None)


def _scored(course: Course, student_id: str, item_id: str) -> bool:
    cell = course.cell(student_id, item_id)
    return isinstance(cell, Fraction) and cell > 0


def letter_counts(course: Course) -> list[tuple[str, int]]:
    """How many enrolled students are settled with each code, the scale's letters first, in its order."""
    grades = [course.settled[s.id].grade for s in course.enrolled() if s.id in course.settled]
    order = {row.letter: place for place, row in enumerate(sorted_scale(course.plan.scale))}
    codes = sorted(set(grades), key=lambda code: (order.get(code, len(order)), code))
    return [(code, grades.count(code)) for code in codes]


def still_open(course: Course) -> int:
    """How many enrolled students have no settled grade."""
    return sum(s.id not in course.settled for s in course.enrolled())
