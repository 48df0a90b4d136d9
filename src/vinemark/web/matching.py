"""Syllabus and plan of a section held against each other, for every page that speaks of the match."""

from dataclasses import dataclass

from vinemark.core.plan.plan import Plan
from vinemark.core.syllabus.compare import notes as matching
from vinemark.store import previews as rehearsals
from vinemark.store import syllabuses
from vinemark.store.syllabuses import Signed, Syllabus
from vinemark.web.context import Standing, database


@dataclass(frozen=True)
class Held:
    """The syllabus in force, how it and the plan stand, and the signing where there is one."""

    syllabus: Syllabus
    match: matching.Match
    signed: Signed | None
    changed_since: str


def current_plan(found: Standing) -> Plan:
    """The plan that is worked on: the rehearsed one, else the one in force."""
    draft = rehearsals.draft_of(database(), found.id)
    return draft.plan if draft else found.course.plan


def match_of(found: Standing, kept: Syllabus, plan: Plan) -> matching.Match:
    """Syllabus and plan held against each other, with the notes kept."""
    return matching.match_plan(plan, kept.reading, syllabuses.notes(database(), found.id))


def held_against(found: Standing, plan: Plan) -> Held | None:
    """Everything about the match; None without a syllabus."""
    kept = syllabuses.latest(database(), found.id)
    if kept is None:
        return None
    signed = syllabuses.signed(database(), found.id)
    return Held(kept, match_of(found, kept, plan), signed, _changed_since(found, kept, signed))


def _changed_since(found: Standing, kept: Syllabus, signed: Signed | None) -> str:
    """What changed after the signing: the plan, the syllabus, or nothing."""
    if signed is None:
        return ""
    changed = [("the plan", found.section.plan_version != signed.plan_version)]
    changed.append(("the syllabus", kept.version != signed.syllabus_version))
    return " and ".join(what for what, is_so in changed if is_so)
