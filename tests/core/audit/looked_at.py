"""A course looked at by the audit, in short."""

from datetime import date

from tests.builders import AFTER, category, plan
from vinemark.core.audit import Finding, audit
from vinemark.core.course.course import Course

GOOD = plan(category("10", "10"))
FULL = {"ada": ["9", "8"], "bo": ["7", "7"]}


def found(of: Course, as_of: date = AFTER, submitting: bool = False) -> list[tuple[str, str | None]]:
    """Code and student or category of every finding."""
    return [(f.code, f.student or f.category) for f in audit(of, as_of, submitting)]


def of_code(of: Course, code: str, as_of: date = AFTER) -> list[Finding]:
    """The findings of one code."""
    return [f for f in audit(of, as_of) if f.code == code]


def only(of: Course, code: str) -> Finding:
    """The one finding of a code."""
    (finding,) = of_code(of, code)
    return finding
