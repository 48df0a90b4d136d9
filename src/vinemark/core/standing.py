"""Where a section stands on its way to the registrar: the five nodes of the stem."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal

from vinemark.core.audit import Finding, counts
from vinemark.core.course import Course
from vinemark.core.number import trimmed
from vinemark.core.plan import HUNDRED, weight_total
from vinemark.core.submission import HeldRow, sending_row

StepName = Literal["plan", "scores", "audit", "settle", "submit"]
STEPS: tuple[StepName, ...] = ("plan", "scores", "audit", "settle", "submit")


@dataclass(frozen=True)
class Node:
    """One step of the work: three words, and whether it has put out its leaf."""

    step: StepName
    words: str
    done: bool


@dataclass(frozen=True)
class Sent:
    """What the office has of a section."""

    held: Mapping[str, HeldRow]
    posted: bool = False


def stem(course: Course, findings: Sequence[Finding], sent: Sent) -> list[Node]:
    """The five nodes, in the order of the work."""
    return [_plan(course), _scores(course), _audit(findings), _settle(course), _submit(course, sent)]


def _plan(course: Course) -> Node:
    plan = course.plan
    items = sum(1 for _ in plan.items())
    if not items:
        return Node("plan", "no items yet", False)
    if plan.basis == "points":
        return Node("plan", f"{items} items, by points", True)
    total = weight_total(plan)
    return Node("plan", "weights fill 100" if total == HUNDRED else f"{trimmed(total, 2)} of 100", total == HUNDRED)


def blanks(course: Course, due_before: date | None = None) -> int:
    """Blank cells of enrolled students in counting regular items, all or only those due before a day."""
    items = [
        item
        for category in course.plan.categories
        if not category.extra
        for item in category.regular
        if due_before is None or (item.due is not None and item.due < due_before)
    ]
    return sum(course.cell(s.id, item.id) is None for s in course.enrolled() for item in items)


def _scores(course: Course) -> Node:
    if not any(isinstance(cell, Fraction) for cells in course.scores.values() for cell in cells.values()):
        return Node("scores", "no scores yet", False)
    count = blanks(course)
    words = "no blanks left" if not count else "1 blank left" if count == 1 else f"{count} blanks left"
    return Node("scores", words, not count)


def _audit(findings: Sequence[Finding]) -> Node:
    number = counts(findings)
    if not findings:
        return Node("audit", "nothing found", True)
    pressing = [level for level in ("stop", "look") if number[level]] or ["note"]
    words = " · ".join(f"{number[level]} {level}" for level in pressing)  # type: ignore[index]
    return Node("audit", words, not number["stop"] and not number["look"])


def _settle(course: Course) -> Node:
    enrolled = course.enrolled()
    settled = sum(s.id in course.settled for s in enrolled)
    return Node("settle", f"{settled} of {len(enrolled)}", bool(enrolled) and settled == len(enrolled))


def _submit(course: Course, sent: Sent) -> Node:
    if sent.posted:
        return Node("submit", "posted", True)
    enrolled = course.enrolled()
    there = sum(
        sent.held.get(s.id) == sending_row(s.id, course.settled[s.id]) for s in enrolled if s.id in course.settled
    )
    if not there:
        return Node("submit", "nothing sent yet", False)
    return Node("submit", f"{there} of {len(enrolled)} received", there == len(enrolled))
