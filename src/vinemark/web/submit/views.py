"""Submit: the registrar's roster, then check, sign, send, receipt, compare; for the midterm and the final run."""

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.submit.submission import Submission
from vinemark.section.acts import registrar, submit
from vinemark.section.outcome import Conflict
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.web.request import (
    gateway,
    instructors_section,
    my_email,
    new_act,
    page,
    require_sign_in,
    tell,
    whole_section,
)

blueprint = Blueprint("submit", __name__, url_prefix="/s/<int:section_id>/submit")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The page."""
    return _page(whole_section(section_id))


def _page(section: SectionState, refused: Refused | None = None, ask: bool = True) -> ResponseReturnValue:
    status = 422 if refused else 200
    if not section.linked:
        return page("submit", section, status, state=None)
    names = {s.id: s.name for s in section.course.students}
    asks = ask and section.registrar_stale
    state, silent = SubmitState(section), gateway().silent
    return page("submit", section, status, state=state, names=names, refused=refused, ask=asks, silent=silent)


@blueprint.get("/news")
def news(section_id: int) -> ResponseReturnValue:
    """The page again where something of the section changed since it was shown; else nothing."""
    section = whole_section(section_id)
    if request.args.get("version") == str(section.snapshot.version):
        return "", 204
    return _page(section, ask=False)


def _back(section: SectionState) -> ResponseReturnValue:
    """To the page, at the same run."""
    return redirect(url_for("submit.show", section_id=section.id, run=section.run_arg))


@blueprint.post("/refresh")
def refresh(section_id: int) -> ResponseReturnValue:
    """When the page is opened: ask the registrar, without a word where nothing is new."""
    section = _linked(instructors_section(section_id))
    tell(registrar.refresh(section, new_act(section_id), gateway()))
    return _page(whole_section(section_id), ask=False)


def _linked(section: SectionState) -> SectionState:
    if not section.linked:
        abort(404)
    return section


@blueprint.post("/update")
def update(section_id: int) -> ResponseReturnValue:
    """Fetch roster and rules again, linking the section by its name and term where it is not linked yet."""
    section = instructors_section(section_id)
    if section.linked:
        tell(registrar.update(section, new_act(section_id), gateway()))
    else:
        tell(registrar.link(section, new_act(section_id), gateway(), my_email()))
    return _back(section)


@blueprint.post("/follow")
def follow_roster(section_id: int) -> ResponseReturnValue:
    """Bring the section in line with every change of the roster, in one act with one undo."""
    section = instructors_section(section_id)
    tell(registrar.follow_roster(section, new_act(section_id)))
    return _back(section)


@blueprint.post("/sign")
def sign(section_id: int) -> ResponseReturnValue:
    """Sign the rows that are ready."""
    section = instructors_section(section_id)
    again, reason = request.form.get("refused_again") == "1", request.form.get("reason", "")
    outcome = submit.sign(section, new_act(section_id), again, reason)
    if isinstance(outcome, Refused) and outcome.field == "reason":
        return _page(section, refused=outcome)
    tell(outcome)
    return _back(section)


@blueprint.post("/withdraw/<int:submission_id>")
def withdraw_signature(section_id: int, submission_id: int) -> ResponseReturnValue:
    """Withdraw a signature while nothing has gone out."""
    section = instructors_section(section_id)
    tell(submit.withdraw_signature(section, new_act(section_id), submission_id))
    return _back(section)


def submission_or_404(section: SectionState, submission_id: int) -> Submission:
    """A submission of the section, or 404."""
    found = submit.linked_submission(section, submission_id)
    if found is None:
        abort(404)
    return found


@blueprint.post("/send/<int:submission_id>")
def send(section_id: int, submission_id: int) -> ResponseReturnValue:
    """Send what was signed, under its key: safe to repeat until there is a receipt."""
    section = instructors_section(section_id)
    tell(submit.send(section, new_act(section_id), gateway(), submission_or_404(section, submission_id)))
    return _back(section)


@blueprint.post("/answer/<int:submission_id>")
def take_answer(section_id: int, submission_id: int) -> ResponseReturnValue:
    """The registrar's answer file, matched row by row."""
    section, upload = instructors_section(section_id), request.files.get("answer")
    data = upload.read() if upload is not None and upload.filename else None
    submission = submission_or_404(section, submission_id)
    outcome = submit.take_answer_file(section, new_act(section_id), gateway(), submission, data)
    if isinstance(outcome, Refused):
        return _page(section, refused=outcome)
    tell(outcome)
    return _back(section)


@blueprint.post("/check")
def check_copy(section_id: int) -> ResponseReturnValue:
    """Ask what the registrar has now."""
    section = _linked(instructors_section(section_id))
    outcome = submit.check_copy(section, new_act(section_id), gateway())
    if not isinstance(outcome, Refused | Conflict):
        tell(outcome)
    return _back(section)
