"""Findings of one code together, and only those that are asked for."""

import pytest

from vinemark.core.audit.accept import Acceptance, ReviewedFinding
from vinemark.core.audit.finding import Finding, Level
from vinemark.core.audit.groups import WantedFindings, finding_groups


def one(code: str, student: str, level: Level = "look", accepted: bool = False) -> ReviewedFinding:
    finding = Finding("", student=student, code=code, level=level, step="scores")
    return ReviewedFinding(finding, Acceptance("", "so", "Mai", "") if accepted else None)


FOUND = [
    one("unsettled", "ada", "stop"), *(one("blank-waits", name) for name in ("ada", "bo", "cy", "di")),
    one("twin", "bo", accepted=True), one("near-cutoff", "bo", "note"), one("blank-waits", "eli", accepted=True),
]  # fmt: skip


def test_findings_of_a_code_are_a_group_and_accepted_ones_come_last() -> None:
    groups = finding_groups(FOUND)
    assert [(group.code, len(group.findings), group.many) for group in groups] == [
        ("unsettled", 1, False), ("blank-waits", 4, True), ("near-cutoff", 1, False), ("twin", 1, False),
        ("blank-waits", 1, False),
    ]  # fmt: skip
    assert groups[1].holds(FOUND[3].finding.key)
    assert not groups[0].holds(FOUND[3].finding.key)


@pytest.mark.parametrize(
    ("wanted", "count"),
    [
        (WantedFindings(), 8),
        (WantedFindings(level="note"), 1),
        (WantedFindings(code="blank-waits"), 5),
        (WantedFindings(student="bo"), 3),
        (WantedFindings("look", "twin", "ada"), 0),
    ],
)
def test_only_what_is_asked_for(wanted: WantedFindings, count: int) -> None:
    assert sum(wanted.wants(found) for found in FOUND) == count
