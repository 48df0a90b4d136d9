"""The syllabus held against the plan that is worked on, and its signed match."""

from dataclasses import dataclass

from vinemark.core.syllabus.compare.notes import Match
from vinemark.section.state import SectionState
from vinemark.store.syllabuses import MatchSignature, Syllabus


@dataclass(frozen=True)
class SyllabusMatch:
    """The section's syllabus, how it and the plan stand to each other, and the signature where there is one."""

    syllabus: Syllabus
    match: Match
    signed: MatchSignature | None
    changed_since: str


def syllabus_match(section: SectionState) -> SyllabusMatch | None:
    """Everything about the match; None without a syllabus."""
    loaded = section.snapshot.loaded
    match = section.snapshot.match_with(section.snapshot.working_plan)
    if loaded.syllabus is None or match is None:
        return None
    signed = loaded.match_signature
    return SyllabusMatch(loaded.syllabus, match, signed, _changed_since(section, loaded.syllabus, signed))


def _changed_since(section: SectionState, kept: Syllabus, signed: MatchSignature | None) -> str:
    """What changed after the signature: the plan, the syllabus, or nothing."""
    if signed is None:
        return ""
    changed = [("the plan", section.record.plan_version != signed.plan_version)]
    changed.append(("the syllabus", kept.version != signed.syllabus_version))
    return " and ".join(what for what, is_so in changed if is_so)
