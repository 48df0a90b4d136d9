"""Plan: the rules of a section, changed where they are read."""

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import replace
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.number import NotANumber, exact_text, parse_ratio
from vinemark.core.base.refused import Refused
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.examples import basis_choices, extra_words
from vinemark.core.grade.letters import letter_for, rounded_percent
from vinemark.core.grade.preview import preview_plan, touches_grades
from vinemark.core.plan import edit, items
from vinemark.core.plan.copy import copied
from vinemark.core.plan.diff import DiffLine, plan_differences
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.ribbon import Ribbon, ribbon
from vinemark.core.plan.scale import row_faults, scale_faults
from vinemark.core.plan.sentences import (
    basis_words,
    cap_phrase,
    category_phrases,
    plan_text,
    rounding_words,
    surprises,
)
from vinemark.core.plan.worth import (
    counts_times_points,
    cutoffs_in_points,
    points_in_all,
    weights_now,
    worth_words,
)
from vinemark.store import plans, scales, sections
from vinemark.store import previews as rehearsals
from vinemark.store.history import Act, AlreadyDoneError, ChangedSinceError
from vinemark.store.sections import Section, plan_of
from vinemark.web.context import (
    Notice,
    Standing,
    act,
    database,
    instructor_standing,
    leave_notice,
    page,
    person_id,
    require_sign_in,
    settings,
    standing,
)
from vinemark.web.matching import held_against
from vinemark.web.plan_edits import EDITS, Typed

EditPlan = Callable[[Plan], tuple[Plan, str]]

blueprint = Blueprint("plan", __name__, url_prefix="/s/<int:section_id>/plan")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The plan."""
    return _page(standing(section_id))


def _page(found: Standing, refused: Refused | None = None, notice: Notice | None = None) -> ResponseReturnValue:
    draft = rehearsals.draft_of(database(), found.id)
    plan = draft.plan if draft else found.course.plan
    return page(
        "plan",
        found,
        status=422 if refused else 200,
        plan=plan,
        preview=preview_plan(found.course, plan, settings().clock.today()) if draft else None,
        refused=refused,
        form=request.form,
        notice=notice,
        held=held_against(found, plan),
        **_read_out(found, plan),
        **_scale_parts(plan),
    )


def _read_out(found: Standing, plan: Plan) -> dict[str, Any]:
    """What the plan says and comes to."""
    return {
        "ribbon": ribbon(plan),
        "phrases": {c.id: category_phrases(plan, c) for c in plan.categories},
        "surprises": {c.id: surprises(plan, c) for c in plan.categories},
        "extra_words": {c.id: extra_words(plan, c) for c in plan.categories},
        "worth": {c.id: worth_words(plan, c) for c in plan.categories},
        "in_force": weights_now(plan, found.course.recorded_items, settings().clock.today()),
        "sums": {c.id: counts_times_points(c.regular) for c in plan.categories},
        "points_in_all": points_in_all(plan),
        "course_cap": cap_phrase(plan.cap),
        "basis_words": basis_words(plan),
        "basis_choices": basis_choices(plan),
        "plain_text": plan_text(plan),
    }


def _scale_parts(plan: Plan) -> dict[str, Any]:
    """The letter scale as its editor shows it."""
    return {
        "rounding_words": rounding_words(plan.rounding),
        "scale_faults": scale_faults(plan.scale),
        "row_faults": row_faults(plan.scale),
        "in_points": cutoffs_in_points(plan),
        "ladder": strip(plan, {}, frozenset()),
        "saved_scales": scales.of_person(database(), person_id()),
    }


@blueprint.post("/ribbon")
def preview(section_id: int) -> ResponseReturnValue:
    """The ribbon for weights as they stand typed; nothing is kept. What is no number yet keeps its old weight."""
    found = standing(section_id)
    draft = rehearsals.draft_of(database(), section_id)
    return render_template("plan/_ribbon.html", ribbon=_typed_ribbon(draft.plan if draft else found.course.plan))


def _typed_ribbon(plan: Plan) -> Ribbon:
    for category in plan.categories:
        try:
            plan = edit.set_weight(plan, category.id, request.form.get(f"weight-{category.id}", ""))
        except Refused:
            continue
    return ribbon(plan)


@blueprint.get("/versions")
def versions(section_id: int) -> ResponseReturnValue:
    """All versions of the plan, and two of them compared: by default the one in force with the one before."""
    found = standing(section_id)
    latest = found.section.plan_version
    first = _version(request.args.get("first", ""), latest, max(1, latest - 1))
    second = _version(request.args.get("second", ""), latest, latest)
    lines = plan_differences(*(plan_of(database(), section_id, number) for number in (first, second)))
    return page(
        "plan",
        found,
        comparing=True,
        versions=plans.versions(database(), section_id),
        first=first,
        second=second,
        lines=lines,
        plan=found.course.plan,
        plain_text=plan_text(found.course.plan),
        preview=None,
        form={},
    )


def _version(typed: str, latest: int, default: int) -> int:
    return min(max(int(typed), 1), latest) if typed.isascii() and typed.isdigit() and len(typed) < 9 else default


@blueprint.post("/bring-back")
def bring_back(section_id: int) -> ResponseReturnValue:
    """Rehearse an older version of the plan."""
    found = instructor_standing(section_id)
    number = _version(request.form.get("version", ""), found.section.plan_version, found.section.plan_version)
    older = plan_of(database(), section_id, number)
    try:
        entry = rehearsals.change(database(), act(section_id), lambda _: (older, f"version {number} brought back"))
        leave_notice(f"Version {number} is in rehearsal.", entry)
    except AlreadyDoneError:
        pass
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.get("/try")
def try_percent(section_id: int) -> ResponseReturnValue:
    """The letter of a typed percent by the plan's scale and rounding; nothing is kept."""
    found = standing(section_id)
    draft = rehearsals.draft_of(database(), section_id)
    plan = draft.plan if draft else found.course.plan
    typed = request.args.get("percent", "").strip().removesuffix("%").strip()
    try:
        percent = parse_ratio(typed)
    except NotANumber as error:
        return render_template("plan/_tried.html", reason=str(error) if typed else "")
    rounded = rounded_percent(plan.rounding, percent)
    return render_template(
        "plan/_tried.html",
        percent=exact_text(percent),
        rounded=None if rounded is None else exact_text(rounded),
        letter=letter_for(plan, percent),
    )


