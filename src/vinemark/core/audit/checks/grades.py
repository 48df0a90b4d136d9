"""Checks of the final grades."""

from collections.abc import Iterator, Sequence
from datetime import timedelta
from fractions import Fraction
from itertools import pairwise
from typing import NamedTuple

from vinemark.core.audit.finding import Facts, FixFacts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text, fixed, percent_text
from vinemark.core.course.course import CodeRule, Settled, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.codes import (
    computed_code,
    computed_number,
    number_fault,
    numbers_for,
    passes,
    settled_number,
)
from vinemark.core.grade.final_steps import is_lowered
from vinemark.core.grade.letters import letter_for, rounded_percent
from vinemark.core.plan.plan import Item
from vinemark.core.plan.rule_words import requirement_words
from vinemark.core.scores.last_work import last_work


class Ranked(NamedTuple):
    """A student, the place of the settled letter from the top of the scale, and the exact percent.

    `place` orders by the percent: its first 40 binary places as a whole number; only among equal ones the percent does.
    """

    student: Student
    rank: int
    percent: Fraction
    place: int


def near_cutoff(facts: Facts) -> Iterator[Found]:
    """Less than half a percent short of what gets the next letter."""
    for student, percent in _percents(facts):
        following = facts.letters.following(percent)
        if following is not None and facts.letters.near(percent):
            short = _short(following.short_by) if following.short_by else "hardly anything"
            yield Found(
                f"{student.plain_name} is {short} short of {following.letter}.",
                student=student.id,
                evidence=[f"Percent: {percent_text(percent)}"],
            )


def rounding_decides(facts: Facts) -> Iterator[Found]:
    """The rounded and the exact percent give different letters."""
    rounding = facts.plan.rounding
    if rounding is None:
        return
    for student, percent in _percents(facts):
        rounded = rounded_percent(rounding, percent)
        letters = [facts.exact_letters.of_exact(value) for value in (percent, rounded or percent)]
        if letters[0] != letters[1]:
            yield Found(
                f"{student.plain_name} has {letters[0]} by the exact percent and {letters[1]} once it is rounded.",
                student=student.id,
                evidence=[
                    f"Exactly {percent_text(percent)}",
                    f"Rounded {fixed(rounded or percent, rounding.decimals)}",
                ],
            )


def _percents(facts: Facts) -> Iterator[tuple[Student, Fraction]]:
    """Enrolled students with a percent whose letter goes by it, where letters can be looked at."""
    if facts.scale_due or not facts.plan.scale:
        return
    for student in facts.rows:
        grade = facts.grades[student.id]
        if grade.percent is not None and not is_lowered(grade):
            yield student, grade.percent


def _short(value: Fraction) -> str:
    """Two decimals, or as many as show that it is not 0."""
    return next((t for t in (fixed(value, n) for n in (2, 4, 6)) if t.strip("0.")), "almost nothing")


def requirement_lowers(facts: Facts) -> Iterator[Found]:
    """Requirements that are not met give a lower letter than the percent does."""
    for student in facts.rows:
        grade = facts.grades[student.id]
        if is_lowered(grade):
            wanted = [one.requirement for one in grade.not_met]
            yield Found(
                f"{student.plain_name} has {grade.letter} instead of {grade.letter_by_percent}: "
                f"{'a requirement is' if len(wanted) == 1 else f'{len(wanted)} requirements are'} not met.",
                student=student.id,
                evidence=[one.text or requirement_words(facts.plan, one) for one in wanted],
            )


def unsettled(facts: Facts) -> Iterator[Found]:
    """An enrolled student without a settled grade, once any is settled or when submitting."""
    if not anything_settled(facts):
        return
    for student in facts.rows:
        settled = facts.course.settled.get(student.id)
        if settled is None or not settled.grade.strip():
            grade = facts.grades[student.id]
            yield Found(
                f"{student.plain_name} has no settled grade.",
                student=student.id,
                evidence=[f"Computed: {percent_text(grade.percent) or 'no grade yet'}, {grade.letter or 'no letter'}."],
            )


def anything_settled(facts: Facts) -> bool:
    """Whether any grade is settled, or every one is due."""
    return bool(facts.course.settled) or facts.submitting


