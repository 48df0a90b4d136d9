"""History: who changed what and when, and undo where that makes sense."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.course.course import RUNS
from vinemark.store import history
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.undo import NothingToUndoError, can_undo, undo
from vinemark.web.context import act, database, leave_notice, page, require_sign_in, standing

blueprint = Blueprint("history", __name__, url_prefix="/s/<int:section_id>/history")
blueprint.before_request(require_sign_in)

PAGES = ("plan", "scores", "settle", "submit", "history")
RUN_PAGES = ("settle", "submit")


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The section's history, newest first."""
    entries = history.of_section(database(), section_id)
    return page("history", standing(section_id), entries=entries, can_undo=can_undo)


@blueprint.post("/undo/<int:entry_id>")
def undo_entry(section_id: int, entry_id: int) -> ResponseReturnValue:
    """Undo one entry, as a write of its own, and go back to the page it was asked from."""
    found = standing(section_id)
    if found.section.role != "instructor":
        leave_notice("Only the instructor can undo this.", trouble=True)
    else:
        _undo(section_id, entry_id)
    step = request.form.get("step", "history")
    run = request.form.get("run") if step in RUN_PAGES else None
    return redirect(
        url_for(f"{step if step in PAGES else 'history'}.show", section_id=section_id, run=run if run in RUNS else None)
    )


def _undo(section_id: int, entry_id: int) -> None:
    try:
        leave_notice(f"Undone: {undo(database(), act(section_id), entry_id).what}.")
    except (NothingToUndoError, ChangedSinceError) as error:
        leave_notice(str(error), trouble=True)
    except AlreadyDoneError:
        pass
