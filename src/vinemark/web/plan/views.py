"""Plan: the rules of a section, changed where they are read."""

from collections.abc import Mapping, Sequence
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.number import NotANumber, exact_text, parse_ratio
from vinemark.core.base.refused import Refused
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.examples import basis_choices, extra_words
from vinemark.core.grade.letters import letter_for, rounded_percent
from vinemark.core.grade.preview import preview_plan
from vinemark.core.plan import edit
from vinemark.core.plan.copy import copied
from vinemark.core.plan.diff import DiffLine, plan_differences
from vinemark.core.plan.items import read_days
from vinemark.core.plan.plan import Plan, points_total
from vinemark.core.plan.ribbon import Ribbon, ribbon
from vinemark.core.plan.rule_choices import CONDITIONS_FOR_EACH, CONSEQUENCES_FOR_EACH
from vinemark.core.plan.scale import row_faults, scale_faults
from vinemark.core.plan.scale_ranges import range_faults_of_rows
from vinemark.core.plan.sentences import (
    basis_words,
    cap_phrase,
    category_phrases,
    plan_text,
    rounding_words,
    surprises,
)
from vinemark.core.plan.worth import counts_times_points, cutoffs_in_points, points_in_all, weights_now, worth_words
from vinemark.core.syllabus.compare.notes import ABOUT_WORDS
from vinemark.core.syllabus.compare.promises import promise_of
from vinemark.core.syllabus.facts import About
from vinemark.section.acts import plan as acts
from vinemark.section.acts.plan import EditPlan
from vinemark.section.acts.syllabus import promised
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.state import SectionState
from vinemark.section.syllabus_match import syllabus_match
from vinemark.store import plans, scales
from vinemark.store.sections import SectionRecord, plan_in_force, plan_of
from vinemark.web.databases import database, database_of, my_sections, own_database
from vinemark.web.plan.edits import EDITS
from vinemark.web.plan.rule_lines import offered, rule_groups, rule_options, subjects, symbol_rows
from vinemark.web.plan.typed_edit import TypedEdit
from vinemark.web.request import (
    Notice,
    any_section,
    instructors_section,
    new_act,
    notice_of,
    page,
    person_id,
    require_sign_in,
    tell,
)

PROMISED_RULES: Mapping[About, str] = {
    "late": "late:", "replacement": "replacement:", "alternative": "alternative:", "requirement": "requirement:",
    "attendance": "requirement:", "curve": "added:",
}  # fmt: skip
"""Which rules light up with a sentence that promises one."""
SCALE_FIELDS = ("letter-", "from-", "points-")
"""How the fields of the letter scale begin; a number of the row follows."""

