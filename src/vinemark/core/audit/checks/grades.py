"""Checks of the final grades."""

from collections.abc import Iterator, Sequence
from datetime import timedelta
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.course.course import GRADING_BASES, CodeRule, Settled, Student
from vinemark.core.grade.codes import passes
from vinemark.core.grade.letters import NEAR, letter_for, next_letter, rounded_percent
from vinemark.core.grade.steps import percent_text
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.scale import sorted_scale
from vinemark.core.scores.last_work import last_work

Ranked = tuple[Student, int, Fraction]
"""A student, the place of the settled letter from the top of the scale, and the exact percent."""


def near_cutoff(facts: Facts) -> Iterator[Finding]:
    """Less than half a percent short of what gets the next letter."""
    for student, percent in _percents(facts):
        following = next_letter(facts.plan, percent)
        if following is not None and 0 < following.short_by < NEAR:
            yield Finding(
                "near-cutoff",
                "note",
                f"{student.plain_name} is {_short(following.short_by)} short of {following.letter}.",
                student=student.id,
                evidence=[f"Percent: {percent_text(percent)}"],
                step="settle",
            )


def rounding_decides(facts: Facts) -> Iterator[Finding]:
    """The rounded and the exact percent give different letters."""
    rounding = facts.plan.rounding
    if rounding is None:
        return
    plain = Plan(facts.plan.basis, scale=facts.plan.scale)
    for student, percent in _percents(facts):
        rounded = rounded_percent(rounding, percent)
        letters = [letter_for(plain, value) for value in (percent, rounded or percent)]
        if letters[0] != letters[1]:
            yield Finding(
                "rounding-decides",
                "note",
                f"{student.plain_name} has {letters[0]} by the exact percent and {letters[1]} once it is rounded.",
                student=student.id,
                evidence=[
                    f"Exactly {percent_text(percent)}",
                    f"Rounded {fixed(rounded or percent, rounding.decimals)}",
                ],
                step="settle",
            )


def _percents(facts: Facts) -> Iterator[tuple[Student, Fraction]]:
    """Enrolled students with a percent, where letters can be looked at."""
    if facts.scale_due or not facts.plan.scale:
        return
    for student in facts.enrolled:
        percent = facts.grades[student.id].percent
        if percent is not None:
            yield student, percent


def _short(value: Fraction) -> str:
    """Two decimals, or as many as show that it is not 0."""
    return next((t for t in (fixed(value, n) for n in (2, 4, 6)) if t.strip("0.")), "almost nothing")


def unsettled(facts: Facts) -> Iterator[Finding]:
    """An enrolled student without a settled grade, once any is settled or when submitting."""
    if not facts.course.settled and not facts.submitting:
        return
    for student in facts.enrolled:
        settled = facts.course.settled.get(student.id)
        if settled is None or not settled.grade.strip():
            grade = facts.grades[student.id]
            yield Finding(
                "unsettled",
                "stop",
                f"{student.plain_name} has no settled grade.",
                student=student.id,
                evidence=[f"Computed: {percent_text(grade.percent) or 'no grade yet'}, {grade.letter or 'no letter'}."],
                step="settle",
            )


def settled_students(facts: Facts, auditing: bool = False) -> Iterator[tuple[Student, Settled]]:
    """Students with a settled grade whom the office lists as enrolled, or also as auditing."""
    there = {"enrolled", "auditing"} if auditing else {"enrolled"}
    for student in facts.taking_part:
        settled = facts.course.settled.get(student.id)
        if settled is not None and settled.grade.strip() and facts.course.status(student) in there:
            yield student, settled


def settled_differs(facts: Facts) -> Iterator[Finding]:
    """The settled grade contradicts the computed letter, and no reason is written."""
    if facts.scale_due:
        return
    for student, settled in settled_students(facts):
        letter = facts.grades[student.id].letter
        if _reason(settled) or not contradicts(facts, student, settled.grade, letter):
            continue
        yield Finding(
            "settled-differs",
            "look",
            f"{student.plain_name} is settled as {settled.grade}; computed is {letter or 'no letter'}; no reason.",
            student=student.id,
            evidence=[f"Percent: {percent_text(facts.grades[student.id].percent) or 'no grade yet'}"],
            step="settle",
        )


