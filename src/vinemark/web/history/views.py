"""History: who changed what and when, and undo where that makes sense."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.course.course import RUNS
from vinemark.section.acts.undo import undo
from vinemark.store.history import ENTRIES_SHOWN, entries_of
from vinemark.store.undo import can_undo
from vinemark.web.request import any_section, database, new_act, page, require_sign_in, tell_without_undo, whole_section

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
    entries = entries_of(database(), section_id, before=earlier)
    more = entries[-1]["id"] if len(entries) == ENTRIES_SHOWN else None
    undoable = {entry["id"] for entry in entries if can_undo(entry)} if section.role == "instructor" else set()
    return page("history", section, entries=entries, undoable=undoable, earlier=earlier, more=more)


@blueprint.post("/undo/<int:entry_id>")
def undo_entry(section_id: int, entry_id: int) -> ResponseReturnValue:
    """Undo one entry, as a write of its own, and go back to the page it was asked from."""
    tell_without_undo(undo(any_section(section_id), new_act(section_id), entry_id))
    step = request.form.get("step", "history")
    run = request.form.get("run") if step in WITH_RUN else None
    shown = run if run in RUNS else None
    return redirect(url_for(f"{step if step in RETURN_TO else 'history'}.show", section_id=section_id, run=shown))
