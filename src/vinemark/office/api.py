"""The JSON interface: sections, rosters and rules to pull, grades to send and read back, changes of grade."""

import hashlib
import re
import time
from base64 import b64decode
from collections.abc import Mapping
from typing import Any

from flask import Blueprint, Response, abort, g, jsonify, request
from flask.typing import ResponseReturnValue
from werkzeug.exceptions import HTTPException

from vinemark.core.base.moments import moment_of, stamp
from vinemark.core.base.refused import Refused
from vinemark.core.submit.grade_row import digest, read_grade_row
from vinemark.office import ledger, ledger_grades
from vinemark.office.access import instructor_of
from vinemark.office.context import database, found_section, now, settings

blueprint = Blueprint("api", __name__, url_prefix="/api")
LONGEST_CHANGE_REASON = 2000
LARGEST_CHANGE = 16 * 1024 * 1024
"""Bytes of a request with its evidence."""
EVIDENCE = ("note", "file", "sha256", "content")


@blueprint.before_request
def require_token() -> ResponseReturnValue | None:
    """Only a program with a token for an instructor is answered, of that instructor's sections, in fair weather."""
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    instructor = instructor_of(settings().secret, given)
    if instructor is None:
        abort(401, "the registrar does not know this program")
    g.instructor = instructor
    ref = (request.view_args or {}).get("ref")
    if ref is not None and not ledger.teaches(database(), instructor, ref):
        abort(404, "there is no such section of this instructor")
    g.weather = ledger.weather(database())
    time.sleep(g.weather.slow_seconds)
    if g.weather.down:
        return jsonify(error="the registrar is down"), 503
    return None


@blueprint.after_request
def lose_answer(response: Response) -> Response:
    """In bad weather what was asked is done and the answer breaks off."""
    if "weather" in g and g.weather.lose_answers and request.method == "POST":
        response.headers["Content-Length"] = str(len(response.data) + 1000)
    return response


@blueprint.errorhandler(HTTPException)
def api_error(error: HTTPException) -> ResponseReturnValue:
    """Errors as JSON; what is wrong with a request names its key."""
    named = _key_of_request() if error.code == 400 else {}
    return jsonify(error=error.description, **named), error.code or 500


@blueprint.errorhandler(ledger_grades.NotTakenError)
def not_taken(error: ledger_grades.NotTakenError) -> ResponseReturnValue:
    """What is not taken as a whole: a verdict on the key it came under."""
    return jsonify(error=str(error), **_key_of_request()), 409


def _key_of_request() -> dict[str, str]:
    body = request.get_json(silent=True)
    return {"key": str(body["key"])} if isinstance(body, dict) and "key" in body else {}


@blueprint.errorhandler(ledger_grades.BusyError)
def busy(error: ledger_grades.BusyError) -> ResponseReturnValue:
    """What is not taken just now."""
    return jsonify(error=str(error), until=stamp(error.until)), 423


@blueprint.get("/sections")
def sections() -> ResponseReturnValue:
    """The sections of the instructor whom the token is for."""
    rows = ledger.sections(database(), g.instructor)
    return jsonify(sections=[_section_values(row) for row in rows])


def _section_values(row: Mapping[str, Any]) -> dict[str, Any]:
    term = {"code": row["term"], "name": row["term_name"], "starts": row["starts"], "ends": row["ends"]}
    runs = {run: _window_values(window) for run, window in row["runs"].items()}
    return {**{key: row[key] for key in ("ref", "course", "title", "number", "people")}, "term": term, "runs": runs}


def _window_values(window: Mapping[str, Any]) -> dict[str, Any]:
    """A window with its times in their zone; `posted_at` is one already."""
    return {**window, **{key: stamp(moment_of(window[key])) for key in ("opens", "due")}}


