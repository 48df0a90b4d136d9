"""What a view stands on: the connection, the person, their section, the request as an act, and what came of it."""

import re
import secrets
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from flask import abort, current_app, g, jsonify, make_response, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.base.refused import Refused
from vinemark.core.college.college import CollegePart
from vinemark.core.course.course import RUNS, Run, Student
from vinemark.core.plan.plan import Item
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.snapshot import Snapshots
from vinemark.section.state import SectionState, open_section, state_of
from vinemark.settings import Settings
from vinemark.store import sign_ins
from vinemark.store.history import Act
from vinemark.store.section_people import take_up_roles
from vinemark.store.sections import section_of_subjects
from vinemark.web.databases import database, databases_here
from vinemark.web.incoming import sent_text

WITHIN_A_LIMIT = frozenset({"entry.show", "entry.save", "statement.show", "statement.try_own", "statement.ask"})
"""All that a grader who is limited reaches of a section; the statement is a student's own."""
SAME_PLACE = "same-place"
"""The anchor after which the score sheet stands where it stood before the page was loaded again."""


def settings() -> Settings:
    """The application's settings."""
    found: Settings = current_app.extensions["vinemark"]
    return found


def gateway() -> Gateway:
    """The way to the registrar."""
    found: Gateway = current_app.extensions["vinemark.gateway"]
    return found


def snapshots() -> Snapshots:
    """The snapshots that all requests share."""
    found: Snapshots = current_app.extensions["vinemark.snapshots"]
    return found


def person_id() -> int:
    """Who is signed in."""
    return int(current_user.get_id())


def my_email() -> str:
    """The email address by which the registrar knows the signed-in person."""
    return str(current_user.email)


def require_sign_in() -> ResponseReturnValue | None:
    """Before each view of a blueprint: somebody must be signed in."""
    typist = request.headers.get("X-Person")
    if current_user.is_authenticated and typist in (None, current_user.get_id()):
        return _require_second_step()
    if is_htmx() or request.is_json or typist is not None:
        g.mark = "sign-in"
        return make_response("Sign in again.", 401)
    wanted = request.full_path.rstrip("?") if request.method == "GET" else None
    return redirect(url_for("people.sign_in", next=wanted))


def _require_second_step() -> ResponseReturnValue | None:
    """Where the college asks for a second step, nothing opens before it is set up."""
    if not settings().two_steps or current_user.second_step:
        return None
    return redirect(url_for("second_step.new"))


def is_htmx() -> bool:
    """Whether the request asks for parts of a page."""
    return request.headers.get("HX-Request") == "true"


def new_act(section_id: int | None = None) -> Act:
    """This request as a write: who, when, where, from which page, and the key that makes a retry the same write."""
    key = sent_text("key")
    who, seen = person_id(), request.form.get("shown", "")
    return Act(
        who,
        settings().clock.now(),
        section_id,
        f"{who}:{key}" if key else None,
        request.headers.get("X-Page", "")[:64] or None,
        int(seen) if seen.isascii() and seen.isdigit() and len(seen) < 16 else None,
    )


def fields_led_by(lead: str) -> dict[str, str]:
    """Fields of the form such as group-L1, by what follows the lead."""
    return {name.removeprefix(lead): value for name, value in request.form.items() if name.startswith(lead)}


def numbered_fields(lead: str) -> dict[int, str]:
    """Fields of the form such as row-3, by their number."""
    fields = fields_led_by(lead)
    return {int(number): value for number, value in fields.items() if number.isascii() and number.isdigit()}


def new_key() -> str:
    """A key for a form."""
    return secrets.token_urlsafe(16)


# What a person may do with a section is theirs by their role in it.


def any_section(section_id: int) -> SectionState:
    """The section at the run the address names, or 404 where it is not this person's."""
    found = _opened(section_id)
    if found is None and take_up_roles(database(), person_id(), my_email()):
        found = _opened(section_id)
    if found is None:
        found = _opened_by_chair(section_id)
    if found is None:
        abort(404)
    g.role = found.role
    if found.record.limit.is_one and request.endpoint not in WITHIN_A_LIMIT:
        abort(403, "Your part here is limited: the Desk leads to the scores that you enter.")
    return found


def limited_section(section_id: int) -> SectionState:
    """The section, for a grader who is limited to some of it."""
    found = any_section(section_id)
    if not found.record.limit.is_one or found.role != "grader":
        abort(404)
    return found


def _opened(section_id: int) -> SectionState | None:
    return open_section(database(), snapshots(), person_id(), section_id, settings().clock.now(), _run())


def _opened_by_chair(section_id: int) -> SectionState | None:
    """A section of a department that the person chairs, as a reviewer has it, where the college allows it."""
    part: CollegePart = current_user.part
    record = section_of_subjects(database(), part.subjects, section_id) if part.opens else None
    if record is None:
        return None
    return state_of(database(), snapshots(), record, settings().clock.now(), person_id(), _run())