blueprint = Blueprint("plan", __name__, url_prefix="/s/<int:section_id>/plan")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The plan; with a sentence of the syllabus that promises a rule, its form open."""
    return _page(any_section(section_id))


def _page(
    section: SectionState, refused: Refused | None = None, notice: Notice | None = None, conflict: bool = False
) -> ResponseReturnValue:
    plan, begun = section.snapshot.working_plan, section.snapshot.loaded.draft is not None
    return page(
        "plan",
        section,
        status=422 if refused else 409 if conflict else 200,
        plan=plan,
        preview=preview_plan(section.course, plan, section.snapshot.as_of) if begun else None,
        refused=refused,
        form=request.form,
        notice=notice,
        held=syllabus_match(section),
        proposed=_proposed(section, plan),
        **_read_out(section, plan),
        scale_refused=refused if refused and refused.field.startswith(SCALE_FIELDS) else None,
        **_scale_parts(plan),
    )


def _proposed(section: SectionState, plan: Plan) -> dict[str, Any] | None:
    """The rule that a sentence of the syllabus would make, as far as it says."""
    clause = promised(section, request.args.get("promise", ""))
    if clause is None or clause.about is None:
        return None
    promise = promise_of(plan, clause.text, clause.about)
    return {"kind": promise.kind, "fields": promise.fields, "said": clause.text}


def _read_out(section: SectionState, plan: Plan) -> dict[str, Any]:
    """What the plan says and comes to."""
    return {
        "ribbon": ribbon(plan),
        "phrases": {c.id: category_phrases(plan, c) for c in plan.categories},
        "surprises": {c.id: surprises(plan, c) for c in plan.categories},
        "extra_words": {c.id: extra_words(plan, c) for c in plan.categories},
        "worth": {c.id: worth_words(plan, c) for c in plan.categories},
        "weights_now": weights_now(plan, section.course.recorded_items, section.snapshot.as_of),
        "sums": {c.id: counts_times_points(c.regular) for c in plan.categories},
        "points_in_all": points_in_all(plan),
        "points_of": {c.id: points_total(c) for c in plan.categories},
        "course_cap": cap_phrase(plan.cap),
        "basis_words": basis_words(plan),
        "basis_choices": basis_choices(plan),
        "plain_text": plan_text(plan),
        "rule_groups": rule_groups(plan),
        "offered": offered(plan),
        "rule_options": rule_options(plan),
        "subjects": subjects(plan),
        "symbol_rows": symbol_rows,
        "for_each": {"conditions": CONDITIONS_FOR_EACH, "consequences": CONSEQUENCES_FOR_EACH},
        "about_words": ABOUT_WORDS,
        "promised_rules": PROMISED_RULES,
    }


def _scale_parts(plan: Plan) -> dict[str, Any]:
    """The letter scale as its editor shows it."""
    return {
        "rounding_words": rounding_words(plan.rounding),
        "scale_faults": scale_faults(plan.scale),
        "row_faults": {**range_faults_of_rows(request.form.get("pasted", ""), plan.scale), **row_faults(plan.scale)},
        "in_points": cutoffs_in_points(plan),
        "ladder": strip(plan, {}, frozenset()),
        "saved_scales": scales.scales_of(own_database(), person_id()),
    }


@blueprint.post("/ribbon")
def typed_ribbon(section_id: int) -> ResponseReturnValue:
    """The ribbon for weights as they stand typed; nothing is kept. What is no number yet keeps its old weight."""
    plan = any_section(section_id).snapshot.working_plan
    return render_template("plan/_ribbon.html", ribbon=_with_typed_weights(plan))


def _with_typed_weights(plan: Plan) -> Ribbon:
    for category in plan.categories:
        try:
            plan = edit.set_weight(plan, category.id, request.form.get(f"weight-{category.id}", ""))
        except Refused:
            continue
    return ribbon(plan)


@blueprint.get("/versions")
def versions(section_id: int) -> ResponseReturnValue:
    """All versions of the plan, and two of them compared: by default the one that counts with the one before."""
    section = any_section(section_id)
    latest = section.record.plan_version
    first = _version(request.args.get("first", ""), latest, max(1, latest - 1))
    second = _version(request.args.get("second", ""), latest, latest)
    lines = plan_differences(*(plan_of(database(), section_id, number) for number in (first, second)))
    listed = plans.plan_versions(database(), section_id)
    return _reading_page(section, comparing=True, versions=listed, first=first, second=second, lines=lines)


def _reading_page(section: SectionState, **values: Any) -> ResponseReturnValue:
    """A page beside the plan that counts, which is read there and not changed."""
    plan = section.course.plan
    shown: dict[str, Any] = {"plan": plan, "plain_text": plan_text(plan), "preview": None, "form": {}}
    return page("plan", section, **shown, **values)


def _version(typed: str, latest: int, default: int) -> int:
    return min(max(int(typed), 1), latest) if typed.isascii() and typed.isdigit() and len(typed) < 9 else default


@blueprint.post("/bring-back")
def bring_back(section_id: int) -> ResponseReturnValue:
    """Preview an older version of the plan."""
    section = instructors_section(section_id)
    latest = section.record.plan_version
    tell(acts.bring_back(section, new_act(section_id), _version(request.form.get("version", ""), latest, latest)))
    return _to_plan(section_id)


def _to_plan(section_id: int) -> ResponseReturnValue:
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.get("/try")
def try_percent(section_id: int) -> ResponseReturnValue:
    """The letter of a typed percent by the plan's scale and rounding; nothing is kept."""
    plan = any_section(section_id).snapshot.working_plan
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
    """Save the plan's scale under a name, for reuse in any section."""
    section = instructors_section(section_id)
    return _after(
        section,
        acts.save_scale(section, new_act(section_id), own_database(), request.form.get("scale_name", "")),
        False,
    )


