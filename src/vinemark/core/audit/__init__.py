"""The audit: one list of codes, each with a check over a course that yields findings."""

from vinemark.core.audit.codes import CODES
from vinemark.core.audit.finding import LEVEL_NAMES, LEVELS, Finding, Level, level_words
from vinemark.core.audit.run import audit, audit_facts, counts, findings_json

__all__ = [
    "CODES",
    "LEVELS",
    "LEVEL_NAMES",
    "Finding",
    "Level",
    "audit",
    "audit_facts",
    "counts",
    "findings_json",
    "level_words",
]
