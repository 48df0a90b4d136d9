"""Entering scores for a grader who is limited to some items or students: these, and nothing else of the section."""

from collections.abc import Mapping

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.course.cell_text import cell_text
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.section.acts.scores import Entered, enter_scores
from vinemark.section.outcome import Done
from vinemark.section.state import SectionState
from vinemark.web.request import limited_section, new_act, page, require_sign_in, tell_without_undo

blueprint = Blueprint("entry", __name__, url_prefix="/s/<int:section_id>/entry")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The scores of an item."""
    return _page(limited_section(section_id))


def _page(section: SectionState, entered: Entered | None = None) -> ResponseReturnValue:
    course, limit = section.course, section.record.limit
    items, students = limit.items_of(course), limit.students_of(course)
    item = next((one for one in items if one.id == request.values.get("item")), items[0] if items else None)
    texts = {one.id: cell_text(course.cell(one.id, item.id)) if item else "" for one in students}
    wrong = _wrong(entered)
    return page(
        "scores",
        section,
        422 if wrong else 200,
        "entry",
        items=items,
        item=item,
        students=students,
        texts=texts,
        typed={**texts, **{one: request.form.get(f"score-{one}", "") for one in wrong}},
        wrong=wrong,
        limit=limit.words(course),
    )


def _wrong(entered: Entered | None) -> Mapping[str, str]:
    """Why a student's score was not saved."""
    if entered is None:
        return {}
    refused = {one.student: f"It {one.reason}." for one in entered.read.refused}
    conflicts = {
        one.student_id: f"{one.by} changed it meanwhile; there is now: {one.now or 'nothing'}. Save again to use yours."
        for one in entered.written.conflicts
    }
    return refused | conflicts


@blueprint.post("")
def save(section_id: int) -> ResponseReturnValue:
    """Save what was changed of an item's scores."""
    section, form = limited_section(section_id), request.form
    item = form.get("item", "")
    cells = [
        TypedCell(one.id, item, form[f"score-{one.id}"], form.get(f"was-{one.id}", ""))
        for one in section.record.limit.students_of(section.course)
        if f"score-{one.id}" in form and form[f"score-{one.id}"].strip() != form.get(f"was-{one.id}", "")
    ]
    if any(not section.record.limit.allows(one.student_id, one.item_id) for one in cells):
        abort(403)
    entered = enter_scores(section, new_act(section_id), cells)
    if entered.read.refused or entered.written.conflicts:
        return _page(section.fresh(), entered)
    many = len(entered.read.cells)
    if many:
        tell_without_undo(Done(f"{many} score{'' if many == 1 else 's'} saved."))
    return redirect(url_for("entry.show", section_id=section_id, item=item))
