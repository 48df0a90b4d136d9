"""Checks of settled grades against the work behind them, and of percents beyond what can be earned."""

from collections.abc import Iterator
from datetime import timedelta
from fractions import Fraction
from typing import Final

from vinemark.core.audit.checks.grades import settled_students
from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import percent_text
from vinemark.core.course.course import NO_VALUES, Settled, Student
from vinemark.core.plan.plan import HUNDRED, Item
from vinemark.core.plan.scale import sorted_scale

WEEK: Final = timedelta(days=7)
MOVED_ROWS, LETTERS_OF_A_REASON, FAR_ABOVE = 5, 3, 10


def attended_early(facts: Facts) -> Iterator[Found]:
    """A last date of attendance more than a week before later work of the student."""
    for student, settled in settled_students(facts):
        day = settled.last_attended
        if day is None or settled.never_attended:
            continue
        dated = [(item.due, item) for _, item in facts.plan.items() if item.counts and item.due is not None]
        later = [(due, item) for due, item in dated if due > day + WEEK and (facts.number(student, item) or 0) > 0]
        if later:
            due, last = max(later, key=lambda one: one[0])
            yield Found(
                f"{student.plain_name} last attended {day_words(day)}, and has a score on {last.name},"
                f" due {day_words(due)}.",
                student=student.id,
                evidence=[f"{item.name}: due {day_words(due)}" for due, item in later[:5]],
                opens=last.id,
            )


def fallback_above(facts: Facts) -> Iterator[Found]:
    """An incomplete whose fallback grade is above the computed letter."""
    ranks = _ranks(facts)
    for student, settled in _incompletes(facts):
        records = facts.course.records
        fallback = settled.fallback_grade or (records.incomplete_fallback if records else None)
        letter = facts.grades[student.id].letter
        if fallback in ranks and letter in ranks and ranks[fallback or ""] < ranks[letter or ""]:
            yield Found(
                f"The incomplete of {student.plain_name} falls back to {fallback}; computed is {letter}.",
                student=student.id,
                evidence=[f"Percent: {percent_text(facts.grades[student.id].percent) or 'no grade yet'}"],
            )


def owes_nothing(facts: Facts) -> Iterator[Found]:
    """An incomplete of a student with no blank and no missing work, where nothing says what is owed."""
    for student, settled in _incompletes(facts):
        if (settled.owed or "").strip():
            continue
        cells = [facts.course.cell(student.id, item.id) for _, item in facts.regular_items()]
        if not any(cell is None or cell == "missing" for cell in cells):
            yield Found(
                f"{student.plain_name} has an incomplete ({settled.grade}) and owes no work.",
                student=student.id,
                evidence=["No item is blank or missing."],
            )


def _incompletes(facts: Facts) -> Iterator[tuple[Student, Settled]]:
    """Settled grades that need a fallback grade."""
    records = facts.course.records
    for student, settled in settled_students(facts):
        rule = records.rule(settled.grade) if records else None
        if rule is not None and "fallback_grade" in rule.needs:
            yield student, settled


def settled_below(facts: Facts) -> Iterator[Found]:
    """A settled letter below the computed one, with a reason."""
    ranks = _ranks(facts)
    for student, settled in settled_students(facts):
        letter = facts.grades[student.id].letter
        if settled.grade in ranks and letter in ranks and ranks[settled.grade] > ranks[letter or ""]:
            reason = (settled.reason or "").strip()
            if reason:
                yield Found(
                    f"{student.plain_name} is settled as {settled.grade}, below the computed {letter}.",
                    student=student.id,
                    evidence=[f"Reason: {reason}"],
                )


def _ranks(facts: Facts) -> dict[str, int]:
    """The place of each letter from the top."""
    return {row.letter: place for place, row in enumerate(sorted_scale(facts.plan.scale))}


def percent_high(facts: Facts) -> Iterator[Found]:
    """A course percent above 100 that extra credit does not explain."""
    for student in facts.rows:
        if not _beyond_points(facts, student):
            continue
        percent = facts.without_extra.grade(facts.course.scores.get(student.id, {})).percent
        if percent is not None and percent > HUNDRED:
            yield Found(
                f"{student.plain_name} has {percent_text(percent)}% without any extra credit.",
                student=student.id,
                evidence=[f"{i.name}: {percent_text(HUNDRED * n / i.points)}%" for i, n in _over(facts, student)],
            )