def contradicts(facts: Facts, student: Student, code: str, letter: str | None) -> bool:
    """Whether a code the office takes says something else than the computed letter."""
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
    """The office's rule of a code, where it takes that code for the student."""
    rule = facts.course.records.rule(code) if facts.course.records else None
    return rule if rule is not None and rule.serves(facts.course.grading_basis(student.id)) else None


def _reason(settled: Settled) -> str:
    return (settled.reason or "").strip()


def order_broken(facts: Facts) -> Iterator[Finding]:
    """A higher percent with a lower letter, on one basis, without a reason on either side."""
    if facts.scale_due:
        return
    order = [row.letter for row in sorted_scale(facts.plan.scale)]
    ranked = [
        (student, order.index(settled.grade), percent)
        for student, settled in settled_students(facts)
        if settled.grade in order and not _reason(settled)
        and (percent := facts.grades[student.id].percent) is not None
    ]  # fmt: skip
    named: dict[str, tuple[Student, Student]] = {}
    for basis in GRADING_BASES:
        mine = [row for row in ranked if facts.course.grading_basis(row[0].id) == basis]
        for student, other in _against_the_order(mine):
            for one, against in ((student, other), (other, student)):
                if facts.course.settled[one.id].grade != facts.grades[one.id].letter:
                    named.setdefault(one.id, (one, against))
    for one, against in named.values():
        yield _out_of_order(facts, one, against)


def _against_the_order(ranked: Sequence[Ranked]) -> Iterator[tuple[Student, Student]]:
    """Pairs of which the first has the higher percent and the lower letter (the higher rank)."""
    rising = sorted(ranked, key=lambda row: row[2])
    # Where letters never fall as percents rise, there is no pair to look for.
    if _ranks_fall(rising):
        return
    for student, rank, percent in ranked:
        for other, other_rank, other_percent in ranked:
            if rank > other_rank and percent > other_percent:
                yield student, other


def _ranks_fall(rising: Sequence[Ranked]) -> bool:
    """Whether no percent has a lower letter than any lower percent, equal percents aside."""
    best, best_of_lower, last = None, None, None
    for _, rank, percent in rising:
        if percent != last:
            best_of_lower, last = best, percent
        if best_of_lower is not None and rank > best_of_lower:
            return False
        best = rank if best is None else min(best, rank)
    return True


def _out_of_order(facts: Facts, one: Student, against: Student) -> Finding:
    said = [
        f"{s.plain_name} {fixed(facts.grades[s.id].percent or Fraction(0), 2)}% and {facts.course.settled[s.id].grade}"
        for s in (one, against)
    ]
    return Finding(
        "order-broken",
        "look",
        f"{said[0]} stands against {said[1]}: the higher percent has the lower letter.",
        student=one.id,
        evidence=[f"Computed for {one.plain_name}: {facts.grades[one.id].letter or 'no letter'}"],
        step="settle",
    )


def code_refused(facts: Facts) -> Iterator[Finding]:
    """A settled grade that the office does not take: unknown, of another basis, or its own alone."""
    records = facts.course.records
    if records is None:
        return
    for student, settled in settled_students(facts, auditing=True):
        rule, basis = records.rule(settled.grade), facts.course.grading_basis(student.id)
        if rule is not None and rule.serves(basis):
            continue
        why = (
            "the office does not know it"
            if rule is None
            else "only the office sets it"
            if rule.office_only
            else f"it is not for the {basis} basis"
        )
        yield Finding(
            "code-refused",
            "stop",
            f"The office does not take {settled.grade} for {student.plain_name}: {why}.",
            student=student.id,
            evidence=[f"Codes for the {basis} basis: {', '.join(r.code for r in records.codes if r.serves(basis))}"],
            step="settle",
        )


def needs_last_attended(facts: Facts) -> Iterator[Finding]:
    """A code that needs a last date of attendance, and none is given."""
    for student, settled in settled_students(facts, auditing=True):
        rule = facts.course.records.rule(settled.grade) if facts.course.records else None
        if settled.last_attended or settled.never_attended or rule is None or "last_attended" not in rule.needs:
            continue
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
    if work is None or work.due is None:
        return "No dated work with a score above 0: perhaps never attended."
    return f"The last work with a score above 0 is {work.name}, due {work.due.day} {work.due:%b %Y}."


