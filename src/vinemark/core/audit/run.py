"""Runs every check, in one order."""

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from datetime import date

from vinemark.core.audit.checks import (
    grades as grade_checks,
)
from vinemark.core.audit.checks import (
    plan as plan_checks,
)
from vinemark.core.audit.checks import (
    roster as roster_checks,
)
from vinemark.core.audit.checks import (
    scores as score_checks,
)
from vinemark.core.audit.finding import LEVELS, Facts, Finding, Level
from vinemark.core.course.course import Course
from vinemark.core.syllabus import Reading

FINDINGS_FORMAT = "vine-mark-findings/1"

Check = Callable[[Facts], Iterator[Finding]]

CHECKS: Mapping[str, Check] = {
    "weights-off": plan_checks.weights_off,
    "weight-zero": plan_checks.weight_zero,
    "category-empty": plan_checks.category_empty,
    "shares-off": plan_checks.shares_off,
    "extra-unmarked": plan_checks.extra_unmarked,
    "misfiled": plan_checks.misfiled,
    "drop-too-many": plan_checks.drop_too_many,
    "drop-unfair": plan_checks.drop_unfair,
    "item-planned": plan_checks.item_planned,
    "same-name": plan_checks.same_name_twice,
    "scale-hole": plan_checks.scale_hole,
    "plan-differs": plan_checks.plan_differs,
    "over-points": score_checks.over_points,
    "slipped-key": score_checks.slipped_key,
    "column-blank": score_checks.columns_blank,
    "column-same": score_checks.column_same,
    "blank-waits": score_checks.blank_waits,
    "no-work": score_checks.no_work,
    "stopped": score_checks.stopped,
    "not-enrolled": roster_checks.not_enrolled,
    "not-in-section": roster_checks.not_in_section,
    "withdrawn-graded": roster_checks.withdrawn_graded,
    "name-differs": roster_checks.name_differs,
    "twin": roster_checks.twin,
    "near-cutoff": grade_checks.near_cutoff,
    "rounding-decides": grade_checks.rounding_decides,
    "unsettled": grade_checks.unsettled,
    "settled-differs": grade_checks.settled_differs,
    "order-broken": grade_checks.order_broken,
    "code-refused": grade_checks.code_refused,
    "needs-last-attended": grade_checks.needs_last_attended,
    "attended-contradicts": grade_checks.attended_contradicts,
    "grade-without-work": grade_checks.grade_without_work,
    "attended-outside": grade_checks.attended_outside,
    "needs-fallback": grade_checks.needs_fallback,
    "finish-by-outside": grade_checks.finish_by_outside,
}


def audit(
    course: Course,
    as_of: date,
    submitting: bool = False,
    reading: Reading | None = None,
    noted: Collection[str] = (),
) -> list[Finding]:
    """Every finding, `stop` first, then `look`, then `note`. `submitting` counts unsettled always.

    `reading` is what the syllabus says where it was corrected by hand; `noted` are keys of its rules that may differ.
    """
    facts = Facts(course, as_of, submitting, reading, noted)
    found = [finding for check in CHECKS.values() for finding in check(facts)]
    return sorted(found, key=lambda finding: LEVELS.index(finding.level))


def findings_json(findings: Iterable[Finding]) -> dict[str, object]:
    """The findings as the format `vine-mark-findings/1` spells them."""
    keys = ("code", "level", "student", "category", "item", "message")
    return {
        "format": FINDINGS_FORMAT,
        "findings": [{key: getattr(finding, key) for key in keys} for finding in findings],
    }


def checks_run() -> int:
    """How many checks there are."""
    return len(CHECKS)


def counts(findings: Iterable[Finding]) -> dict[Level, int]:
    """How many findings of each level."""
    found = Counter(finding.level for finding in findings)
    return {level: found[level] for level in LEVELS}
