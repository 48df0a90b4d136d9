"""What a request leaves in the log of security events."""

import logging

from flask import Response, g, request
from flask_login import current_user

from vinemark.store.security_log import EventKind, SecurityEvent, note_event
from vinemark.store.trouble import DatabaseError
from vinemark.web.databases import database
from vinemark.web.request import my_email, settings

_log = logging.getLogger("vinemark.security")
RECORDS = {"scores.margin", "papers.student_working", "scores.cell_history", "statement.preview"}
NOBODYS = {"asset", "health.show", "machines.who", "machines.left", "machines.leave"}
"""What is answered without asking who asks."""
TAKEN_OUT = {
    "exports.take", "after.make_archive", "after.evidence", "submit_papers.signed", "submit_papers.grade_file",
    "submit_papers.proof_table",
}  # fmt: skip


def tell_log(kind: EventKind, what: str = "", email: str | None = None) -> None:
    """Write down an event of this request; `email` where nobody is signed in."""
    who = my_email() if email is None and current_user.is_authenticated else email or ""
    at = settings().clock.now()
    event = SecurityEvent(at, kind, " ".join(who.split()), request.remote_addr or "", what)
    try:
        note_event(database(), event)
    except DatabaseError:
        # With a full disk pages are read all the same; what cannot be kept is told to the server's own log.
        _log.exception("not kept: %s %s %s %s", event.kind, event.email, event.address, event.what)


def log_answer(response: Response) -> Response:
    """Write down what was refused to somebody, and what was taken out."""
    if request.endpoint in NOBODYS or not current_user.is_authenticated:
        return response
    if response.status_code == 403:
        tell_log("refused", f"{request.method} {request.path}")
    elif request.endpoint in TAKEN_OUT and response.status_code == 200:
        tell_log("file taken out", request.path)
    elif request.endpoint in RECORDS and response.status_code == 200 and g.get("role") != "instructor":
        tell_log("record seen", request.path)
    return response