@blueprint.post("/save-scale")
def save_scale(section_id: int) -> ResponseReturnValue:
    """Keep the plan's scale under a name, for reuse in any section."""
    found = instructor_standing(section_id)
    draft = rehearsals.draft_of(database(), section_id)
    plan = draft.plan if draft else found.course.plan
    try:
        name = edit.clean_name(request.form.get("scale_name", ""))
    except Refused as error:
        return _page(found, Refused("scale_name", error.reason))
    if not plan.scale or scale_faults(plan.scale):
        return _page(found, Refused("scale_name", "mend the scale first"))
    with suppress(AlreadyDoneError):
        scales.save(database(), _own_act(), name, plan.scale)
    return _page(found, notice=Notice(f"Saved as {name}; every section of yours can use it."))


@blueprint.post("/forget-scale")
def forget_scale(section_id: int) -> ResponseReturnValue:
    """Forget a saved scale; plans keep their own rows."""
    found = instructor_standing(section_id)
    chosen = _saved(request.form.get("scale", ""))
    with suppress(AlreadyDoneError):
        scales.forget(database(), _own_act(), chosen.id)
    return _page(found, notice=Notice(f"{chosen.name} forgotten. Plans that use it keep their scale."))


@blueprint.post("/use-scale")
def use_scale(section_id: int) -> ResponseReturnValue:
    """Put a saved scale into the plan."""
    chosen = _saved(request.form.get("scale", ""))
    return _edited(section_id, lambda plan: (edit.use_scale(plan, chosen.rows), f"letter scale is {chosen.name}"))


def _saved(typed: str) -> scales.SavedScale:
    found = next((s for s in scales.of_person(database(), person_id()) if str(s.id) == typed), None)
    if found is None:
        abort(404)
    return found


def _own_act() -> Act:
    """This request as a write of the person's own, of no section."""
    return replace(act(), section_id=None)


@blueprint.get("/copy")
def copy(section_id: int) -> ResponseReturnValue:
    """Another section's plan beside this one: what differs, and the plan as it would be copied."""
    found = standing(section_id)
    others = [s for s in sections.of_person(database(), person_id()) if s.id != section_id]
    source = next((s for s in others if str(s.id) == request.args.get("source")), others[0] if others else None)
    days = _days_between(found, source) if source else 0
    refused = None
    # Days typed for one section mean nothing for another: on a change of section its own terms count.
    if source and request.args.get("was") == str(source.id):
        try:
            days = items.read_days(request.args.get("days", ""))
        except Refused as error:
            refused = error
    lines = _compared(found, source, days) if source else []
    return page(
        "plan", found, copying=True, others=others, source=source, days=days, lines=lines,
        refused=refused, plan=found.course.plan, plain_text=plan_text(found.course.plan), preview=None, form={},
    )  # fmt: skip