def settled_students(facts: Facts, auditing: bool = False) -> Iterator[tuple[Student, Settled]]:
    """Students with a settled grade whom the registrar lists as enrolled, or also as auditing."""
    there = {"enrolled", "auditing"} if auditing else {"enrolled"}
    for student in facts.rows_taking_part:
        settled = facts.course.settled.get(student.id)
        if settled is not None and settled.grade.strip() and facts.course.status(student) in there:
            yield student, settled


def settled_differs(facts: Facts) -> Iterator[Found]:
    """The settled grade contradicts the computed letter, and no reason is written."""
    if facts.scale_due:
        return
    for student, settled in settled_students(facts):
        grade = facts.grades[student.id]
        if _reason(settled) or not _differs(facts, student, settled.grade, grade):
            continue
        computed = computed_code(facts.course, student.id, grade) if numbers_for(facts.course, student.id) else None
        computed = computed or grade.letter or "no letter"
        yield Found(
            f"{student.plain_name} is settled as {settled.grade}; computed is {computed}; no reason.",
            student=student.id,
            evidence=[f"Percent: {percent_text(facts.grades[student.id].percent) or 'no grade yet'}"],
            facts=FixFacts(target=computed_code(facts.course, student.id, facts.grades[student.id]) or ""),
        )


def _differs(facts: Facts, student: Student, code: str, grade: Grade) -> bool:
    """Whether a settled grade is another than the computed one, as a number where the registrar takes numbers."""
    numbers = numbers_for(facts.course, student.id)
    if numbers is None:
        return contradicts(facts, student, code, grade.letter)
    number = settled_number(code)
    taken = number is not None and not number_fault(numbers, code, number)
    return taken and number != computed_number(facts.plan.rounding, numbers, grade.percent)


def contradicts(facts: Facts, student: Student, code: str, letter: str | None) -> bool:
    """Whether a code the registrar takes says something else than the computed letter."""
    course = facts.course
    letters = {row.letter for row in course.plan.scale}
    if course.records is None:
        return code in letters and code != letter
    rule = _taken_rule(facts, student, code)
    if rule is None or "fallback_grade" in rule.needs:
        return False
    if code in letters or course.grading_basis(student.id) == "letter":
        return code != letter
    if letter is None:
        return False
    return passes(course, letter) == ("last_attended" in rule.needs)


def _taken_rule(facts: Facts, student: Student, code: str) -> CodeRule | None:
    """The registrar's rule of a code, where it takes that code for the student."""
    rule = facts.course.records.rule(code) if facts.course.records else None
    return rule if rule is not None and rule.serves(facts.course.grading_basis(student.id)) else None


def _reason(settled: Settled) -> str:
    return (settled.reason or "").strip()