def _run() -> Run:
    named = request.args.get("run", "final")
    run = next((run for run in RUNS if run == named), None)
    if run is None:
        abort(404)
    return run


def writable_section(section_id: int) -> SectionState:
    """The section, for a person who may enter scores."""
    return _for_roles(section_id, "instructor", "grader")


def whole_section(section_id: int) -> SectionState:
    """The section, for one who may read all of it: its instructor or a reviewer."""
    return _for_roles(section_id, "instructor", "reviewer")


def instructors_section(section_id: int) -> SectionState:
    """The section, for an act that only its instructor may do."""
    return _for_roles(section_id, "instructor")


def _for_roles(section_id: int, *roles: str) -> SectionState:
    found = any_section(section_id)
    if found.role not in roles:
        abort(403)
    return found


def student_of(section: SectionState, student_id: str) -> Student:
    """A student of the section, or 404."""
    found = section.course.student(student_id)
    if found is None:
        abort(404)
    return found


def item_of(section: SectionState, item_id: str) -> Item:
    """An item of the section's plan, or 404."""
    found = section.course.plan.columns.get(item_id)
    if found is None:
        abort(404)
    return found


@dataclass(frozen=True)
class Notice:
    """A sentence shown after an act, with the entry that would undo it."""

    text: str
    undo: int | None = None
    trouble: bool = False
    repeat: Mapping[str, Sequence[str]] | None = None


def notice_of(outcome: Outcome, refused: str = "", again: SectionState | None = None) -> Notice | None:
    """What is said of an outcome; `refused` leads in what was refused, where that has no place of its own.

    With `again`, a conflict carries what would do it all the same: the request, over the section as it is now.
    """
    if isinstance(outcome, Refused):
        return Notice(f"{refused}{outcome.reason}", trouble=True)
    if isinstance(outcome, Conflict):
        return Notice(outcome.text, trouble=True, repeat=_repeated(again) if again else None)
    return Notice(outcome.text, outcome.entry, outcome.trouble) if outcome.text else None


def _repeated(section: SectionState) -> dict[str, Sequence[str]]:
    names = set(request.form) - {"key", "csrf_token", "shown"}
    typed: dict[str, Sequence[str]] = {name: request.form.getlist(name) for name in names}
    return typed | {"shown": [str(section.fresh().snapshot.version)]}


def sign_in_key() -> str:
    """The key by which the browser is signed in; empty where it is not."""
    found = session.get("key")
    return found if isinstance(found, str) else ""


def tell(outcome: Outcome, refused: str = "") -> None:
    """Say on the next page what came of an act."""
    _leave(notice_of(outcome, refused))


def tell_without_undo(outcome: Outcome) -> None:
    """The same for an act whose entry is no entry of the history."""
    notice = notice_of(outcome)
    _leave(replace(notice, undo=None) if notice else None)


def _leave(notice: Notice | None) -> None:
    if notice is not None:
        left = [notice.text, notice.undo, notice.trouble, _section_of_address()]
        sign_ins.leave_notice(database(), sign_in_key(), left, time.time())


def _section_of_address() -> object:
    return (request.view_args or {}).get("section_id")


def take_notice() -> Notice | None:
    """The sentence left for this page, once; it can be undone only on the pages of its own section."""
    key = sign_in_key()
    left = next((found for one in databases_here() if (found := sign_ins.noticed(one, key)) is not None), None)
    if left is None:
        return None
    text, undo, trouble, section = left
    return Notice(text, undo if section == _section_of_address() else None, trouble)


def page(
    step: str, section: SectionState, status: int = 200, folder: str | None = None, **values: Any
) -> ResponseReturnValue:
    """A step's page, or only its parts where htmx asks; `_work` and `_margin` templates stand in its folder."""
    notice = values.pop("notice", None) or take_notice()
    shown = {
        "step": step,
        "folder": folder or step,
        "section": section,
        "now": section.now,
        "notice": notice,
        **values,
    }
    if is_htmx():
        return render_template("ui/parts.html", **shown), status
    return render_template(f"{folder or step}/page.html", **shown), status


def file_name(*parts: str, ending: str) -> str:
    """A name for a file that every system takes."""
    return f"{re.sub(r'[^A-Za-z0-9]+', '-', ' '.join(parts)).strip('-') or 'section'}{ending}"


def download(data: str | bytes, name: str, kind: str, where: str = "attachment") -> ResponseReturnValue:
    """A file to be saved under a name."""
    response = make_response(data)
    response.mimetype = kind
    response.headers["Content-Disposition"] = f'{where}; filename="{name}"'
    return response


def show_error(code: int, title: str, text: str, extra: Mapping[str, str] | None = None) -> ResponseReturnValue:
    """An error in the look of the application, or one line where htmx or a script asks."""
    if request.is_json:
        return jsonify(reason="cannot be saved by you here" if code in {403, 404} else text), code
    if is_htmx():
        return make_response(text, code)
    return render_template("ui/error.html", code=code, title=title, text=text, **(extra or {})), code
