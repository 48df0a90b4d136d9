"""Checks of the scores."""

from collections.abc import Iterator
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.course import Student
from vinemark.core.letters import letter_for
from vinemark.core.number import exact_text
from vinemark.core.plan import Category, Item
from vinemark.core.working import percent_text


def over_points(facts: Facts) -> Iterator[Finding]:
    """A regular item's score above its points."""
    for category, item in _regular_items(facts):
        for student in facts.taking_part:
            cell = facts.course.cell(student.id, item.id)
            if isinstance(cell, Fraction) and cell > item.points:
                yield Finding(
                    "over-points",
                    "look",
                    f"{student.plain_name} has {exact_text(cell)} of {exact_text(item.points)} on {item.name}.",
                    student=student.id,
                    category=category.id,
                    item=item.id,
                    evidence=_others(facts, item, student),
                    step="scores",
                )


def _others(facts: Facts, item: Item, student: Student) -> list[str]:
    """What the class has on an item, for comparison."""
    cells = [facts.course.cell(s.id, item.id) for s in facts.enrolled if s.id != student.id]
    numbers = [c for c in cells if isinstance(c, Fraction)]
    if not numbers:
        return ["No one else has a score here."]
    return [f"Everyone else has between {exact_text(min(numbers))} and {exact_text(max(numbers))} here."]


def blank_waits(facts: Facts) -> Iterator[Finding]:
    """After the term's end, a blank of an enrolled student that is still left out."""
    if not facts.term_ended:
        return
    waiting = [(c, i) for c, i in _regular_items(facts) if _left_out(c, i) and not column_blank(facts, i)]
    for student in facts.enrolled:
        items = [item for _, item in waiting if facts.course.cell(student.id, item.id) is None]
        if items and not _incomplete(facts, student):
            yield _waits(facts, student, items)


def _waits(facts: Facts, student: Student, items: list[Item]) -> Finding:
    grade = facts.grades[student.id]
    now = grade.letter or "no letter"
    zeros = None if grade.blanks_zero is None else letter_for(facts.plan, grade.blanks_zero)
    names = ", ".join(item.name for item in items)
    count = "1 blank" if len(items) == 1 else f"{len(items)} blanks"
    return Finding(
        "blank-waits",
        "look",
        f"{student.plain_name} has {count} still left out: {names}. Now {now}, with zeros {zeros or 'no letter'}.",
        student=student.id,
        item=items[0].id if len(items) == 1 else None,
        evidence=[
            f"So far {percent_text(grade.percent) or 'no grade yet'} ({now})",
            f"Blanks as 0 {percent_text(grade.blanks_zero) or 'no grade yet'} ({zeros or 'no letter'})",
            f"Blanks in full {percent_text(grade.blanks_full) or 'no grade yet'}",
        ],
        step="scores",
    )


def _left_out(category: Category, item: Item) -> bool:
    return category.blanks == "wait" or (category.blanks == "zero_when_due" and item.due is None)


def column_blank(facts: Facts, item: Item) -> bool:
    """A due item with nothing recorded for any enrolled student."""
    due = item.due < facts.as_of if item.due else facts.term_ended
    return due and all(facts.course.cell(s.id, item.id) is None for s in facts.enrolled)


def _incomplete(facts: Facts, student: Student) -> bool:
    settled, records = facts.course.settled.get(student.id), facts.course.records
    rule = records.rule(settled.grade) if settled and records else None
    return rule is not None and "fallback_grade" in rule.needs


def _regular_items(facts: Facts) -> Iterator[tuple[Category, Item]]:
    for category in facts.plan.categories:
        if not category.extra:
            for item in category.regular:
                yield category, item
