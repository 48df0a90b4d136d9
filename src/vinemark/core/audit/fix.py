"""The one act that mends a finding, where one act is right; each is the instructor's to press."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from vinemark.core.audit.checks.plan import better_category
from vinemark.core.audit.finding import Finding
from vinemark.core.base.number import exact_text
from vinemark.core.course.course import Cell, Course, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.codes import computed_code
from vinemark.core.plan.edit import change_category, set_rule
from vinemark.core.plan.items import file_item
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan, weight_total
from vinemark.core.scores.last_work import last_work


@dataclass(frozen=True)
class Fix:
    """What a button says, and what it does: edit the plan, write cells, settle, or add from the roster."""

    words: str
    plan: Callable[[Plan], Plan] | None = None
    cells: Mapping[tuple[str, str], Cell] = field(default_factory=dict)
    settled: Mapping[str, Settled | None] = field(default_factory=dict)
    add: str | None = None


def fix_of(course: Course, finding: Finding, as_of: date) -> Fix | None:
    """The mend of a finding; None where somebody has to look first."""
    make = FIXES.get(finding.code)
    return make(course, finding, as_of) if make else None


def _item(course: Course, finding: Finding) -> tuple[Category, Item]:
    item = course.plan.item(finding.item or "")
    assert item is not None  # noqa: S101
    return course.plan.category_of(item.id), item


def _weights_off(course: Course, finding: Finding, as_of: date) -> Fix | None:
    """Give what is open, where one category lacks it in a plan that was meant to fill 100."""
    open_ = HUNDRED - weight_total(course.plan)
    empty = [c for c in course.plan.categories if not c.extra and not c.weight]
    if open_ <= 0 or len(empty) != 1:
        return None
    lacking = empty[0]
    return Fix(
        f"Give {exact_text(open_)} to {lacking.name}",
        lambda plan: change_category(plan, lacking.id, lambda c: replace(c, weight=open_)),
    )


def _blank_waits(course: Course, finding: Finding, as_of: date) -> Fix:
    def count_zero(plan: Plan) -> Plan:
        for category in plan.categories:
            if not category.extra and category.blanks != "zero":
                plan = set_rule(plan, category.id, "blanks", "zero")
        return plan

    return Fix("Count blanks as 0 in every category", count_zero)


def _misfiled(course: Course, finding: Finding, as_of: date) -> Fix | None:
    category, item = _item(course, finding)
    other = better_category(course.plan, category, item)
    if other is None:
        return None
    return Fix(f"Move it to {other.name}", lambda plan: file_item(plan, item.id, other.id))


def _item_planned(course: Course, finding: Finding, as_of: date) -> Fix:
    return Fix("Let it count", _with_item(course, finding, lambda i: replace(i, counts=True)))


def _extra_unmarked(course: Course, finding: Finding, as_of: date) -> Fix | None:
    if finding.item is None:
        return None
    return Fix("Make it extra credit", _with_item(course, finding, lambda i: replace(i, extra=True)))


def _column_blank(course: Course, finding: Finding, as_of: date) -> Fix:
    return Fix("Make it only planned", _with_item(course, finding, lambda i: replace(i, counts=False)))


def _with_item(course: Course, finding: Finding, change: Callable[[Item], Item]) -> Callable[[Plan], Plan]:
    category, item = _item(course, finding)

    def changed(of: Category) -> Category:
        return replace(of, items=tuple(change(i) if i.id == item.id else i for i in of.items))

    return lambda plan: change_category(plan, category.id, changed)


def _slipped_key(course: Course, finding: Finding, as_of: date) -> Fix:
    _, item = _item(course, finding)
    student = finding.student or ""
    score = course.cell(student, item.id)
    assert not isinstance(score, str | None)  # noqa: S101
    meant = score / 10 if score > item.points else score * 10
    return Fix(f"Make it {exact_text(meant)}", cells={(student, item.id): meant})


def _over_points(course: Course, finding: Finding, as_of: date) -> Fix:
    _, item = _item(course, finding)
    return Fix(f"Make it {exact_text(item.points)}", cells={(finding.student or "", item.id): item.points})


def _not_in_section(course: Course, finding: Finding, as_of: date) -> Fix:
    return Fix("Add to the section", add=finding.student)


def _withdrawn_graded(course: Course, finding: Finding, as_of: date) -> Fix:
    return Fix("Take the grade away", settled={finding.student or "": None})


def _settled_differs(course: Course, finding: Finding, as_of: date) -> Fix | None:
    student = finding.student or ""
    code = computed_code(course, student, grade_of(course, student, as_of))
    return None if code is None else Fix(f"Settle as computed: {code}", settled={student: Settled(code)})


def _needs_last_attended(course: Course, finding: Finding, as_of: date) -> Fix | None:
    student = finding.student or ""
    settled, work = course.settled[student], last_work(course, student, as_of)
    if work is None or work.due is None:
        return Fix("Never attended", settled={student: replace(settled, never_attended=True)})
    words = f"Last attended {work.due.day} {work.due:%b %Y}"
    return Fix(words, settled={student: replace(settled, last_attended=work.due)})


FIXES: Mapping[str, Callable[[Course, Finding, date], Fix | None]] = {
    "weights-off": _weights_off,
    "blank-waits": _blank_waits,
    "misfiled": _misfiled,
    "item-planned": _item_planned,
    "extra-unmarked": _extra_unmarked,
    "column-blank": _column_blank,
    "slipped-key": _slipped_key,
    "over-points": _over_points,
    "not-in-section": _not_in_section,
    "withdrawn-graded": _withdrawn_graded,
    "settled-differs": _settled_differs,
    "needs-last-attended": _needs_last_attended,
}
