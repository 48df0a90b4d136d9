"""The audit: one list of checks over a course, each a function that yields findings."""

from vinemark.core.audit.finding import Finding, Level
from vinemark.core.audit.run import CHECKS, audit, checks_run, counts, findings_json

__all__ = ["CHECKS", "Finding", "Level", "audit", "checks_run", "counts", "findings_json"]
