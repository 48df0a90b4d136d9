"""The audit: one list of checks over a course, each a function that yields findings."""

from vinemark.core.audit.finding import Finding, Level
from vinemark.core.audit.run import audit, checks_run, counts

__all__ = ["Finding", "Level", "audit", "checks_run", "counts"]
