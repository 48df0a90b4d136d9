"""The office's web application: a JSON interface for instructors' programs and plain pages for the registrar."""

import hmac
import json
import re
import secrets
import time
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from flask import Flask, abort, current_app, g, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFProtect
from werkzeug.exceptions import HTTPException

from vinemark.clock import Clock
from vinemark.core.submission import digest, held_row
from vinemark.office import ledger
from vinemark.store.database import Connection, connect, migrate

MAX_BODY = 4 * 1024 * 1024


@dataclass(frozen=True)
class OfficeSettings:
    """How the office runs. `answer_delay` seconds pass between keeping a sending and answering it."""

    database: str
    token: str
    clock: Clock
    answer_delay: float = 0.0


def create_office(settings: OfficeSettings) -> Flask:
    """The office as a WSGI application."""
    app = Flask(__name__)
    app.config.update(SECRET_KEY=secrets.token_hex(32), SESSION_COOKIE_NAME="office", MAX_CONTENT_LENGTH=MAX_BODY)
    app.extensions["office"] = settings
    connection = connect(settings.database)
    migrate(connection, "vinemark.office")
    connection.close()
    app.template_filter("fromjson")(json.loads)
    csrf = CSRFProtect(app)
    _add_interface(app, csrf)
    _add_pages(app)
    app.teardown_appcontext(_close)
    app.after_request(_headers)
    return app


def _settings() -> OfficeSettings:
    settings: OfficeSettings = current_app.extensions["office"]
    return settings


def _db() -> Connection:
    if "office_db" not in g:
        g.office_db = connect(_settings().database)
    connection: Connection = g.office_db
    return connection


def _close(_: BaseException | None) -> None:
    connection = g.pop("office_db", None)
    if connection is not None:
        connection.close()


def _headers(response: Any) -> Any:
    response.headers["Content-Security-Policy"] = (
        "default-src 'none'; style-src 'self'; img-src 'self' data:; form-action 'self'; base-uri 'none'; "
        "frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    return response


# --- the interface ----------------------------------------------------------------------------


def _add_interface(app: Flask, csrf: CSRFProtect) -> None:
    routes = [
        ("/api/sections", "api_sections", _api_sections, "GET"),
        ("/api/sections/<ref>", "api_section", _api_section, "GET"),
        ("/api/sections/<ref>/runs/<run>/grades", "api_grades", _api_grades, "GET"),
        ("/api/sections/<ref>/runs/<run>/sendings", "api_send", _api_send, "POST"),
    ]
    for rule, endpoint, view, method in routes:
        app.add_url_rule(rule, endpoint, csrf.exempt(view), methods=[method])
    app.before_request(_require_token)
    app.register_error_handler(HTTPException, _api_error)


def _require_token() -> None:
    if request.path.startswith("/api/"):
        given = request.headers.get("Authorization", "").removeprefix("Bearer ")
        if not hmac.compare_digest(given.encode(), _settings().token.encode()):
            abort(401, "the office does not know this program")


def _api_error(error: HTTPException) -> ResponseReturnValue:
    if request.path.startswith("/api/"):
        return jsonify(error=error.description), error.code or 500
    return error.get_response()


def _api_sections() -> ResponseReturnValue:
    rows = ledger.sections(_db(), request.args.get("instructor", ""))
    return jsonify(sections=[_section_values(row) for row in rows])


def _section_values(row: Any) -> dict[str, Any]:
    keys = ("ref", "course", "title", "number", "opens", "due", "posted_at", "people")
    term = {"code": row["term"], "name": row["term_name"], "starts": row["starts"], "ends": row["ends"]}
    return {**{key: row[key] for key in keys}, "term": term}


def _api_section(ref: str) -> ResponseReturnValue:
    row = _found(ref)
    return jsonify(**_section_values(row), roster=ledger.roster(_db(), ref), rules=ledger.school(_db())["rules"])


def _found(ref: str) -> Any:
    row = ledger.section(_db(), ref)
    if row is None:
        abort(404, "there is no such section")
    return row


def _api_grades(ref: str, run: str) -> ResponseReturnValue:
    row = _found(ref)
    _known_run(run)
    return jsonify(grades=ledger.held(_db(), ref, run), posted_at=row["posted_at"])


def _known_run(run: str) -> None:
    if run != "final":
        abort(404, f"there is no {run} run")


def _api_send(ref: str, run: str) -> ResponseReturnValue:
    _known_run(run)
    body = _sending_body()
    try:
        receipt = ledger.receive(_db(), ref, run, body, _settings().clock.now())
    except ledger.NotTakenError as error:
        return jsonify(error=str(error)), 409
    time.sleep(_settings().answer_delay)
    return jsonify(receipt)


def _sending_body() -> Mapping[str, Any]:
    body = request.get_json(silent=True)
    if not isinstance(body, dict) or not re.fullmatch(r"[0-9A-Za-z-]{16,64}", str(body.get("key"))):
        abort(400, "a sending needs a key of 16 to 64 letters, digits and hyphens")
    rows = body.get("rows")
    if (
        not isinstance(rows, list)
        or not rows
        or not all(isinstance(r, dict) and "id" in r and "code" in r for r in rows)
    ):
        abort(400, "a sending needs rows, each with an id and a code")
    if digest(held_row(r) for r in rows) != body.get("digest"):
        abort(400, "the digest does not fit the rows")
    return body


# --- the registrar's pages --------------------------------------------------------------------


def _add_pages(app: Flask) -> None:
    app.add_url_rule("/", "index", _index)
    app.add_url_rule("/sections/<ref>", "section", _section)
    app.add_url_rule("/sections/<ref>/post", "post", _post, methods=["POST"])
    app.add_url_rule("/sections/<ref>/roster/<student>", "status", _status, methods=["POST"])


def _index() -> ResponseReturnValue:
    return render_template(
        "office/index.html", school=ledger.school(_db()), sections=ledger.sections(_db()), now=_settings().clock.now()
    )


def _section(ref: str) -> ResponseReturnValue:
    grades = {grade["id"]: grade for grade in ledger.held(_db(), ref, "final")}
    return render_template(
        "office/section.html",
        school=ledger.school(_db()),
        section=_found(ref),
        roster=ledger.roster(_db(), ref),
        grades=grades,
        sendings=ledger.received(_db(), ref),
        now=_settings().clock.now(),
    )


def _post(ref: str) -> ResponseReturnValue:
    _found(ref)
    ledger.post(_db(), ref, "final", _now())
    return redirect(url_for("section", ref=ref))


def _status(ref: str, student: str) -> ResponseReturnValue:
    _found(ref)
    status = request.form.get("status", "")
    if status not in {"enrolled", "withdrawn", "auditing"}:
        abort(400)
    ledger.set_status(_db(), ref, student, status)
    return redirect(url_for("section", ref=ref))


def _now() -> datetime:
    return _settings().clock.now()
