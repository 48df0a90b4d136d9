"""Each request has an id: on its answer, on an error's page, and in a line of the log that names no student."""

import json
import logging
import secrets
import time
from datetime import UTC, datetime

from flask import Flask, Response, g, request

_log = logging.getLogger("vinemark.requests")


def name_requests(app: Flask) -> None:
    """Give every request of an application its id, and log its answer; before anything else of it looks at one."""
    app.before_request(_name)
    app.after_request(_told)


def request_id() -> str:
    """The id of this request."""
    found = g.get("request_id")
    if found is None:
        found = g.request_id = secrets.token_hex(6)
    return str(found)


def _name() -> None:
    g.began = time.perf_counter()
    request_id()


def _told(response: Response) -> Response:
    response.headers["X-Request-Id"] = request_id()
    if _log.isEnabledFor(logging.INFO):
        _log.info("%s", json.dumps(_line(response.status_code)))
    return response


def _line(status: int) -> dict[str, object]:
    """What the log says of this request: its route and not its address, which could have a student's number in it."""
    return {
        "at": datetime.now(UTC).isoformat(timespec="milliseconds"),
        "id": request_id(),
        "method": request.method,
        "route": str(request.url_rule or "none"),
        "section": (request.view_args or {}).get("section_id"),
        "status": status,
        "ms": round(1000 * (time.perf_counter() - g.get("began", time.perf_counter()))),
        "person": _person(),
    }


def _person() -> str | None:
    """The number of who is signed in, where that was asked for already."""
    user = g.get("_login_user")
    return str(user.get_id()) if user is not None and user.is_authenticated else None
