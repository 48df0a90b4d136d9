"""Checks of further rules: late work, adjustments, requirements, and what the syllabus promises of them."""

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import DetailedScore
from vinemark.core.plan.plan import Category, Item
from vinemark.core.plan.rule_words import requirement_words, subject_name
from vinemark.core.plan.rules import Requirement
from vinemark.core.scores.adjusting import adjustment_words
from vinemark.core.syllabus.compare.notes import ABOUT_WORDS
from vinemark.core.syllabus.compare.promises import held_by

FEW, FAR = 5, Fraction(10)


def late_unruled(facts: Facts) -> Iterator[Found]:
    """A score with late days in a category that has no rule for late work."""
    if facts.course.values is facts.course.scores:
        return
    for category in facts.plan.categories:
        people = facts.taking_part if category.late is None else []
        late = [f"{s.plain_name}: {item.name}" for s in people for item in _late_items(facts, category, s.id)]
        if late:
            count = "1 score is" if len(late) == 1 else f"{len(late)} scores are"
            yield Found(
                f"{count} marked late in {category.name}, which has no rule for late work.",
                category=category.id,
                evidence=late[:8],
            )


def _late_items(facts: Facts, category: Category, student: str) -> Iterator[Item]:
    for item in category.items:
        cell = facts.course.cell(student, item.id)
        if isinstance(cell, DetailedScore) and cell.late:
            yield item


def adjusted_bare(facts: Facts) -> Iterator[Found]:
    """An adjustment other than 0 without a reason."""
    for student in facts.rows_taking_part:
        adjustment = facts.course.adjustments.get(student.id)
        if adjustment is not None and adjustment.percent and not adjustment.reason.strip():
            yield Found(
                f"{student.plain_name} has an adjustment of {adjustment_words(adjustment)} without a reason.",
                student=student.id,
                evidence=["Write why where the student is looked at, or take it away."],
            )


def requirement_blind(facts: Facts) -> Iterator[Found]:
    """A requirement of something in which nobody has anything recorded, once the term has ended."""
    if not facts.term_ended:
        return
    for requirement in facts.plan.requirements:
        category = facts.plan.category(requirement.condition.category or "")
        items = [item.id for item in category.items] if category else [requirement.condition.item or ""]
        if not any(facts.course.tally.recorded.get(item) for item in items):
            yield _blind(facts, requirement, category)


def _blind(facts: Facts, requirement: Requirement, category: Category | None) -> Found:
    placed = facts.plan.placed.get(requirement.condition.item or "")
    return Found(
        f"Nothing is recorded in {subject_name(facts.plan, requirement.condition)}, which a requirement asks for.",
        category=category.id if category else placed[0].id if placed else None,
        item=requirement.condition.item,
        evidence=[requirement.text or requirement_words(facts.plan, requirement)],
        part=requirement.id,
    )


def promise_open(facts: Facts) -> Iterator[Found]:
    """A sentence of the syllabus that promises a rule of which the plan has none, once any grade is settled."""
    if facts.reading is None or not facts.course.settled:
        return
    for sentence in facts.reading.unread:
        if sentence.about is None or held_by(facts.plan, sentence.about, bool(facts.course.adjustments)):
            continue
        if sentence.text not in facts.remarked:
            yield Found(
                f"The syllabus promises a rule that the plan does not have ({ABOUT_WORDS[sentence.about]}):"
                f" “{sentence.text}”",
                evidence=["Make it a rule on the plan, or write with the sentence how it is handled."],
                part=sentence.text[:80],
            )


def lowered_many(facts: Facts) -> Iterator[Found]:
    """A requirement that more than half of the class does not meet."""
    counts: dict[str, int] = {}
    for student in facts.enrolled if facts.plan.requirements else ():
        for one in facts.grades[student.id].not_met:
            counts[one.requirement.id] = counts.get(one.requirement.id, 0) + 1
    for requirement in facts.plan.requirements:
        count = counts.get(requirement.id, 0)
        if count >= FEW and 2 * count > len(facts.enrolled):
            yield Found(
                f"{count} of {len(facts.enrolled)} students do not meet a requirement.",
                evidence=[requirement.text or requirement_words(facts.plan, requirement)],
                part=requirement.id,
            )


def adjusted_far(facts: Facts) -> Iterator[Found]:
    """An adjustment of one student by more than ten percentage points."""
    for student in facts.rows_taking_part:
        adjustment = facts.course.adjustments.get(student.id)
        if adjustment is not None and abs(adjustment.percent) > FAR:
            yield Found(
                f"{student.plain_name} has an adjustment of {adjustment_words(adjustment)}.",
                student=student.id,
                evidence=["More than ten percentage points: a decimal point lost?"],
            )


def adjusted_most(facts: Facts) -> Iterator[Found]:
    """The same adjustment for most of the class, student by student."""
    given = Counter(one.percent for s in facts.enrolled if (one := facts.course.adjustments.get(s.id)) and one.percent)
    (percent, count) = given.most_common(1)[0] if given else (Fraction(0), 0)
    if count >= FEW and 2 * count >= len(facts.enrolled):
        yield Found(
            f"{count} of {len(facts.enrolled)} students have an adjustment of {exact_text(percent)}.",
            evidence=["Points for everyone are a rule of the plan, and nobody is left out."],
        )
