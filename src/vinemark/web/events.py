"""What a request leaves in the log of security events."""

import logging

from flask import Response, g, request
from flask_login import current_user

from vinemark.store.looked import ALL_STUDENTS, Looker, note_look
from vinemark.store.security_log import EventKind, SecurityEvent, note_event
from vinemark.store.trouble import DatabaseError
from vinemark.web.databases import database
from vinemark.web.request import my_email, settings

_log = logging.getLogger("vinemark.security")
RECORDS = {"scores.margin", "papers.student_working", "scores.cell_history", "statement.preview"}
SEEN_BY_OTHERS = {
    "scores.show": "the score sheet", "scores.margin": "how a grade was worked out",
    "scores.cell_history": "the history of a score", "settle.show": "the settled grades",
    "settle.about": "what is known of a settled grade", "audit.show": "the audit", "submit.show": "what was submitted",
    "after.show": "what was posted", "history.show": "the history", "class_list.show": "the class list",
    "statement.preview": "the statement", "groups.show": "the groups", "entry.show": "scores to enter",
}  # fmt: skip
"""What is noted of a section where somebody else than its instructor opens it."""
PRINTED_OR_EXPORTED = {
    "papers.student_working": "steps of a grade, to print", "papers.student_record": "record, to print",
    "papers.all_records": "records, to print", "papers.class_list": "class list, to print",
    "papers.audit_document": "audit, to print", "papers.moves": "what moves a grade, to print",
    "submit_papers.proof": "proof sheet, to print", "submit_papers.proof_table": "proof sheet, exported",
    "submit_papers.receipt": "receipt, to print", "submit_papers.signed": "signed grades, exported",
    "submit_papers.comparison": "comparison with the registrar, exported",
    "submit_papers.grade_file": "grades for the registrar, exported", "outside_totals.on_paper": "comparison, to print",
    "exports.take": "exported", "made.give": "file that was made", "after.make_archive": "archive, exported",
    "looked.take": "who looked, exported",
}  # fmt: skip
"""What is noted whoever does it."""
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


def _note_look() -> None:
    """Who looks at the records of a section's students, or takes something of them out."""
    endpoint, values = request.endpoint or "", request.view_args or {}
    what = PRINTED_OR_EXPORTED.get(endpoint)
    if what is None and g.get("role") not in {None, "instructor"}:
        what = SEEN_BY_OTHERS.get(endpoint)
    if what is None or "section_id" not in values:
        return
    detail = f"{values['name']}, {what}" if endpoint == "exports.take" else what
    who = Looker(my_email(), str(current_user.name), g.get("role", ""))
    try:
        student = str(values.get("student_id", ALL_STUDENTS))
        note_look(database(), values["section_id"], student, settings().clock.now(), who, detail)
    except DatabaseError:
        _log.exception("not kept: %s looked at section %s: %s", who.email, values["section_id"], detail)


def log_answer(response: Response) -> Response:
    """Write down what was refused to somebody, and what was taken out."""
    if request.endpoint in NOBODYS or not current_user.is_authenticated:
        return response
    if response.status_code == 200:
        _note_look()
    if response.status_code == 403:
        tell_log("refused", f"{request.method} {request.path}")
    elif request.endpoint in TAKEN_OUT and response.status_code == 200:
        tell_log("file taken out", request.path)
    elif request.endpoint in RECORDS and response.status_code == 200 and g.get("role") != "instructor":
        tell_log("record seen", request.path)
    return response
