"""The one act that fixes a finding, where one act is right; it works out nothing that the check worked out."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction

from vinemark.core.audit.finding import Finding
from vinemark.core.audit.fit import Fit
from vinemark.core.audit.score_table import score_table
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text
from vinemark.core.course.cell import Cell, DetailedScore, scored
from vinemark.core.course.course import Course, Settled
from vinemark.core.plan.edit import change_category, set_rule
from vinemark.core.plan.items import file_item
from vinemark.core.plan.plan import Item, Plan

GAPS_TRIED = 8
"""So many gaps of a displaced column, from the row on that was named, are tried."""


@dataclass(frozen=True)
class Fix:
    """What a button says, and what it does: edit the plan, write cells, settle, or add from the roster."""

    words: str
    plan: Callable[[Plan], Plan] | None = None
    cells: Mapping[tuple[str, str], Cell] = field(default_factory=dict)
    settled: Mapping[str, Settled | None] = field(default_factory=dict)
    add: str | None = None


def give_what_is_open(course: Course, finding: Finding) -> Fix | None:
    """Give the open weight to the one category that lacks it in a plan that was meant to fill 100."""
    category, amount = course.plan.category(finding.facts.target), finding.facts.amount
    if category is None or amount is None:
        return None
    return Fix(
        f"Give {exact_text(amount)} to {category.name}",
        lambda plan: change_category(plan, category.id, lambda c: replace(c, weight=amount)),
    )


def count_blanks_as_zero(course: Course, finding: Finding) -> Fix:
    """Count blanks as 0 in every category."""

    def count_zero(plan: Plan) -> Plan:
        for category in plan.categories:
            if not category.extra and category.blanks != "zero":
                plan = set_rule(plan, category.id, "blanks", "zero")
        return plan

    return Fix("Count blanks as 0 in every category", count_zero)


def make_blanks_missing(course: Course, finding: Finding) -> Fix:
    """Make the blanks of one student missing."""
    return _fill_blanks(finding, "missing")


def make_blanks_exempt(course: Course, finding: Finding) -> Fix:
    """Exempt one student from what is blank."""
    return _fill_blanks(finding, "exempt")


def _fill_blanks(finding: Finding, cell: Cell) -> Fix:
    items = finding.facts.items
    words = f"Make it {cell}" if len(items) == 1 else f"Make all {len(items)} {cell}"
    return Fix(words, cells={(finding.student or "", item): cell for item in items})


def moving_item(course: Course, finding: Finding) -> Fix | None:
    """Move a misfiled item to the category that its name fits."""
    other, item = course.plan.category(finding.facts.target), finding.item or ""
    if other is None:
        return None
    return Fix(f"Move it to {other.name}", lambda plan: file_item(plan, item, other.id))


def let_item_count(course: Course, finding: Finding) -> Fix:
    """Let a planned item count."""
    return Fix("Make it count", _with_item(finding, lambda item: replace(item, counts=True)))


def make_item_extra(course: Course, finding: Finding) -> Fix | None:
    """Make an item extra credit, where it is an item that is not marked so."""
    if finding.item is None:
        return None
    return Fix("Make it extra credit", _with_item(finding, lambda item: replace(item, extra=True)))


def make_item_planned(course: Course, finding: Finding) -> Fix:
    """Let an item without one score not count yet."""
    return Fix("Make it not count yet", _with_item(finding, lambda item: replace(item, counts=False)))


def _with_item(finding: Finding, change: Callable[[Item], Item]) -> Callable[[Plan], Plan]:
    def edit(plan: Plan) -> Plan:
        return change_category(
            plan,
            finding.category or "",
            lambda c: replace(c, items=tuple(change(i) if i.id == finding.item else i for i in c.items)),
        )

    return edit


def write_amount(course: Course, finding: Finding) -> Fix:
    """Write the score that was probably meant."""
    meant = finding.facts.amount or Fraction(0)
    place = (finding.student or "", finding.item or "")
    now = course.cell(*place)
    cell = scored(meant, now.late) if isinstance(now, DetailedScore) else meant
    return Fix(f"Make it {exact_text(meant)}", cells={place: cell})


def move_scores(course: Course, finding: Finding) -> Fix | None:
    """Put scores that stand in the wrong rows where they fit: two exchanged, or a column moved by a row.

    A column is only moved where no score would be written over or lost.
    """
    item = finding.item or ""
    if finding.student is not None:
        pair = (finding.student, finding.facts.target)
        cells = [course.cell(student, item) for student in pair]
        return Fix("Exchange the two", cells={(s, item): cell for s, cell in zip(pair, reversed(cells), strict=True)})
    return _move_column(course, finding, item)


def _move_column(course: Course, finding: Finding, item: str) -> Fix | None:
    """Up from the nearest gap with which they fit, down where the last row is empty."""
    rows = [student.id for student in course.students]
    if finding.facts.target not in rows:
        return None
    first, up = rows.index(finding.facts.target), finding.facts.amount == -1
    cells = [course.cell(student, item) for student in rows]
    gaps = sorted((n for n, cell in enumerate(cells) if cell is None), key=lambda n: (abs(n - first), n > first))
    tried = ((gap, [*cells[gap + 1 :], None]) for gap in gaps[:GAPS_TRIED])
    if not up:
        tried = ((first, [None, *cells[first:-1]]) for _ in cells[-1:] if cells[-1] is None)
    for start, moved in tried:
        change = {(student, item): cell for student, cell in zip(rows[start:], moved, strict=True)}
        if not _is_displaced(course.with_cells(change), item):
            return Fix(f"Move the scores one row {'up' if up else 'down'}", cells=change)
    return None


def _is_displaced(course: Course, item: str) -> bool:
    fit = Fit(score_table(course))
    return any(fit.table.columns[fit.places[place]].item.id == item for place in fit.displaced)


def adding_from_roster(course: Course, finding: Finding) -> Fix:
    """Add an enrolled student to the section."""
    return Fix("Add to the section", add=finding.student)


def remove_grade(course: Course, finding: Finding) -> Fix:
    """Remove the settled grade of a student who withdrew."""
    return Fix("Remove the grade", settled={finding.student or "": None})


def settle_as_computed(course: Course, finding: Finding) -> Fix | None:
    """Settle as computed, where a code follows from the computed grade."""
    code = finding.facts.target
    return Fix(f"Settle as computed: {code}", settled={finding.student or "": Settled(code)}) if code else None


def write_last_attended(course: Course, finding: Finding) -> Fix:
    """Write the day of the last work with a score as the last date of attendance; without any, never attended."""
    student, day = finding.student or "", finding.facts.day
    settled = course.settled[student]
    if day is None:
        return Fix("Never attended", settled={student: replace(settled, never_attended=True)})
    return Fix(f"Last attended {day_words(day)}", settled={student: replace(settled, last_attended=day)})
