"""Runs every check, in one order."""

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from datetime import date

from vinemark.core.audit import grade_checks, plan_checks, roster_checks, score_checks
from vinemark.core.audit.finding import LEVELS, Facts, Finding, Level
from vinemark.core.course import Course
from vinemark.core.syllabus import Reading

Check = Callable[[Facts], Iterator[Finding]]

CHECKS: Sequence[Check] = (
    plan_checks.weights_off,
    plan_checks.category_empty,
    plan_checks.scale_hole,
    plan_checks.plan_differs,
    score_checks.over_points,
    score_checks.blank_waits,
    roster_checks.not_enrolled,
    roster_checks.not_in_section,
    grade_checks.unsettled,
    grade_checks.needs_last_attended,
)


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
    found = [finding for check in CHECKS for finding in check(facts)]
    return sorted(found, key=lambda finding: LEVELS.index(finding.level))


def checks_run() -> int:
    """How many checks there are."""
    return len(CHECKS)


def counts(findings: Iterable[Finding]) -> dict[Level, int]:
    """How many findings of each level."""
    found = Counter(finding.level for finding in findings)
    return {level: found[level] for level in LEVELS}