@blueprint.get("/sections/<ref>")
def section(ref: str) -> ResponseReturnValue:
    """One section with its roster, the rules for codes, and the registrar's arrangements."""
    row, school = found_section(ref), ledger.school(database())
    return jsonify(
        **_section_values(row),
        roster=ledger.roster(database(), ref),
        rules=school["rules"],
        arrangements=school["arrangements"],
    )


@blueprint.get("/sections/<ref>/runs/<run>/grades")
def grades(ref: str, run: str) -> ResponseReturnValue:
    """What the registrar has, what it let fall back, and its answers to changes of grade."""
    row = _known_run(ref, run)
    final = run == "final"
    return jsonify(
        grades=ledger_grades.held(database(), ref, run),
        posted_at=row["posted_at"],
        fell_back=ledger_grades.fallen_back(database(), ref) if final else [],
        changes=[ledger_grades.change_values(r) for r in ledger_grades.changes(database(), ref)] if final else [],
    )


def _known_run(ref: str, run: str) -> Mapping[str, Any]:
    runs: Any = found_section(ref)["runs"]
    if run not in runs:
        abort(404, f"there is no {run} run")
    found: Mapping[str, Any] = runs[run]
    return found


@blueprint.post("/sections/<ref>/runs/<run>/sendings")
def send(ref: str, run: str) -> ResponseReturnValue:
    """Take one sending; the receipt."""
    _known_run(ref, run)
    receipt = ledger_grades.receive(database(), ref, run, _sending_body(), now())
    time.sleep(settings().answer_delay)
    return jsonify(receipt)


def _keyed_body(what: str) -> dict[str, Any]:
    body = request.get_json(silent=True)
    if not isinstance(body, dict) or not re.fullmatch(r"[0-9A-Za-z-]{16,64}", str(body.get("key"))):
        abort(400, f"{what} needs a key of 16 to 64 letters, digits and hyphens")
    if not isinstance(body.get("signed_by"), str):
        abort(400, f"{what} needs who signs it")
    return body


def _sending_body() -> dict[str, Any]:
    body = _keyed_body("a sending")
    rows = body.get("rows")
    if not isinstance(rows, list) or not rows or not all(_is_row(row) for row in rows):
        abort(400, "a sending needs rows, each with an id and a code")
    if digest(read_grade_row(row) for row in rows) != body.get("digest"):
        abort(400, "the digest does not fit the rows")
    if not re.fullmatch(r"([0-9a-f]{64})?", str(body.get("history_seal", ""))):
        abort(400, "the seal of the history has 64 hexadecimal digits")
    return body


def _is_row(value: object) -> bool:
    try:
        read_grade_row(value)
    except Refused:
        return False
    return True


@blueprint.post("/sections/<ref>/changes")
def ask_change(ref: str) -> ResponseReturnValue:
    """Take the request for one change of grade."""
    request.max_content_length = LARGEST_CHANGE
    body = _keyed_body("a change of grade")
    if not isinstance(body.get("student"), str) or not _is_row(body.get("new")):
        abort(400, "a change of grade needs a student and the new grade")
    if len(str(body.get("reason") or "")) > LONGEST_CHANGE_REASON:
        abort(400, f"the reason is longer than {LONGEST_CHANGE_REASON} characters")
    _refuse_evidence(body.get("evidence"))
    taken = ledger_grades.ask_change(database(), ref, body, now())
    time.sleep(settings().answer_delay)
    return jsonify(taken)


def _refuse_evidence(evidence: object) -> None:
    """Evidence is nothing, or a note, or a file whose bytes are those of its digest."""
    if evidence is None:
        return
    if not isinstance(evidence, dict) or not all(isinstance(evidence.get(key, ""), str) for key in EVIDENCE):
        abort(400, "the evidence is a note, or a file with its digest and its content")
    if "content" not in evidence:
        return
    try:
        content = b64decode(evidence["content"], validate=True)
    except ValueError:
        abort(400, "the content of the evidence is not base64")
    if hashlib.sha256(content).hexdigest() != evidence.get("sha256"):
        abort(400, "the content of the evidence is not that of its digest")