def _over(facts: Facts, student: Student) -> list[tuple[Item, Fraction]]:
    found = [(item, facts.number(student, item)) for _, item in facts.regular_items()]
    return [(item, number) for item, number in found if number is not None and number > item.points]


def _beyond_points(facts: Facts, student: Student) -> bool:
    """Whether any regular score is above its points: else no percent can be above 100."""
    row = facts.course.values.get(student.id, NO_VALUES)
    return any(
        isinstance(cell := row.get(item.id), Fraction) and cell > item.points for _, item in facts.regular_items()
    )


def drift_between(facts: Facts) -> Iterator[Found]:
    """A settled grade that is another than the one that was signed and is on its way to the registrar."""
    signed = facts.section_records.on_the_way
    for student, settled in settled_students(facts):
        was = signed.get(student.id, settled.grade)
        if was != settled.grade:
            yield Found(
                f"{student.plain_name} is settled with {settled.grade}; signed and on its way is {was}.",
                student=student.id,
                evidence=["The registrar gets what was signed: sign again, or settle what was signed."],
            )


def settled_moved(facts: Facts) -> Iterator[Found]:
    """Settled grades without a reason that are the computed ones of the next student, five in a row or more."""
    if len(facts.course.settled) < MOVED_ROWS:
        return
    pairs = [
        (student, settled.grade if (settled := facts.course.settled.get(student.id)) else None,
         facts.computed_codes[student.id])
        for student in facts.enrolled
    ]  # fmt: skip
    wrong = [n for n, (student, grade, computed) in enumerate(pairs) if grade and grade != computed]
    if len(wrong) < MOVED_ROWS or any((facts.course.settled[pairs[n][0].id].reason or "").strip() for n in wrong):
        return
    for step in (-1, 1):
        right = [n for n in wrong if 0 <= n + step < len(pairs) and pairs[n + step][2] == pairs[n][1]]
        if 5 * len(right) >= 4 * len(wrong):
            first = pairs[wrong[0]][0]
            yield Found(
                f"The settled grades from {first.plain_name} on are those of the student one row"
                f" {'above' if step < 0 else 'below'}: {len(right)} of {len(wrong)} that differ from computed.",
                student=first.id,
                evidence=[f"{s.plain_name}: settled {g}, computed {c or 'none'}"
                          for s, g, c in (pairs[n] for n in wrong[:6])],
            )  # fmt: skip
            return


def reason_bare(facts: Facts) -> Iterator[Found]:
    """A reason that says nothing, for a settled grade or an adjustment."""
    for student in facts.rows_taking_part:
        settled, adjustment = facts.course.settled.get(student.id), facts.course.adjustments.get(student.id)
        said = [("settled grade", settled.reason if settled else ""), ("adjustment", adjustment and adjustment.reason)]
        for what, reason in said:
            text = (reason or "").strip()
            if text and sum(letter.isalpha() for letter in text) < LETTERS_OF_A_REASON:
                yield Found(
                    f"The reason for the {what} of {student.plain_name} is “{text}”.",
                    student=student.id,
                    evidence=["It has to say something to whoever reads it in a year."],
                    part=what,
                )


def raised_far(facts: Facts) -> Iterator[Found]:
    """A letter settled ten percent or more above where the percent is, with a reason."""
    cutoffs = {row.letter: row.cutoff for row in facts.plan.scale}
    for student, settled in settled_students(facts):
        percent, cutoff = facts.grades[student.id].percent, cutoffs.get(settled.grade)
        if percent is None or cutoff is None or not (settled.reason or "").strip():
            continue
        if cutoff - percent >= FAR_ABOVE:
            yield Found(
                f"{student.plain_name} is settled with {settled.grade}, {percent_text(cutoff - percent)} percentage"
                f" points above {percent_text(percent)}.",
                student=student.id,
                evidence=[f"Reason: {settled.reason}"],
            )
