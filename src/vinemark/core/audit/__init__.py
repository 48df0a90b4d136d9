"""The audit: one list of checks over a course, each a function that yields findings."""

from vinemark.core.audit.finding import Finding, Level
from vinemark.core.audit.run import CHECKS, as_json, audit, checks_run, counts

__all__ = ["CHECKS", "Finding", "Level", "as_json", "audit", "checks_run", "counts"]
