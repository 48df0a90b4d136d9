"""Every code of the audit, declared once: how much it matters, its name in words, its check, its step and its fix."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from vinemark.core.audit import fix
from vinemark.core.audit.checks import (
    cells,
    columns,
    days,
    decided,
    figures,
    grades,
    idle_rules,
    odd_rules,
    ordering,
    plan,
    roster,
    rows,
    rules,
    scores,
)
from vinemark.core.audit.finding import Facts, Finding, Found, Level, Step
from vinemark.core.audit.fix import Fix
from vinemark.core.course.course import Course

Check = Callable[[Facts], Iterator[Found]]
MakeFix = Callable[[Course, Finding], Fix | None]
Detail = Literal["plan", "category", "item", "student"]
Redo = Literal["nothing", "rows", "columns", "both", "all"]
Premise = Callable[[Facts], object]


@dataclass(frozen=True)
class Code:
    """A code: its level, the finest thing that its findings are about, its name in words, its check, its fix.

    `redo` is what of it an edit of cells or settled grades can change: nothing, the findings of the students or of the
    items that it touched, of both, or any. `premise` is what of the whole class its findings rest on: where that is
    another than before, all of them are looked at again. `or_else` is another choice beside the fix; `for_all` is an
    act on the plan that is only offered where many have the finding.
    """

    code: str
    level: Level
    detail: Detail
    name: str
    check: Check
    redo: Redo
    fix: MakeFix | None = None
    premise: Premise | None = None
    or_else: MakeFix | None = None
    for_all: MakeFix | None = None

    @property
    def step(self) -> Step:
        """The page where its findings are fixed."""
        return _STEPS[self.check.__module__.rpartition(".")[2]]


_STEPS: Mapping[str, Step] = {
    "plan": "plan", "rules": "plan", "odd_rules": "plan", "figures": "plan", "idle_rules": "plan", "scores": "scores",
    "rows": "scores", "columns": "scores", "cells": "scores", "ordering": "scores", "days": "scores",
    "roster": "settle", "grades": "settle", "decided": "settle",
}  # fmt: skip

_DECLARED = (
    Code("weights-off", "stop", "plan", "Weights do not add to 100", plan.weights_off,
         "nothing", fix.give_what_is_open),
    Code("weight-zero", "look", "category", "Category with a weight of 0", plan.weight_zero, "nothing"),
    Code("category-empty", "stop", "category", "Category without items", plan.category_empty, "nothing"),
    Code("shares-off", "stop", "category", "Percentages of items do not add to 100", plan.shares_off, "nothing"),
    Code("extra-unmarked", "look", "item", "Extra credit not marked", plan.extra_unmarked,
         "nothing", fix.make_item_extra),
    Code("misfiled", "look", "item", "Item in the wrong category", plan.misfiled, "nothing", fix.moving_item),
    Code("drop-too-many", "look", "category", "Too many drops", plan.drop_too_many, "nothing"),
    Code("drop-unfair", "note", "category", "Another drop would help more", plan.drop_unfair, "all"),
    Code("item-planned", "look", "item", "Item that does not count yet", plan.item_planned,
         "columns", fix.let_item_count),
    Code("same-name", "look", "item", "Same name twice", plan.same_name_twice, "nothing"),
    Code("scale-hole", "stop", "plan", "Gap in the letter scale", plan.scale_hole, "nothing"),
    Code("plan-differs", "look", "category", "Plan differs from the syllabus", plan.plan_differs, "nothing"),
    Code("drop-unsaid", "note", "category", "Drop that the syllabus does not say", plan.drop_unsaid, "nothing"),
    Code("cap-odd", "look", "category", "Cap far from 100", odd_rules.cap_odd, "nothing"),
    Code("due-outside", "look", "item", "Due outside the term", odd_rules.due_outside, "nothing"),
    Code("scale-odd", "look", "plan", "Odd letter scale", odd_rules.scale_odd, "nothing"),
    Code("points-odd", "look", "item", "Points unlike the others", figures.points_odd, "all"),
    Code("due-unordered", "look", "item", "Due out of turn", figures.due_unordered, "nothing"),
    Code("number-missing", "note", "category", "Number missing in a series", figures.number_missing, "nothing"),
    Code("name-left", "look", "item", "Name left behind", figures.name_left, "nothing"),
    Code("extra-odd", "look", "item", "Extra credit among regular work", figures.extra_odd, "nothing"),
    Code("items-elsewhere", "look", "category", "Items of another category", plan.items_elsewhere, "nothing"),
    Code("late-rule-odd", "look", "category", "Odd rule for late work", idle_rules.late_rule_odd, "nothing"),
    Code("replaces-all", "look", "category", "One score replaces a category", idle_rules.replaces_all, "nothing"),
    Code("share-zero", "look", "item", "Item that counts for nothing", figures.share_zero, "nothing"),
    Code("extra-heavy", "look", "item", "Much extra credit", figures.extra_heavy, "nothing"),
    Code("scale-gap", "look", "plan", "Odd step of the letter scale", figures.scale_gap, "nothing"),
    Code("scale-base", "look", "plan", "Scale that is not in percent", figures.scale_base, "nothing"),
    Code("symbols-odd", "look", "category", "Odd value of a symbol", figures.symbols_odd, "nothing"),
    Code("rule-idle", "look", "category", "Rule that does nothing", idle_rules.rule_idle, "nothing"),
    Code("lowered-many", "look", "plan", "Requirement that most do not meet", rules.lowered_many, "all"),
    Code("adjusted-far", "look", "student", "Large adjustment", rules.adjusted_far, "nothing"),
    Code("adjusted-most", "note", "plan", "Adjusted one by one", rules.adjusted_most, "nothing"),
    Code("drops-highest", "look", "category", "Highest dropped", odd_rules.drops_highest, "nothing"),
    Code("late-unruled", "look", "category", "Late work without a rule", rules.late_unruled, "all"),
    Code("requirement-blind", "look", "item", "Nothing recorded for a requirement", rules.requirement_blind, "all"),
    Code("promise-open", "look", "plan", "Promise of the syllabus not in the plan", rules.promise_open, "all"),
    Code("column-shifted", "look", "student", "Scores in the wrong rows", columns.column_shifted,
         "all", fix.move_scores),
    Code("points-off", "look", "item", "Scores in another base", ordering.points_off, "all"),
    Code("column-sorted", "look", "item", "Scores in order of size", ordering.column_sorted, "all"),
    Code("column-unlike", "look", "item", "Scores that go with nothing else", ordering.column_unlike, "all"),
    Code("column-parted", "look", "item", "Class in two parts", ordering.column_parted, "all"),
    Code("filled-down", "look", "item", "Same score in a row", ordering.filled_down, "all"),
    Code("row-copied", "look", "student", "Two students with the same scores", ordering.row_copied, "all"),
    Code("row-moved", "look", "student", "Scores one item off", ordering.row_moved, "all"),
    Code("part-copied", "look", "item", "Part of a column copied", ordering.part_copied, "all"),
    Code("value-often", "look", "item", "One score very often", ordering.value_often, "all"),
    Code("zeros-of-one", "look", "student", "Zero on a whole category", ordering.zeros_of_one, "all"),
    Code("row-even", "look", "student", "Same score on every item", rows.row_even, "all"),
    Code("zeros-first", "note", "student", "Zeros before the first work", rows.zeros_first, "all"),
    Code("tail-blank", "look", "item", "End of the list blank", ordering.tail_blank, "all"),
    Code("slips-many", "look", "student", "Several scores ten times too low", ordering.slips_many, "all"),
    Code("zero-early", "look", "category", "Blanks of work to come count as 0", days.zero_early, "all"),
    Code("late-odd", "look", "student", "More late days than there were", days.late_odd, "rows",
         premise=days.late_far),
    Code("due-later", "look", "item", "Scored before it is due", days.due_later, "columns"),
    Code("extension-odd", "look", "student", "Odd due date of one student", days.extension_odd, "nothing"),
    Code("count-odd", "look", "student", "Count far above the others", days.count_odd, "all"),
    Code("column-copied", "look", "item", "Same scores twice", columns.column_copied, "all"),
    Code("adjusted-twice", "look", "item", "Adjusted twice", columns.adjusted_twice, "nothing"),
    Code("half-entered", "look", "item", "Scores for a part of the class", columns.half_entered, "all"),
    Code("exempt-many", "look", "student", "Many exempt", columns.exempt_many, "all"),
    Code("all-missing", "look", "item", "Missing for nearly everybody", columns.all_missing, "all"),
    Code("zeros-many", "look", "item", "Many zeros", columns.zeros_many, "all"),
    Code("code-as-number", "look", "student", "Code typed as a score", cells.code_as_number, "all"),
    Code("over-points", "look", "student", "Score above the points possible", scores.over_points,
         "columns", fix.write_amount),
    Code("slipped-key", "look", "student", "Possible typing slip", scores.slipped_key, "both", fix.write_amount),
    Code("outlier", "look", "student", "Score out of line", cells.outlier, "all"),
    Code("column-blank", "look", "item", "Item without scores", scores.columns_blank, "columns", fix.make_item_planned),
    Code("column-same", "note", "item", "Same score for everyone", scores.column_same, "columns"),
    Code("blank-waits", "look", "student", "Blanks not counted", scores.blank_waits,
         "rows", fix.make_blanks_missing, scores.columns_of_no_student,
         fix.make_blanks_exempt, fix.count_blanks_as_zero),
    Code("no-work", "look", "student", "No work at all", scores.no_work, "rows", premise=scores.half_at_work),
    Code("stopped", "note", "student", "Stopped handing in", scores.stopped, "rows", premise=scores.given_items),
    Code("not-enrolled", "stop", "student", "Not on the roster", roster.not_enrolled, "rows"),
    Code("not-in-section", "stop", "student", "Not in the section", roster.not_in_section,
         "nothing", fix.adding_from_roster),
    Code("withdrawn-graded", "stop", "student", "Graded though withdrawn", roster.withdrawn_graded,
         "rows", fix.remove_grade),
    Code("name-differs", "note", "student", "Name differs from the roster", roster.name_differs, "nothing"),
    Code("twin", "look", "student", "Possibly one person twice", roster.twin, "nothing"),
    Code("aside-working", "look", "student", "Set aside, with all the work", roster.aside_working, "all"),
    Code("row-no-person", "look", "student", "Row that is no student", rows.row_no_person, "nothing"),
    Code("id-odd", "look", "student", "ID unlike the others", roster.id_odd, "nothing"),
    Code("adjusted-bare", "look", "student", "Adjustment without a reason", rules.adjusted_bare, "nothing"),
    Code("requirement-lowers", "note", "student", "Requirement lowers the letter", grades.requirement_lowers, "rows"),
    Code("percent-high", "note", "student", "Above 100 without extra credit", decided.percent_high, "rows"),
    Code("near-cutoff", "note", "student", "Just below a cutoff", grades.near_cutoff, "rows"),
    Code("rounding-decides", "note", "student", "Rounding decides the letter", grades.rounding_decides, "rows"),
    Code("unsettled", "stop", "student", "No settled grade", grades.unsettled, "rows", premise=grades.anything_settled),
    Code("settled-differs", "look", "student", "Settled with another grade, no reason", grades.settled_differs,
         "rows", fix.settle_as_computed),
    Code("order-broken", "look", "student", "Higher percent, lower letter", grades.order_broken, "all"),
    Code("settled-moved", "look", "student", "Grades settled a row off", decided.settled_moved, "all"),
    Code("raised-far", "note", "student", "Settled far above computed", decided.raised_far, "rows"),
    Code("reason-bare", "note", "student", "Reason that says nothing", decided.reason_bare, "rows"),
    Code("code-refused", "stop", "student", "Code that is not accepted", grades.code_refused, "rows"),
    Code("needs-last-attended", "stop", "student", "Last date of attendance missing", grades.needs_last_attended,
         "rows", fix.write_last_attended),
    Code("attended-contradicts", "stop", "student", "Never attended, with work", grades.attended_contradicts, "rows"),
    Code("grade-without-work", "look", "student", "Passing grade without work", grades.grade_without_work, "rows"),
    Code("attended-outside", "stop", "student", "Last date of attendance outside the term", grades.attended_outside,
         "rows"),
    Code("attended-early", "look", "student", "Work after the last date of attendance", decided.attended_early, "rows"),
    Code("fallback-above", "look", "student", "Fallback above the computed grade", decided.fallback_above, "rows"),
    Code("owes-nothing", "note", "student", "Incomplete without work owed", decided.owes_nothing, "rows"),
    Code("drift-between", "look", "student", "Changed since signing", decided.drift_between, "rows"),
    Code("lowered", "note", "student", "Settled below computed", decided.settled_below, "rows"),
    Code("needs-fallback", "stop", "student", "Incomplete: something missing", grades.needs_fallback, "rows"),
    Code("finish-by-outside", "stop", "student", "Finish-by date out of range", grades.finish_by_outside, "rows"),
)  # fmt: skip

CODES: Mapping[str, Code] = {code.code: code for code in _DECLARED}
"""Every code in the order in which its check runs."""


def fixes_of(course: Course, finding: Finding) -> list[Fix]:
    """The choices of one act that fix a finding; none where somebody has to look first."""
    code = CODES[finding.code]
    made = (make(course, finding) for make in (code.fix, code.or_else) if make)
    return [fix for fix in made if fix is not None]


def fix_for_all(course: Course, finding: Finding) -> Fix | None:
    """The act on the plan that fixes all findings of its kind, where there is one."""
    make = CODES[finding.code].for_all
    return make(course, finding) if make else None
