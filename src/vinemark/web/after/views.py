"""After: changes of grade, the list of incompletes, and the archive of a section."""

import re
from collections.abc import Mapping

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.after.incompletes import incompletes_of
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.grade.codes import codes_for, needs_of
from vinemark.core.scores.last_work import last_work
from vinemark.section.acts import after as acts
from vinemark.section.acts.submit import check_copy as check_registrar
from vinemark.section.state import SectionState
from vinemark.store import grade_changes
from vinemark.web.databases import database
from vinemark.web.request import (
    download,
    file_name,
    gateway,
    instructors_section,
    my_email,
    new_act,
    page,
    require_sign_in,
    show_error,
    student_of,
    tell,
    tell_without_undo,
    whole_section,
)
from vinemark.web.ui.settled_form import fields_of, typed_settled

blueprint = Blueprint("after", __name__, url_prefix="/s/<int:section_id>/after")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The page; ?student opens the form for one student, with what is settled for them now."""
    section = whole_section(section_id)
    return _page(section, _chosen(section))


def _chosen(section: SectionState) -> Student | None:
    return section.course.student(request.args.get("student", ""))


def _page(
    section: SectionState, chosen: Student | None, refused: Refused | None = None, ask: bool = True
) -> ResponseReturnValue:
    course, run = section.course, section.of_run
    typed: Mapping[str, str] = request.form if refused else _typed(section, chosen)
    return page(
        "after",
        section,
        422 if refused else 200,
        chosen=chosen,
        typed=typed,
        refused=refused,
        needs=needs_of(course, typed.get("grade", "").strip()),
        codes=codes_for(course, course.grading_basis(chosen.id)) if chosen else [],
        suggestion=last_work(course, chosen.id, section.as_of) if chosen else None,
        students=course.enrolled() if run.posted_at else [],
        # An answer that comes in while the form is filled in must not touch what was typed.
        ask=ask and chosen is None and section.copy_stale,
        names={s.id: s.name for s in course.students},
        incompletes=incompletes_of(course, run.held, run.fell_back, run.changes, section.now.date()),
        records=course.records,
    )


def _typed(section: SectionState, chosen: Student | None) -> dict[str, str]:
    """What the form starts with: the settled grade where it moved from what the registrar has, else the computed one
    where scores moved it since signing, and which."""
    drift = next((d for d in section.of_run.drifts if chosen and d.student_id == chosen.id), None)
    fields = fields_of(section.course.settled.get(chosen.id)) if chosen and drift else {}
    if fields:
        return {**fields, "why": fields["reason"]}
    moved = next((m for m in section.of_run.moved if chosen and m.student_id == chosen.id), None)
    return {"grade": moved.now, "why": moved.reason} if moved else {}


@blueprint.get("/news")
def news(section_id: int) -> ResponseReturnValue:
    """The page again where something of the section changed since it was shown; else nothing."""
    section = whole_section(section_id)
    if request.args.get("version") == str(section.snapshot.version):
        return "", 204
    return _page(section, _chosen(section), ask=False)


@blueprint.post("/refresh")
def refresh(section_id: int) -> ResponseReturnValue:
    """When the page is opened: the registrar's answers and what it has, without a word where nothing is new."""
    section = _linked(instructors_section(section_id))
    outcome = check_registrar(section, new_act(section_id), gateway(), quiet=True)
    tell(outcome)
    fresh = whole_section(section_id)
    return _page(fresh, _chosen(fresh), ask=False)


def _linked(section: SectionState) -> SectionState:
    if not section.linked:
        abort(404)
    return section


@blueprint.post("/changes/<student_id>")
def ask(section_id: int, student_id: str) -> ResponseReturnValue:
    """Ask for a change of grade: kept first, then sent."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    try:
        typed = _typed_request()
    except Refused as error:
        return _page(section, student, error)
    asker = acts.Asker(current_user.name, my_email())
    outcome = acts.ask_change(section, new_act(section_id), gateway(), student, typed, asker)
    if isinstance(outcome, Refused):
        return _page(section, student, outcome)
    tell_without_undo(outcome)
    return _back(section)


def _typed_request() -> acts.TypedRequest:
    form, upload = request.form, request.files.get("evidence")
    typed, why, note = typed_settled(), form.get("why", ""), form.get("evidence_note", "")
    if upload is None or not upload.filename:
        return acts.TypedRequest(typed, why, note)
    return acts.TypedRequest(typed, why, note, upload.filename, upload.read(acts.LARGEST_EVIDENCE + 1))


def _back(section: SectionState) -> ResponseReturnValue:
    return redirect(url_for("after.show", section_id=section.id))


@blueprint.post("/changes/again/<int:change_id>")
def ask_again(section_id: int, change_id: int) -> ResponseReturnValue:
    """Send a request again that was not confirmed: the registrar takes it once."""
    section = _linked(instructors_section(section_id))
    tell(acts.send_change(section, new_act(section_id), gateway(), change_id))
    return _back(section)


@blueprint.post("/check")
def check_copy(section_id: int) -> ResponseReturnValue:
    """Ask the registrar for its answers and what it has now."""
    section = _linked(instructors_section(section_id))
    tell(check_registrar(section, new_act(section_id), gateway()))
    return _back(section)


@blueprint.get("/changes/evidence/<int:change_id>")
def evidence(section_id: int, change_id: int) -> ResponseReturnValue:
    """The file kept with a change of grade, to be saved and never shown in the page."""
    whole_section(section_id)
    kept = grade_changes.evidence_of(database(), section_id, change_id)
    if kept is None:
        abort(404)
    return download(kept.content, re.sub(r"[^A-Za-z0-9._ -]", "_", kept.name), "application/octet-stream")


@blueprint.post("/archive")
def make_archive(section_id: int) -> ResponseReturnValue:
    """Everything about the section in one file; its digest goes into the history."""
    section = whole_section(section_id)
    try:
        data = acts.make_archive(section, new_act(section_id))
    except Refused as refused:
        return show_error(503, "The archive was not made", f"It {refused.reason}.")
    return download(data, file_name(section.name.short, section.term.name, ending=".archive.zip"), "application/zip")
