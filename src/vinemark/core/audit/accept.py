"""Findings that an instructor let stand: they stay listed, and come back when their facts change."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from hashlib import sha256

from vinemark.core.audit.finding import Finding
from vinemark.core.base.refused import Refused

LONGEST_ACCEPT_REASON = 500


@dataclass(frozen=True)
class Acceptance:
    """Why a finding stands, who said so and when, and the facts it was said on."""

    facts: str
    reason: str
    person: str
    at: str


@dataclass(frozen=True)
class ReviewedFinding:
    """A finding, why it stands where it does, and why it stood before its facts changed."""

    finding: Finding
    stand: Acceptance | None = None
    stood: Acceptance | None = None


def facts_digest(finding: Finding) -> str:
    """What a finding rests on, as a digest: what it says and its evidence."""
    return sha256("\n".join([finding.code, finding.message, *finding.evidence]).encode()).hexdigest()


def review(findings: Iterable[Finding], stands: Mapping[str, Acceptance]) -> list[ReviewedFinding]:
    """Each finding with its stand, where there is one and the facts are still those; a `stop` never stands."""
    found = []
    for finding in findings:
        kept = stands.get(finding.key)
        if kept is None or finding.level == "stop":
            found.append(ReviewedFinding(finding))
        elif kept.facts == facts_digest(finding):
            found.append(ReviewedFinding(finding, stand=kept))
        else:
            found.append(ReviewedFinding(finding, stood=kept))
    return found


def reason_to_accept(finding: Finding, typed: str) -> str:
    """The written reason. Raises Refused for a `stop`, or where there is none."""
    reason = " ".join(typed.split())
    if finding.level == "stop":
        raise Refused("reason", "a stop cannot be let stand; it has to be mended")
    if not reason:
        raise Refused("reason", "say why it stands, for the history")
    if len(reason) > LONGEST_ACCEPT_REASON:
        raise Refused("reason", f"is longer than {LONGEST_ACCEPT_REASON} characters")
    return reason