def order_broken(facts: Facts) -> Iterator[Found]:
    """A higher percent with a lower letter, on one basis, without a reason on either side."""
    if facts.scale_due:
        return
    grades = facts.grades
    for settled in facts.settled_ranks.values():
        graded = [(student, rank, grades[student.id].percent) for student, rank in settled]
        mine = [Ranked(s, rank, p, (p.numerator << 40) // p.denominator) for s, rank, p in graded if p is not None]
        for one, against in _against_the_order(mine) if _may_be_out_of_order(mine) else ():
            if _differs_from_computed(facts, one):
                yield _out_of_order(facts, one, against)


def _may_be_out_of_order(ranked: Sequence[Ranked]) -> bool:
    """Whether any letter is lower than one of a percent that is not higher; told by whole numbers alone."""
    rising = sorted([(row.place, row.rank) for row in ranked])
    return any(later > earlier for (_, earlier), (_, later) in pairwise(rising))


def _differs_from_computed(facts: Facts, student: Student) -> bool:
    code, grade = facts.course.settled[student.id].grade, facts.grades[student.id]
    numbers = numbers_for(facts.course, student.id)
    return code != grade.letter if numbers is None else _differs(facts, student, code, grade)


def _against_the_order(ranked: Sequence[Ranked]) -> Iterator[tuple[Student, Student]]:
    """Everyone in a pair of which the higher percent has the lower letter (the higher rank), in the order given, with
    the other one of the pair: of those with a lower percent the best letter, of those with a higher one the worst."""
    rising = sorted(ranked, key=lambda row: (row.place, row.percent))
    best_below = _extremes(rising, better=True)
    worst_above = _extremes(sorted(ranked, key=lambda row: (row.place, row.percent), reverse=True), better=False)
    for student, rank, _, _ in ranked:
        below, above = best_below[student.id], worst_above[student.id]
        if below is not None and rank > below[1]:
            yield student, below[0]
        elif above is not None and rank < above[1]:
            yield student, above[0]


def _extremes(ordered: Sequence[Ranked], better: bool) -> dict[str, Ranked | None]:
    """For each student the one with the best (or worst) letter among those before, equal percents aside."""
    found: dict[str, Ranked | None] = {}
    before: Ranked | None = None
    extreme: Ranked | None = None
    last: Ranked | None = None
    for row in ordered:
        if last is None or row.place != last.place or row.percent != last.percent:
            before = extreme
        found[row.student.id] = before
        if extreme is None or (row.rank < extreme.rank if better else row.rank > extreme.rank):
            extreme = row
        last = row
    return found


def _out_of_order(facts: Facts, one: Student, against: Student) -> Found:
    percents = [fixed(facts.grades[s.id].percent or Fraction(0), 2) for s in (one, against)]
    grades = [facts.course.settled[s.id].grade for s in (one, against)]
    said = [
        f"{s.plain_name} has {percent}% and {grade}"
        for s, percent, grade in zip((one, against), percents, grades, strict=True)
    ]
    return Found(
        f"{said[0]}; {said[1]}: the higher percent has the lower letter.",
        student=one.id,
        evidence=[f"Computed for {one.plain_name}: {facts.grades[one.id].letter or 'no letter'}"],
    )


def code_refused(facts: Facts) -> Iterator[Found]:
    """A settled grade that the registrar does not take: unknown, of another basis, or its own alone."""
    records = facts.course.records
    if records is None:
        return
    for student, settled in settled_students(facts, auditing=True):
        basis, why = facts.course.grading_basis(student.id), _why_refused(facts, student, settled.grade)
        if not why:
            continue
        yield Found(
            f"The registrar does not take {settled.grade} for {student.plain_name}: {why}.",
            student=student.id,
            evidence=[f"Codes for the {basis} basis: {', '.join(r.code for r in records.codes if r.serves(basis))}"],
        )


def _why_refused(facts: Facts, student: Student, code: str) -> str:
    """Why the registrar does not take a code or a number; empty where it does."""
    records, basis = facts.course.records, facts.course.grading_basis(student.id)
    numbers, number = numbers_for(facts.course, student.id), settled_number(code)
    rule = records.rule(code) if records else None
    if numbers is not None and number is not None:
        return number_fault(numbers, code, number)
    if numbers is not None and code in {row.letter for row in facts.plan.scale}:
        return "it takes a number, not a letter"
    if rule is None:
        return "the registrar does not know it"
    if rule.office_only:
        return "only the registrar sets it"
    return "" if rule.serves(basis) else f"it is not for the {basis} basis"


def needs_last_attended(facts: Facts) -> Iterator[Found]:
    """A code that needs a last date of attendance, and none is given."""
    for student, settled in settled_students(facts, auditing=True):
        rule = facts.course.records.rule(settled.grade) if facts.course.records else None
        if settled.last_attended or settled.never_attended or rule is None or "last_attended" not in rule.needs:
            continue
        work = last_work(facts.course, student.id, facts.as_of)
        yield Found(
            f"{settled.grade} is missing the last date of attendance of {student.plain_name}.",
            student=student.id,
            evidence=[_suggestion(work)],
            facts=FixFacts(day=work.due if work else None),
        )


def _suggestion(work: Item | None) -> str:
    if work is None or work.due is None:
        return "No dated work with a score above 0: perhaps never attended."
    return f"The last work with a score above 0 is {work.name}, due {day_words(work.due)}."


def attended_contradicts(facts: Facts) -> Iterator[Found]:
    """Never attended, beside a last date of attendance or a score above 0."""
    for student, settled in settled_students(facts, auditing=True):
        if not settled.never_attended:
            continue
        scored = [i for _, i in facts.plan.items() if (facts.number(student, i) or 0) > 0]
        day = settled.last_attended
        against = f"a last date of attendance, {day_words(day)}" if day else ""
        if not day and student.id in facts.at_work:
            against = f"a score above 0{' on ' + scored[0].name if scored else ''}"
        if against:
            yield Found(
                f"{student.plain_name} is said never to have attended, and has {against}.",
                student=student.id,
                evidence=[f"{i.name}: {exact_text(facts.number(student, i) or Fraction(0))}" for i in scored[:5]],
            )


def grade_without_work(facts: Facts) -> Iterator[Found]:
    """A passing settled grade for a student with not one number above 0, and no reason."""
    for student, settled in settled_students(facts):
        if student.id in facts.at_work or _reason(settled) or not _is_passing(facts, student, settled.grade):
            continue
        yield Found(
            f"{student.plain_name} is settled as {settled.grade} without any score above 0.",
            student=student.id,
            evidence=[f"Computed: {facts.grades[student.id].letter or 'no letter'}."],
        )


def _is_passing(facts: Facts, student: Student, code: str) -> bool:
    number = settled_number(code) if numbers_for(facts.course, student.id) else None
    if number is not None:
        code = letter_for(facts.plan, number) or ""
    if code in {row.letter for row in facts.plan.scale}:
        return passes(facts.course, code)
    rule = _taken_rule(facts, student, code)
    of_pass_basis = rule is not None and facts.course.grading_basis(student.id) == "pass"
    return of_pass_basis and rule is not None and not {"last_attended", "fallback_grade"} & set(rule.needs)


def attended_outside(facts: Facts) -> Iterator[Found]:
    """A last date of attendance outside the term, or later than today."""
    term = facts.course.term
    for student, settled in settled_students(facts, auditing=True):
        day = settled.last_attended
        if day is None or term.starts <= day <= min(term.ends, facts.as_of):
            continue
        where = "before the term starts" if day < term.starts else (
            "after the term ends" if day > term.ends else "later than today"
        )  # fmt: skip
        yield Found(
            f"The last date of attendance of {student.plain_name}, {day_words(day)}, is {where}.",
            student=student.id,
            evidence=[
                f"The term runs from {day_words(term.starts)} to {day_words(term.ends)};"
                f" today is {day_words(facts.as_of)}."
            ],
        )


def needs_fallback(facts: Facts) -> Iterator[Found]:
    """A code that needs a fallback grade and a finish-by date, and one is lacking or not taken."""
    for student, settled in settled_students(facts, auditing=True):
        lacks = _lacks(facts, student, settled)
        if lacks:
            yield Found(
                f"{settled.grade} of {student.plain_name} {' and '.join(lacks)}.",
                student=student.id,
                evidence=_incomplete_rules(facts),
            )


def _lacks(facts: Facts, student: Student, settled: Settled) -> list[str]:
    records = facts.course.records
    rule = records.rule(settled.grade) if records else None
    if records is None or rule is None:
        return []
    found = []
    fallback = settled.fallback_grade or records.incomplete_fallback
    if "fallback_grade" in rule.needs:
        taken = _taken_rule(facts, student, fallback) if fallback else None
        if not fallback:
            found.append("has no fallback grade")
        elif taken is None or "fallback_grade" in taken.needs:
            found.append(f"falls back to {fallback}, which the registrar does not take")
    if "finish_by" in rule.needs and not (settled.finish_by or records.incomplete_finish_by):
        found.append("has no finish-by date")
    return found


def _incomplete_rules(facts: Facts) -> Sequence[str]:
    records = facts.course.records
    limit = records.incomplete_limit_days if records else None
    said = f"To be finished within {limit} days of the term’s end." if limit else "The registrar sets no limit of days."
    return [said]


def finish_by_outside(facts: Facts) -> Iterator[Found]:
    """A finish-by date that is not after the term's end, or later than the registrar's limit."""
    ends = facts.course.term.ends
    limit = facts.course.records.incomplete_limit_days if facts.course.records else None
    for student, settled in settled_students(facts, auditing=True):
        day = settled.finish_by
        if day is None or (day > ends and (limit is None or day <= ends + timedelta(days=limit))):
            continue
        where = "not after the term’s end" if day <= ends else f"more than {limit} days after the term’s end"
        yield Found(
            f"The finish-by date of {student.plain_name}, {day_words(day)}, is {where}.",
            student=student.id,
            evidence=[f"The term ends on {ends}.", *_incomplete_rules(facts)],
        )
