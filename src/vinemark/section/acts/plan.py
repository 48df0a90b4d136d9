"""Acts on the plan: what touches nobody's grade counts at once, what does is previewed first."""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

from vinemark.core.base.refused import Refused
from vinemark.core.grade.preview import touches_grades
from vinemark.core.plan import edit
from vinemark.core.plan.bounds import refuse_beyond_limits
from vinemark.core.plan.copy import copied
from vinemark.core.plan.kept_rules import kept_rules
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.scale import scale_faults
from vinemark.section.meanwhile import refuse_changed_plan
from vinemark.section.outcome import Done, act, as_sentence
from vinemark.section.state import SectionState
from vinemark.store import plans, previews, scales, sections
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.scales import SavedScale
from vinemark.store.sections import SectionRecord

EditPlan = Callable[[Plan], tuple[Plan, str]]
"""Gives the changed plan and what was done; raises Refused at a field."""


def edited_plan(section: SectionState, request: Act, edit_plan: EditPlan) -> Done:
    """Edit the plan that is worked on, inside the act's transaction.

    A preview goes on until it is applied or discarded; it begins where any grade would be touched.
    """
    before = section.snapshot.working_plan
    plan, done = edit_plan(before)
    plan = kept_rules(plan, before)
    refuse_beyond_limits(plan, before=before)
    refuse_changed_plan(section, request, plan)
    begun = section.snapshot.loaded.draft is not None
    if begun or touches_grades(section.course, plan, section.snapshot.as_of):
        entry = previews.write_draft(section.connection, request, lambda _: (plan, done))
        return Done(f"{done[:1].upper()}{done[1:]}, in preview.", entry)
    kept = plans.write_plan_version(section.connection, request, lambda _: (plan, done))
    return Done(as_sentence(done), kept) if kept else Done()


@act
def change_plan(section: SectionState, request: Act, edit_plan: EditPlan) -> Done:
    """One edit of the plan."""
    return edited_plan(section, request, edit_plan)


@act
def bring_back(section: SectionState, request: Act, version: int) -> Done:
    """Preview an older version of the plan."""
    older = sections.plan_of(section.connection, section.id, version)
    what = f"version {version} brought back"
    entry = previews.write_draft(section.connection, request, lambda _: (older, what))
    return Done(f"Version {version} is in preview.", entry)


@act
def copy_plan(section: SectionState, request: Act, source: SectionRecord, theirs: Plan, days: int) -> Done:
    """Take another section's plan over, its dates shifted by so many days."""
    used = plans.used_ids(section.connection, section.id)
    done = f"plan of {source.name.short}, {source.term.name}, copied"
    return edited_plan(section, request, lambda plan: (copied(theirs, plan, days, used), done))


def days_between(section: SectionState, source: SectionRecord) -> int:
    """How far the terms of two sections are apart, as a copy's dates are shifted."""
    apart: timedelta = section.term.starts - source.term.starts
    return apart.days


@act
def apply_preview(section: SectionState, request: Act, reason: str) -> Done:
    """Make the previewed plan the plan that counts, with a reason."""
    why = " ".join(reason.split())
    if not why:
        raise Refused("reason", "type a reason; it is saved in the history")
    return Done(f"Applied: {why}.", previews.apply_draft(section.connection, request, why))


@act
def discard_preview(section: SectionState, request: Act) -> Done:
    """End the preview; nothing was changed by it."""
    entry = previews.discard_draft(section.connection, request)
    return Done("Preview discarded. The plan has not changed.", entry)


@act
def save_scale(section: SectionState, request: Act, own: Connection, name: str) -> Done:
    """Save the plan's scale under a name, for reuse in any section, in the database that has what is a person's own."""
    try:
        named = edit.clean_name(name)
    except Refused as error:
        raise Refused("scale_name", error.reason) from error
    scale = section.snapshot.working_plan.scale
    if not scale or scale_faults(scale):
        raise Refused("scale_name", "fix the scale first")
    scales.write_scale(own, _own(request), named, scale)
    return Done(f"Saved as {named}; every section of yours can use it.")


@act
def remove_scale(_: SectionState, request: Act, own: Connection, scale: SavedScale) -> Done:
    """Remove a saved scale; plans keep their own rows."""
    scales.delete_scale(own, _own(request), scale.id)
    return Done(f"{scale.name} deleted. Plans that use it keep their scale.")


def _own(request: Act) -> Act:
    """The request as a write of the person's own, of no section."""
    return replace(request, section_id=None)
