"""Findings that an instructor let stand: they stay listed, and come back when their facts change."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from hashlib import sha256

from vinemark.core.audit.finding import Finding
from vinemark.core.base.refused import Refused

LONGEST_ACCEPT_REASON = 500


@dataclass(frozen=True)
class Stand:
    """Why a finding stands, who said so and when, and the facts it was said on."""

    facts: str
    reason: str
    person: str
    at: str


@dataclass(frozen=True)
class Weighed:
    """A finding, why it stands where it does, and why it stood before its facts changed."""

    finding: Finding
    stand: Stand | None = None
    stood: Stand | None = None


def facts_of(finding: Finding) -> str:
    """What a finding rests on, as a digest: what it says and its evidence."""
    return sha256("\n".join([finding.code, finding.message, *finding.evidence]).encode()).hexdigest()


def weigh(findings: Iterable[Finding], stands: Mapping[str, Stand]) -> list[Weighed]:
    """Each finding with its stand, where there is one and the facts are still those; a `stop` never stands."""
    found = []
    for finding in findings:
        kept = stands.get(finding.place)
        if kept is None or finding.level == "stop":
            found.append(Weighed(finding))
        elif kept.facts == facts_of(finding):
            found.append(Weighed(finding, stand=kept))
        else:
            found.append(Weighed(finding, stood=kept))
    return found


def reason_to_stand(finding: Finding, typed: str) -> str:
    """The written reason. Raises Refused for a `stop`, or where there is none."""
    reason = " ".join(typed.split())
    if finding.level == "stop":
        raise Refused("reason", "a stop cannot be let stand; it has to be mended")
    if not reason:
        raise Refused("reason", "say why it stands, for the history")
    if len(reason) > LONGEST_ACCEPT_REASON:
        raise Refused("reason", f"is longer than {LONGEST_ACCEPT_REASON} characters")
    return reason
