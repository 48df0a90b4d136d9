"""Findings that an instructor accepted as they are: they stay listed, and come back when their facts change."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from hashlib import sha256

from vinemark.core.audit.finding import Finding
from vinemark.core.base.refused import Refused

LONGEST_ACCEPT_REASON = 500


@dataclass(frozen=True)
class Acceptance:
    """Why a finding was accepted as it is, who said so and when, and the facts it was said on."""

    facts: str
    reason: str
    person: str
    at: str


@dataclass(frozen=True)
class ReviewedFinding:
    """A finding, why it was accepted as it is, or why it was before its facts changed."""

    finding: Finding
    acceptance: Acceptance | None = None
    lapsed: Acceptance | None = None


def facts_digest(finding: Finding) -> str:
    """What a finding rests on, as a digest: what it says and its evidence."""
    return sha256("\n".join([finding.code, finding.message, *finding.evidence]).encode()).hexdigest()


def review(findings: Iterable[Finding], acceptances: Mapping[str, Acceptance]) -> list[ReviewedFinding]:
    """Each finding with its acceptance where the facts are still those; a `stop` is never accepted."""
    found = []
    for finding in findings:
        kept = acceptances.get(finding.key)
        if kept is None or finding.level == "stop":
            found.append(ReviewedFinding(finding))
        elif kept.facts == facts_digest(finding):
            found.append(ReviewedFinding(finding, acceptance=kept))
        else:
            found.append(ReviewedFinding(finding, lapsed=kept))
    return found


def reason_to_accept(finding: Finding, typed: str) -> str:
    """The written reason. Raises Refused for a `stop`, or where there is none."""
    reason = " ".join(typed.split())
    if finding.level == "stop":
        raise Refused("reason", "this must be fixed; it cannot be accepted as is")
    if not reason:
        raise Refused("reason", "type a reason; it is saved in the history")
    if len(reason) > LONGEST_ACCEPT_REASON:
        raise Refused("reason", f"is longer than {LONGEST_ACCEPT_REASON} characters")
    return reason
