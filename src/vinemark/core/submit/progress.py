"""Where a section stands on its way to the registrar: the five nodes of the stem."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from vinemark.core.audit import LEVELS, Finding, Level, counts, level_words
from vinemark.core.base.number import trimmed
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import HUNDRED, weight_total
from vinemark.core.submit.grade_row import GradeRow, grade_row
from vinemark.core.submit.submission import AtRegistrar

StepName = Literal["plan", "scores", "audit", "settle", "submit"]
STEPS: tuple[StepName, ...] = ("plan", "scores", "audit", "settle", "submit")


@dataclass(frozen=True)
class Node:
    """One step of the work: three words, and whether it has put out its leaf."""

    step: StepName
    words: str
    done: bool


def stem(course: Course, findings: Sequence[Finding], sent: AtRegistrar) -> list[Node]:
    """The five nodes, in the order of the work."""
    return stem_around(course, audit_node(course, findings), sent)


def stem_around(course: Course, audit: Node, sent: AtRegistrar) -> list[Node]:
    """The five nodes where that of the audit is at hand."""
    return [_plan(course), _scores(course), audit, _settle(course), _submit(course, sent)]


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
    recorded = course.tally.recorded
    count = len(items) * len(course.enrolled()) - sum(recorded.get(item.id, 0) for item in items)
    return count if due_before is None else count - _not_due_yet(course, {item.id for item in items}, due_before)


def _not_due_yet(course: Course, items: Collection[str], due_before: date) -> int:
    """Blanks of some items that single students have more time for."""
    return sum(
        item in items and due >= due_before and course.cell(student, item) is None
        for student, dates in course.extended.items() if student in course.enrolled_ids
        for item, due in dates.items()
    )  # fmt: skip


def _scores(course: Course) -> Node:
    if not course.tally.scored:
        return Node("scores", "no scores yet", False)
    count = blanks(course)
    words = "no blanks left" if not count else "1 blank left" if count == 1 else f"{count} blanks left"
    return Node("scores", words, not count)


def nothing_to_check(course: Course) -> bool:
    """Whether there is no grade yet that an audit could find right or wrong."""
    return not course.students or not any(True for _ in course.plan.items())


def audit_node(course: Course, findings: Sequence[Finding]) -> Node:
    """What an audit found, in a few words."""
    number = counts(findings)
    if not findings and nothing_to_check(course):
        return Node("audit", "nothing to check yet", False)
    if not findings:
        return Node("audit", "nothing found", True)
    pressing: Sequence[Level] = [level for level in LEVELS[:2] if number[level]] or LEVELS[2:]
    words = " · ".join(level_words(level, number[level]) for level in pressing)
    return Node("audit", words, not number["stop"] and not number["look"])


def _settle(course: Course) -> Node:
    enrolled = course.enrolled()
    settled = sum(s.id in course.settled for s in enrolled)
    return Node("settle", f"{settled} of {len(enrolled)}", bool(enrolled) and settled == len(enrolled))


def _submit(course: Course, sent: AtRegistrar) -> Node:
    if _alarm(sent):
        return Node("submit", _alarm(sent), False)
    if sent.posted:
        return Node("submit", "posted", True)
    there = _received(course, sent)
    if not there:
        return Node("submit", "nothing sent yet", False)
    enrolled = len(course.enrolled())
    return Node("submit", f"{there} of {enrolled} received", there == enrolled)


def _alarm(sent: AtRegistrar) -> str:
    """What went wrong after grades were received, in a few words; empty where nothing did."""
    if sent.differing:
        return f"{sent.differing} differ there"
    return f"{sent.drifted} changed after submitting" if sent.drifted else ""


def _settled_rows(course: Course) -> list[GradeRow]:
    return [grade_row(course, s.id, course.settled[s.id]) for s in course.enrolled() if s.id in course.settled]


def _received(course: Course, sent: AtRegistrar) -> int:
    """Enrolled students of whom the registrar was seen to have the settled grade, or what it made of it by a
    fallback."""
    if not sent.seen and not sent.fell_back:
        return 0
    return sum(row.id in sent.fell_back or sent.has(row) for row in _settled_rows(course))


MarkName = Literal["plan", "scores", "audit", "settled", "signed", "received", "posted", "open"]


@dataclass(frozen=True)
class Milestone:
    """One mark on the way of a run: its name, its words, whether it is reached, and the step that leads there."""

    name: MarkName
    words: str
    done: bool
    step: StepName


@dataclass(frozen=True)
class RunFacts:
    """What is known of a run beside the course: how many rules of the syllabus are open (None without a syllabus),
    the open findings, how many rows are signed, what the registrar has, and since when students see the grades."""

    unmatched: int | None
    findings: Sequence[Finding]
    signed: int
    sent: AtRegistrar
    opened: bool


def milestones(course: Course, facts: RunFacts) -> list[Milestone]:
    """The marks of a run. `course` is that run's; a midterm run has none for plan, scores and audit."""
    nodes = {node.step: node for node in stem(course, facts.findings, facts.sent)}
    enrolled, settled = len(course.enrolled()), nodes["settle"]
    received = _received(course, facts.sent)
    signed = f"{facts.signed} signed" if facts.signed else "not yet"
    late = [
        Milestone("settled", settled.words, settled.done, "settle"),
        Milestone("signed", signed, 0 < enrolled <= facts.signed, "submit"),
        Milestone("received", f"{received} of {enrolled}", 0 < enrolled == received, "submit"),
        Milestone("posted", "yes" if facts.sent.posted else "not yet", facts.sent.posted, "submit"),
        Milestone("open", "visible to students" if facts.opened else "hidden", facts.opened, "settle"),
    ]
    if course.run == "midterm":
        return late
    early = [_matched(nodes["plan"], facts.unmatched)]
    early += [Milestone(step, nodes[step].words, nodes[step].done, step) for step in ("scores", "audit")]
    return early + late


def _matched(plan: Node, unmatched: int | None) -> Milestone:
    if not plan.done:
        return Milestone("plan", plan.words, False, "plan")
    if unmatched is None:
        return Milestone("plan", "no syllabus", False, "plan")
    words = f"{unmatched} rule{'s' if unmatched > 1 else ''} to settle" if unmatched else "matched"
    return Milestone("plan", words, not unmatched, "plan")


def left_step(course: Course, sent: AtRegistrar) -> StepName:
    """The step where what is left of a run is done: grades are settled first, all else is done on Submit."""
    open_ = any(s.id not in course.settled for s in course.enrolled())
    return "settle" if open_ and not _alarm(sent) else "submit"


def left_words(course: Course, sent: AtRegistrar, closed: bool = False) -> str:
    """What is left to do in a run, in words; empty where nothing is. Withdrawn students are nothing left to do.

    Once the registrar closed the run, what did not reach it is only counted.
    """
    if _alarm(sent):
        return _alarm(sent)
    if sent.posted:
        return ""
    enrolled = course.enrolled()
    open_ = sum(s.id not in course.settled for s in enrolled)
    to_check = sum(sent.answered(row) for row in _settled_rows(course))
    to_send = len(enrolled) - open_ - to_check - _received(course, sent)
    parts = [(open_ + to_send, "not sent")] if closed else [(open_, "to settle"), (to_send, "to send")]
    parts.append((to_check, "to check"))
    return ", ".join(f"{count} {what}" for count, what in parts if count)