def attended_contradicts(facts: Facts) -> Iterator[Finding]:
    """Never attended, beside a last date of attendance or a score above 0."""
    for student, settled in settled_students(facts, auditing=True):
        if not settled.never_attended:
            continue
        scored = [i for _, i in facts.plan.items() if (facts.number(student, i) or 0) > 0]
        day = settled.last_attended
        against = f"a last date of attendance, {day.day} {day:%b %Y}" if day else ""
        if not day and student.id in facts.at_work:
            against = f"a score above 0{' on ' + scored[0].name if scored else ''}"
        if against:
            yield Finding(
                "attended-contradicts",
                "stop",
                f"{student.plain_name} is said never to have attended, and has {against}.",
                student=student.id,
                evidence=[f"{i.name}: {exact_text(facts.number(student, i) or Fraction(0))}" for i in scored[:5]],
                step="settle",
            )


def grade_without_work(facts: Facts) -> Iterator[Finding]:
    """A passing settled grade for a student with not one number above 0, and no reason."""
    for student, settled in settled_students(facts):
        if student.id in facts.at_work or _reason(settled) or not _is_passing(facts, student, settled.grade):
            continue
        yield Finding(
            "grade-without-work",
            "look",
            f"{student.plain_name} is settled as {settled.grade} with not one score above 0.",
            student=student.id,
            evidence=[f"Computed: {facts.grades[student.id].letter or 'no letter'}."],
            step="settle",
        )


def _is_passing(facts: Facts, student: Student, code: str) -> bool:
    if code in {row.letter for row in facts.plan.scale}:
        return passes(facts.course, code)
    rule = _taken_rule(facts, student, code)
    of_pass_basis = rule is not None and facts.course.grading_basis(student.id) == "pass"
    return of_pass_basis and rule is not None and not {"last_attended", "fallback_grade"} & set(rule.needs)


def attended_outside(facts: Facts) -> Iterator[Finding]:
    """A last date of attendance outside the term, or later than today."""
    term = facts.course.term
    for student, settled in settled_students(facts, auditing=True):
        day = settled.last_attended
        if day is None or term.starts <= day <= min(term.ends, facts.as_of):
            continue
        where = "before the term starts" if day < term.starts else (
            "after the term ends" if day > term.ends else "later than today"
        )  # fmt: skip
        yield Finding(
            "attended-outside",
            "stop",
            f"The last date of attendance of {student.plain_name}, {day.day} {day:%b %Y}, is {where}.",
            student=student.id,
            evidence=[f"The term runs from {term.starts} to {term.ends}; today is {facts.as_of}."],
            step="settle",
        )


def needs_fallback(facts: Facts) -> Iterator[Finding]:
    """A code that needs a fallback grade and a finish-by date, and one is lacking or not taken."""
    for student, settled in settled_students(facts, auditing=True):
        lacks = _lacks(facts, student, settled)
        if lacks:
            yield Finding(
                "needs-fallback",
                "stop",
                f"{settled.grade} of {student.plain_name} {' and '.join(lacks)}.",
                student=student.id,
                evidence=_incomplete_rules(facts),
                step="settle",
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
            found.append("lacks a fallback grade")
        elif taken is None or "fallback_grade" in taken.needs:
            found.append(f"falls back to {fallback}, which the office does not take")
    if "finish_by" in rule.needs and not (settled.finish_by or records.incomplete_finish_by):
        found.append("lacks a finish-by date")
    return found


def _incomplete_rules(facts: Facts) -> Sequence[str]:
    records = facts.course.records
    limit = records.incomplete_limit_days if records else None
    return [f"To be finished within {limit} days of the term’s end." if limit else "The office sets no limit of days."]


def finish_by_outside(facts: Facts) -> Iterator[Finding]:
    """A finish-by date that is not after the term's end, or later than the office's limit."""
    ends = facts.course.term.ends
    limit = facts.course.records.incomplete_limit_days if facts.course.records else None
    for student, settled in settled_students(facts, auditing=True):
        day = settled.finish_by
        if day is None or (day > ends and (limit is None or day <= ends + timedelta(days=limit))):
            continue
        where = "not after the term’s end" if day <= ends else f"more than {limit} days after the term’s end"
        yield Finding(
            "finish-by-outside",
            "stop",
            f"The finish-by date of {student.plain_name}, {day.day} {day:%b %Y}, is {where}.",
            student=student.id,
            evidence=[f"The term ends on {ends}.", *_incomplete_rules(facts)],
            step="settle",
        )
