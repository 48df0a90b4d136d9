"""Deleting a section or a student, with an archive taken first; a copy of an archive is put away."""

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.section.acts import delete as acts
from vinemark.section.outcome import Conflict
from vinemark.section.state import SectionState
from vinemark.web.events import tell_log
from vinemark.web.request import (
    instructors_section,
    new_act,
    page,
    require_sign_in,
    student_of,
    tell_without_undo,
    whole_section,
)

blueprint = Blueprint("deleting", __name__, url_prefix="/s/<int:section_id>/delete")
blueprint.before_request(require_sign_in)


def _own_section(section_id: int) -> SectionState:
    """The section, for its instructor, or for whoever looks at a copy of an archive."""
    section = whole_section(section_id)
    if section.role != "instructor" and not section.record.archive:
        abort(403)
    return section


@blueprint.get("")
def ask(section_id: int) -> ResponseReturnValue:
    """What would go, what would stay, and what is still missing."""
    return _page(_own_section(section_id))


def _page(section: SectionState, reason: str = "") -> ResponseReturnValue:
    typed = request.form.get("name", "")
    status = 422 if reason else 200
    return page("deleting", section, status, deletion=acts.deletion(section), reason=reason, typed=typed)


@blueprint.post("")
def delete(section_id: int) -> ResponseReturnValue:
    """Delete it."""
    section = _own_section(section_id)
    outcome = acts.delete(section, new_act(section_id), request.form.get("name", ""))
    if isinstance(outcome, Refused):
        return _page(section, outcome.reason)
    if isinstance(outcome, Conflict):
        return _page(section, outcome.text)
    tell_log("section deleted", outcome.text)
    tell_without_undo(outcome)
    return redirect(url_for("desk.show"))


@blueprint.get("/student/<student_id>")
def ask_student(section_id: int, student_id: str) -> ResponseReturnValue:
    """What would go with a student, and what is still missing."""
    return _student_page(instructors_section(section_id), student_id)


def _student_page(section: SectionState, student_id: str, reason: str = "") -> ResponseReturnValue:
    student = student_of(section, student_id)
    return page(
        "deleting",
        section,
        422 if reason else 200,
        student=student,
        deletion=acts.student_deletion(section, student),
        reason=reason,
        typed=request.form.get("name", ""),
    )


@blueprint.post("/student/<student_id>")
def delete_student(section_id: int, student_id: str) -> ResponseReturnValue:
    """Delete a student."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    outcome = acts.delete_student(section, new_act(section_id), student, request.form.get("name", ""))
    if isinstance(outcome, Refused):
        return _student_page(section, student_id, outcome.reason)
    if isinstance(outcome, Conflict):
        return _student_page(section, student_id, outcome.text)
    tell_log("student deleted", section.name.short)
    tell_without_undo(outcome)
    return redirect(url_for("settle.show", section_id=section_id))