def _days_between(found: Standing, source: Section) -> int:
    return (found.section.term.starts - source.term.starts).days


def _compared(found: Standing, source: Section, days: int) -> Sequence[DiffLine]:
    theirs = plan_of(database(), source.id, source.plan_version)
    return plan_differences(found.course.plan, copied(theirs, found.course.plan, days))


@blueprint.post("/copy")
def take_copy(section_id: int) -> ResponseReturnValue:
    """Take another section's plan, dates shifted; rehearsed first where it touches grades."""
    found = instructor_standing(section_id)
    source = sections.find(database(), person_id(), _number(request.form.get("source", "")))
    if source is None or source.id == section_id:
        abort(404)
    try:
        days = items.read_days(request.form.get("days", ""))
    except Refused:
        return redirect(url_for("plan.copy", section_id=section_id, source=source.id))
    theirs = plan_of(database(), source.id, source.plan_version)
    used = plans.used_ids(database(), section_id)
    done = f"plan of {source.name.short}, {source.term.name}, copied"
    try:
        notice = change_plan(found, lambda plan: (copied(theirs, plan, days, used), done))
    except AlreadyDoneError:
        notice = None
    if notice is not None:
        leave_notice(notice.text, notice.undo)
    return redirect(url_for("plan.show", section_id=section_id))


def _number(typed: str) -> int:
    return int(typed) if typed.isascii() and typed.isdigit() and len(typed) < 10 else 0


@blueprint.post("/<action>")
def change(section_id: int, action: str) -> ResponseReturnValue:
    """One edit of the plan; refused ones change nothing and keep what was typed.

    What touches nobody's grade is in force at once. What does is rehearsed first, and so is
    everything that follows until the rehearsal is put in force or dropped.
    """
    if action not in EDITS:
        return _page(instructor_standing(section_id), Refused("action", "is not an edit of a plan"))
    typed = Typed(request.form, lambda: plans.used_ids(database(), section_id))
    return _edited(section_id, lambda plan: EDITS[action](plan, typed))


def _edited(section_id: int, edit_plan: EditPlan) -> ResponseReturnValue:
    found = instructor_standing(section_id)
    try:
        notice = change_plan(found, edit_plan)
    except AlreadyDoneError:
        return _page(standing(section_id))
    except Refused as error:
        return _page(found, error)
    return _page(standing(section_id), notice=notice)


def change_plan(found: Standing, edit_plan: EditPlan) -> Notice | None:
    """Edit the plan: in force at once where nobody's grade is touched, else in rehearsal; what to say of it."""
    draft = rehearsals.draft_of(database(), found.id)
    changed, done = edit_plan(draft.plan if draft else found.course.plan)
    if draft or touches_grades(found.course, changed, settings().clock.today()):
        entry = rehearsals.change(database(), act(found.id), edit_plan)
        return Notice(f"{done[:1].upper()}{done[1:]}, in rehearsal.", entry)
    kept = plans.change(database(), act(found.id), edit_plan)
    return Notice(f"{done[:1].upper()}{done[1:]}.", kept) if kept else None


@blueprint.post("/in-force")
def put_in_force(section_id: int) -> ResponseReturnValue:
    """Make the rehearsed plan the plan in force, with a reason."""
    found = instructor_standing(section_id)
    reason = " ".join(request.form.get("reason", "").split())
    if not reason:
        return _page(found, Refused("reason", "say why, for the history"))
    try:
        entry = rehearsals.put_in_force(database(), act(section_id), reason)
    except AlreadyDoneError:
        return redirect(url_for("plan.show", section_id=section_id))
    except ChangedSinceError as error:
        leave_notice(str(error), trouble=True)
        return redirect(url_for("plan.show", section_id=section_id))
    leave_notice(f"Put in force: {reason}.", entry)
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.post("/drop")
def drop(section_id: int) -> ResponseReturnValue:
    """End the rehearsal; nothing was changed by it."""
    instructor_standing(section_id)
    with suppress(AlreadyDoneError):
        leave_notice("Rehearsal dropped; the plan in force is as it was.", rehearsals.drop(database(), act(section_id)))
    return redirect(url_for("plan.show", section_id=section_id))
