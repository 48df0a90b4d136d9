"""Runs every check, in one order."""

from collections import Counter
from collections.abc import Collection, Iterable, Iterator
from datetime import date

from vinemark.core.audit.codes import CODES, Code
from vinemark.core.audit.finding import LEVELS, Facts, Finding, Level
from vinemark.core.course.course import Course

FINDINGS_FORMAT = "vine-mark-findings/1"


def audit(course: Course, as_of: date, submitting: bool = False) -> list[Finding]:
    """Every finding of a course on a day; `submitting` counts every grade that is not settled."""
    return audit_facts(Facts(course, as_of, submitting))


def audit_facts(facts: Facts, codes: Collection[str] = CODES.keys()) -> list[Finding]:
    """The findings of some codes, `stop` first, then `look`, then `note`."""
    found = [finding for code in CODES.values() if code.code in codes for finding in _findings(code, facts)]
    return sorted(found, key=lambda finding: LEVELS.index(finding.level))


def _findings(code: Code, facts: Facts) -> Iterator[Finding]:
    for found in code.check(facts):
        yield Finding(**vars(found), code=code.code, level=code.level, step=code.step)


def findings_json(findings: Iterable[Finding]) -> dict[str, object]:
    """The findings as the format `vine-mark-findings/1` spells them."""
    keys = ("code", "level", "student", "category", "item", "message")
    return {
        "format": FINDINGS_FORMAT,
        "findings": [{key: getattr(finding, key) for key in keys} for finding in findings],
    }


def counts(findings: Iterable[Finding]) -> dict[Level, int]:
    """How many findings of each level."""
    found = Counter(finding.level for finding in findings)
    return {level: found[level] for level in LEVELS}
