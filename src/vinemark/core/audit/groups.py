"""Findings as a page lists them: the same code for many students is one group, and some of them only where asked."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from vinemark.core.audit.accept import ReviewedFinding
from vinemark.core.audit.finding import Level

GROUPED_FROM = 4


@dataclass(frozen=True)
class FindingGroup:
    """Findings of one code that stand together; a single one is no group."""

    code: str
    level: Level
    findings: Sequence[ReviewedFinding]

    @property
    def many(self) -> bool:
        """Whether it is shown as a group."""
        return len(self.findings) >= GROUPED_FROM

    def holds(self, key: str) -> bool:
        """Whether a finding is in it."""
        return any(one.finding.key == key for one in self.findings)


@dataclass(frozen=True)
class WantedFindings:
    """Which findings to list: of a level, of a code, about a student; empty texts for all."""

    level: str = ""
    code: str = ""
    student: str = ""

    def wants(self, one: ReviewedFinding) -> bool:
        """Whether a finding is listed."""
        finding = one.finding
        return (
            self.level in {"", finding.level}
            and self.code in {"", finding.code}
            and self.student in {"", finding.student}
        )


def finding_groups(reviewed: Sequence[ReviewedFinding]) -> list[FindingGroup]:
    """Findings in their order, those of one code together; accepted ones apart, at the end."""
    ordered = sorted(reviewed, key=lambda one: one.acceptance is not None)
    return [
        FindingGroup(code, level, list(found))
        for (_, level, code), found in groupby(
            ordered, key=lambda one: (one.acceptance is not None, one.finding.level, one.finding.code)
        )
    ]
