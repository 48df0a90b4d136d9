"""Checks of days and counts beside the scores: late days, due dates to come, extensions, what is only recorded."""

from collections.abc import Iterator
from datetime import timedelta
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import DetailedScore

DAYS_SLACK = timedelta(days=7)
SCORED, THREE_WEEKS = 5, 21
COUNT, TIMES = 10, 5


def late_odd(facts: Facts) -> Iterator[Found]:
    """More late days than have passed since an item was due, or than anybody else has."""
    if facts.course.values is facts.course.scores:
        return
    most = late_far(facts)
    for student in facts.rows:
        for category, item in facts.plan.items():
            cell = facts.course.cell(student.id, item.id)
            due = facts.course.due(student.id, item)
            if not isinstance(cell, DetailedScore) or not cell.late or due is None:
                continue
            impossible = due + timedelta(days=cell.late) > facts.as_of + DAYS_SLACK
            if impossible or cell.late >= most:
                yield Found(
                    f"{student.plain_name} is {cell.late} days late on {item.name}, due {day_words(due)}.",
                    student=student.id,
                    category=category.id,
                    item=item.id,
                    evidence=[
                        f"That many days have not passed by {day_words(facts.as_of)}."
                        if impossible
                        else "Hardly anybody else is late by a fifth of that."
                    ],
                )


def late_far(facts: Facts) -> int:
    """From how many days on a score is late beyond all others: three weeks, and five times what is usual."""
    if facts.course.values is facts.course.scores:
        return 0
    cells = (cell for row in facts.course.scores.values() for cell in row.values())
    days = sorted(cell.late for cell in cells if isinstance(cell, DetailedScore) and cell.late)
    return max(THREE_WEEKS, TIMES * days[len(days) // 2] if len(days) > 1 else 0)


def due_later(facts: Facts) -> Iterator[Found]:
    """An item due more than a week from now with scores of half the class."""
    for category, item in facts.columns():
        scored = facts.scored(item)
        if item.due is None or item.due <= facts.as_of + DAYS_SLACK or scored < SCORED:
            continue
        if 2 * scored >= len(facts.enrolled):
            yield Found(
                f"{item.name} is due {day_words(item.due)}, and {scored} students have a score already.",
                category=category.id,
                item=item.id,
                evidence=["Is the due date right?"],
            )


def extension_odd(facts: Facts) -> Iterator[Found]:
    """A student's own due date before that of the class, or long after the term."""
    for student in facts.rows:
        for item_id, day in facts.course.extended.get(student.id, {}).items():
            placed = facts.plan.placed.get(item_id)
            if placed is None or placed[1].due is None:
                continue
            early = day < placed[1].due
            if early or day > facts.course.term.ends + timedelta(days=366):
                yield Found(
                    f"{student.plain_name} has {placed[1].name} due {day_words(day)},"
                    f" {'before the class' if early else 'more than a year after the term'}.",
                    student=student.id,
                    category=placed[0].id,
                    item=item_id,
                    evidence=[f"The class: {day_words(placed[1].due)}"],
                )


def count_odd(facts: Facts) -> Iterator[Found]:
    """A count that is only recorded, such as absences, five times as high as anybody else's."""
    for recorded in facts.plan.recorded:
        item = facts.plan.columns[recorded.id]
        counts = [(n, s) for s in facts.enrolled if (n := facts.number(s, item)) is not None]
        counts.sort(key=lambda one: one[0], reverse=True)
        if len(counts) < SCORED:
            continue
        (most, student), (second, _) = counts[:2]
        if most >= COUNT and most >= TIMES * max(second, Fraction(1)):
            yield Found(
                f"{student.plain_name} has {exact_text(most)} for {recorded.name}; the next highest is"
                f" {exact_text(second)}.",
                student=student.id,
                item=recorded.id,
                evidence=["A digit too many?"],
            )


def zero_early(facts: Facts) -> Iterator[Found]:
    """Blanks that count as 0 on items to come, of which nobody has a score yet, while others of the category do."""
    if facts.term_ended:
        return
    for category in facts.plan.categories:
        if category.blanks != "zero" or category.extra:
            continue
        to_come = [item for item in category.regular if not facts.recorded(item) and not facts.is_past(item)]
        if to_come and any(facts.scored(item) for item in category.regular):
            yield Found(
                f"Blanks of {category.name} count as 0, and {len(to_come)} of its items are still to come.",
                category=category.id,
                evidence=[item.name for item in to_come[:8]],
            )
