"""The registrar's web application: a JSON interface for instructors' programs and plain pages for the registrar."""

import json
import secrets
from typing import Any

from flask import Flask
from flask_wtf.csrf import CSRFProtect

from vinemark.core.base.dates import clock_words, iso_day_words, use_style, weekday_time_words, weekday_words
from vinemark.core.base.moments import moment_of
from vinemark.office import api, pages
from vinemark.office.context import OfficeSettings, close, open_day
from vinemark.store.database import connect, migrate

__all__ = ["OfficeSettings", "create_office"]

MAX_BODY = 4 * 1024 * 1024


def create_office(settings: OfficeSettings) -> Flask:
    """The registrar as a WSGI application."""
    app = Flask(__name__)
    app.config.update(SECRET_KEY=secrets.token_hex(32), SESSION_COOKIE_NAME="office", MAX_CONTENT_LENGTH=MAX_BODY)
    app.config.update(SESSION_COOKIE_SAMESITE="Lax", SESSION_COOKIE_HTTPONLY=True)
    app.extensions["office"] = settings
    connection = connect(settings.database)
    migrate(connection, "vinemark.office")
    connection.close()
    app.add_template_global(pages.registrar)
    app.add_template_global(lambda: bool(settings.code), "asks_for_code")
    app.template_filter("fromjson")(json.loads)
    use_style(settings.dates)
    app.template_filter("moment")(_moment)
    app.template_filter("day")(lambda value: iso_day_words(str(value)) if value else "")
    app.template_filter("weekday")(weekday_words)
    app.template_filter("clock")(clock_words)
    csrf = CSRFProtect(app)
    app.register_blueprint(api.blueprint)
    csrf.exempt(api.blueprint)
    app.register_blueprint(pages.blueprint)
    app.before_request(open_day)
    app.teardown_appcontext(close)
    app.after_request(_headers)
    return app


def _moment(value: str | None) -> str:
    return weekday_time_words(moment_of(value)) if value else ""


def _headers(response: Any) -> Any:
    response.headers["Content-Security-Policy"] = (
        "default-src 'none'; style-src 'self'; img-src 'self' data:; form-action 'self'; base-uri 'none'; "
        "frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    return response
