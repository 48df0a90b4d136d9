"""Plan: the rules of a section, changed where they are read."""

from collections.abc import Callable, Mapping
from contextlib import suppress

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core import plan_edit as edit
from vinemark.core.course_format import Refused
from vinemark.core.distribution import strip
from vinemark.core.letters import letter_for, rounded_percent, scale_faults
from vinemark.core.number import NotANumber, exact_text, parse_ratio
from vinemark.core.plan import Plan
from vinemark.core.plan_diff import compare
from vinemark.core.rehearsal import rehearse, touches_grades
from vinemark.core.ribbon import Ribbon, ribbon
from vinemark.core.sentences import (
    basis_words,
    category_phrases,
    ceiling_phrase,
    plan_text,
    rounding_words,
    surprises,
)
from vinemark.store import plans, rehearsals
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.sections import plan_of
from vinemark.web.context import (
    Notice,
    Standing,
    act,
    database,
    instructor_standing,
    leave_notice,
    page,
    require_sign_in,
    settings,
    standing,
)

blueprint = Blueprint("plan", __name__, url_prefix="/s/<int:section_id>/plan")
blueprint.before_request(require_sign_in)

Form = Mapping[str, str]
Edit = Callable[[Plan, Form], tuple[Plan, str]]


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
        rehearsal=rehearse(found.course, plan, settings().clock.today()) if draft else None,
        ribbon=ribbon(plan),
        phrases={c.id: category_phrases(plan, c) for c in plan.categories},
        surprises={c.id: surprises(plan, c) for c in plan.categories},
        course_ceiling=ceiling_phrase(plan.ceiling),
        basis_words=basis_words(plan),
        rounding_words=rounding_words(plan.rounding),
        plain_text=plan_text(plan),
        scale_faults=scale_faults(plan.scale),
        ladder=strip(plan, {}, frozenset()),
        refused=refused,
        form=request.form,
        notice=notice,
    )


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
    lines = compare(*(plan_of(database(), section_id, number) for number in (first, second)))
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
        rehearsal=None,
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


@blueprint.post("/<action>")
def change(section_id: int, action: str) -> ResponseReturnValue:
    """One edit of the plan; refused ones change nothing and keep what was typed.

    What touches nobody's grade is in force at once. What does is rehearsed first, and so is
    everything that follows until the rehearsal is put in force or dropped.
    """
    found = instructor_standing(section_id)
    if action not in EDITS:
        return _page(found, Refused("action", "is not an edit of a plan"))
    try:
        notice = _change(found, lambda plan: EDITS[action](plan, request.form))
    except AlreadyDoneError:
        return _page(standing(section_id))
    except Refused as error:
        return _page(found, error)
    return _page(standing(section_id), notice=notice)


def _change(found: Standing, edit_plan: Callable[[Plan], tuple[Plan, str]]) -> Notice | None:
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


def _name_of(plan: Plan, form: Form) -> str:
    category = plan.category(form.get("category", ""))
    return category.name if category else ""


def _item_name(plan: Plan, form: Form) -> str:
    item = plan.item(form.get("item", ""))
    return item.name if item else ""


def _by(form: Form) -> int:
    return 1 if form.get("by") == "1" else -1


def _add_category(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.add_category(
        plan, form.get("name", ""), form.get("weight", "")
    ), f"{form.get('name', '').strip()} added"


def _rename_category(plan: Plan, form: Form) -> tuple[Plan, str]:
    name = form.get("name", "")
    changed = edit.rename_category(plan, form.get("category", ""), name)
    return changed, f"{_name_of(plan, form)} is now {name.strip()}"


def _weight(plan: Plan, form: Form) -> tuple[Plan, str]:
    category = form.get("category", "")
    typed = form.get(f"weight-{category}", "")
    return edit.set_weight(plan, category, typed), f"weight of {_name_of(plan, form)} is {typed.strip()}"


def _rule(plan: Plan, form: Form) -> tuple[Plan, str]:
    rule, value = form.get("rule", ""), form.get("value", "")
    changed = edit.set_rule(plan, form.get("category", ""), rule, value)
    return changed, f"rule of {_name_of(plan, form)} changed"


def _move_category(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.move_category(plan, form.get("category", ""), _by(form)), f"{_name_of(plan, form)} moved"


def _delete_category(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.delete_category(plan, form.get("category", "")), f"{_name_of(plan, form)} deleted"


def _typed_item(form: Form) -> edit.TypedItem:
    return edit.TypedItem(
        form.get("name", ""),
        form.get("points", ""),
        form.get("due", ""),
        form.get("share", ""),
        form.get("extra") == "1",
        form.get("planned") == "1",
        form.get("protected") == "1",
    )


def _add_item(plan: Plan, form: Form) -> tuple[Plan, str]:
    changed = edit.add_items(plan, form.get("category", ""), _typed_item(form), form.get("every", ""))
    return changed, f"{form.get('name', '').strip()} added"


def _change_item(plan: Plan, form: Form) -> tuple[Plan, str]:
    changed = edit.change_item(plan, form.get("item", ""), _typed_item(form))
    return changed, f"{form.get('name', '').strip()} changed"


def _move_item(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.move_item(plan, form.get("item", ""), _by(form)), f"{_item_name(plan, form)} moved"


def _file_item(plan: Plan, form: Form) -> tuple[Plan, str]:
    changed = edit.file_item(plan, form.get("item", ""), form.get("category", ""))
    return changed, f"{_item_name(plan, form)} moved to {_name_of(plan, form)}"


def _delete_item(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.delete_item(plan, form.get("item", "")), f"{_item_name(plan, form)} deleted"


def _basis(plan: Plan, form: Form) -> tuple[Plan, str]:
    changed = edit.set_basis(plan, form.get("basis", ""))
    return changed, f"plan basis is now {changed.basis}"


def _rounding(plan: Plan, form: Form) -> tuple[Plan, str]:
    changed = edit.set_rounding(plan, form.get("decimals", ""), form.get("letter_uses", "rounded"))
    return changed, "rounding changed"


def _ceiling(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.set_course_ceiling(plan, form.get("value", "")), "ceiling of the course changed"


def _scale(plan: Plan, form: Form) -> tuple[Plan, str]:
    rows = [(form[f"letter-{i}"], form.get(f"from-{i}", "")) for i in range(40) if f"letter-{i}" in form]
    return edit.set_scale(plan, rows), "letter scale changed"


def _paste_scale(plan: Plan, form: Form) -> tuple[Plan, str]:
    return edit.paste_scale(plan, form.get("pasted", "")), "letter scale read from text"


EDITS: dict[str, Edit] = {
    "add-category": _add_category,
    "rename-category": _rename_category,
    "weight": _weight,
    "rule": _rule,
    "move-category": _move_category,
    "delete-category": _delete_category,
    "add-item": _add_item,
    "change-item": _change_item,
    "move-item": _move_item,
    "file-item": _file_item,
    "delete-item": _delete_item,
    "basis": _basis,
    "rounding": _rounding,
    "ceiling": _ceiling,
    "scale": _scale,
    "paste-scale": _paste_scale,
}