@blueprint.post("/forget-scale")
def remove_scale(section_id: int) -> ResponseReturnValue:
    """Remove a saved scale; plans keep their own rows."""
    section = instructors_section(section_id)
    return _after(section, acts.remove_scale(section, new_act(section_id), own_database(), _saved_scale()), False)


@blueprint.post("/use-scale")
def use_scale(section_id: int) -> ResponseReturnValue:
    """Put a saved scale into the plan."""
    instructors_section(section_id)
    chosen = _saved_scale()
    return _edited(section_id, lambda plan: (edit.with_scale(plan, chosen.rows), f"letter scale is {chosen.name}"))


def _saved_scale() -> scales.SavedScale:
    typed = request.form.get("scale", "")
    found = next((s for s in scales.scales_of(own_database(), person_id()) if str(s.id) == typed), None)
    if found is None:
        abort(404)
    return found


@blueprint.get("/copy")
def copy(section_id: int) -> ResponseReturnValue:
    """Another section's plan beside this one: what differs, and the plan as it would be copied."""
    section = any_section(section_id)
    others = [s for s in my_sections() if s.id != section_id]
    source = next((s for s in others if str(s.id) == request.args.get("source")), others[0] if others else None)
    days = acts.days_between(section, source) if source else 0
    refused = None
    # Days typed for one section mean nothing for another: on a change of section its own terms count.
    if source and request.args.get("was") == str(source.id):
        try:
            days = read_days(request.args.get("days", ""))
        except Refused as error:
            refused = error
    lines = _compared(section, source, days) if source else []
    return _reading_page(section, copying=True, others=others, source=source, days=days, lines=lines, refused=refused)


def _compared(section: SectionState, source: SectionRecord, days: int) -> Sequence[DiffLine]:
    theirs, ours = plan_of(database_of(source.id), source.id, source.plan_version), section.course.plan
    return plan_differences(ours, copied(theirs, ours, days))


@blueprint.post("/copy")
def copy_plan(section_id: int) -> ResponseReturnValue:
    """Take another section's plan, dates shifted; previewed first where it touches grades."""
    section = instructors_section(section_id)
    wanted = request.form.get("source", "")
    source = next((one for one in my_sections() if str(one.id) == wanted and one.id != section_id), None)
    if source is None:
        abort(404)
    try:
        days = read_days(request.form.get("days", ""))
    except Refused:
        return redirect(url_for("plan.copy", section_id=section_id, source=source.id))
    theirs = plan_in_force(database_of(source.id), source.id)
    tell(acts.copy_plan(section, new_act(section_id), source, theirs, days))
    return _to_plan(section_id)


@blueprint.post("/apply")
def apply_preview(section_id: int) -> ResponseReturnValue:
    """Make the previewed plan the plan that counts, with a reason."""
    section = instructors_section(section_id)
    outcome = acts.apply_preview(section, new_act(section_id), request.form.get("reason", ""))
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell(outcome)
    return _to_plan(section_id)


@blueprint.post("/discard")
def discard_preview(section_id: int) -> ResponseReturnValue:
    """End the preview; nothing was changed by it."""
    section = instructors_section(section_id)
    tell(acts.discard_preview(section, new_act(section_id)))
    return _to_plan(section_id)


@blueprint.post("/<action>")
def change(section_id: int, action: str) -> ResponseReturnValue:
    """One edit of the plan; a refused one changes nothing and keeps what was typed."""
    if action not in EDITS:
        return _page(instructors_section(section_id), Refused("action", "is not an edit of a plan"))
    typed = TypedEdit(request.form, lambda: plans.used_ids(database(), section_id))
    return _edited(section_id, lambda plan: EDITS[action](plan, typed))


def _edited(section_id: int, edit_plan: EditPlan) -> ResponseReturnValue:
    section = instructors_section(section_id)
    return _after(section, acts.change_plan(section, new_act(section_id), edit_plan))


def _after(section: SectionState, outcome: Outcome, undo: bool = True) -> ResponseReturnValue:
    """The page after an act: with what was refused at its place, or with what was done."""
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    notice = notice_of(outcome, again=section)
    if notice and not undo:
        notice = Notice(notice.text, trouble=notice.trouble)
    return _page(any_section(section.id), notice=notice, conflict=isinstance(outcome, Conflict))
