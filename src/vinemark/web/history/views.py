"""History: who changed what and when, and undo where that makes sense."""

from itertools import groupby

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.course.course import RUNS
from vinemark.section.acts.undo import undo
from vinemark.section.history_words import GROUPS, TOLD, entry_detail
from vinemark.store.chain import last_seal
from vinemark.store.history import ENTRIES_SHOWN, WantedEntries, entries_of
from vinemark.store.undo import can_undo
from vinemark.web.databases import database
from vinemark.web.request import (
    SAME_PLACE,
    any_section,
    new_act,
    page,
    require_sign_in,
    tell_without_undo,
    whole_section,
)

blueprint = Blueprint("history", __name__, url_prefix="/s/<int:section_id>/history")
blueprint.before_request(require_sign_in)

RETURN_TO = ("plan", "scores", "settle", "submit", "history")
WITH_RUN = ("settle", "submit")
LONGEST_ID = 16


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The section's history, newest first, a page at a time."""
    section, before = whole_section(section_id), request.args.get("before", "")
    earlier = int(before) if before.isascii() and before.isdigit() and len(before) < LONGEST_ID else None
    group, student = request.args.get("kind", ""), request.args.get("student", "")
    wanted = WantedEntries(GROUPS.get(group, ()), student if section.course.student(student) else "")
    entries = entries_of(database(), section_id, before=earlier, wanted=wanted)
    more = entries[-1]["id"] if len(entries) == ENTRIES_SHOWN else None
    undoable = {entry["id"] for entry in entries if can_undo(entry)} if section.role == "instructor" else set()
    return page(
        "history",
        section,
        days=[(day, list(of_day)) for day, of_day in groupby(entries, lambda entry: str(entry["at"])[:10])],
        undoable=undoable,
        earlier=earlier,
        more=more,
        told=TOLD,
        groups=list(GROUPS),
        group=group if group in GROUPS else "",
        student=wanted.student,
        students=sorted(section.course.students, key=lambda one: one.name),
        seal=last_seal(database(), section_id),
    )


@blueprint.get("/<int:entry_id>")
def detail(section_id: int, entry_id: int) -> ResponseReturnValue:
    """What one entry changed, in words."""
    found = entry_detail(whole_section(section_id), entry_id)
    if found is None:
        abort(404)
    return render_template("history/_detail.html", detail=found)


@blueprint.post("/undo/<int:entry_id>")
def undo_entry(section_id: int, entry_id: int) -> ResponseReturnValue:
    """Undo one entry, as a write of its own, and go back to the page it was asked from."""
    tell_without_undo(undo(any_section(section_id), new_act(section_id), entry_id))
    step = request.form.get("step", "history")
    run = request.form.get("run") if step in WITH_RUN else None
    shown = run if run in RUNS else None
    back = f"{step if step in RETURN_TO else 'history'}.show"
    place = SAME_PLACE if step == "scores" else None
    return redirect(url_for(back, section_id=section_id, run=shown, _anchor=place))
