"""The application factory."""

import logging
import os
import secrets
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from urllib.parse import urlsplit

import httpx
from flask import Flask, g
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError, CSRFProtect
from jinja2 import FileSystemBytecodeCache
from werkzeug.exceptions import HTTPException

from vinemark.core.base.dates import use_style
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import Databases, KeptApart
from vinemark.office.client import Office, OfficeClient
from vinemark.section.delivery.by_files import FileOffice, file_folder
from vinemark.section.delivery.cross_listed import CrossListed
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.making import Making
from vinemark.section.snapshot import Snapshots
from vinemark.settings import Settings
from vinemark.store import people
from vinemark.store.database import connect
from vinemark.store.known_secret import is_other_secret, note_secret
from vinemark.store.numbered import prepare_database
from vinemark.store.sign_ins import LONGEST_SECONDS
from vinemark.store.trouble import DatabaseError
from vinemark.web.after.views import blueprint as after
from vinemark.web.audit.outside_views import blueprint as outside_totals
from vinemark.web.audit.views import blueprint as audit
from vinemark.web.board.views import blueprint as board
from vinemark.web.bring.views import blueprint as bring
from vinemark.web.class_list.views import blueprint as class_list
from vinemark.web.college.views import blueprint as college
from vinemark.web.cookies import HostCookies
from vinemark.web.databases import open_databases
from vinemark.web.deleting.views import blueprint as deleting
from vinemark.web.desk.views import blueprint as desk
from vinemark.web.disk_trouble import on_database_error
from vinemark.web.entry.views import blueprint as entry
from vinemark.web.events import log_answer
from vinemark.web.exports.views import blueprint as exports
from vinemark.web.groups.views import blueprint as groups
from vinemark.web.health.views import blueprint as health
from vinemark.web.history.views import blueprint as history
from vinemark.web.incoming import check_requests
from vinemark.web.looked.views import blueprint as looked
from vinemark.web.machines import add_machines
from vinemark.web.made.views import blueprint as made
from vinemark.web.moving.views import blueprint as moving
from vinemark.web.papers.views import blueprint as papers
from vinemark.web.people.email_views import blueprint as own_email
from vinemark.web.people.forgotten_views import blueprint as forgotten
from vinemark.web.people.identity import add_identity
from vinemark.web.people.identity_views import blueprint as identity
from vinemark.web.people.invitation_views import blueprint as invitations
from vinemark.web.people.machine_views import blueprint as machine_pages
from vinemark.web.people.second_views import blueprint as second_step
from vinemark.web.people.views import blueprint as people_pages
from vinemark.web.people.views import set_up_sign_in
from vinemark.web.plan.syllabus_views import blueprint as syllabus
from vinemark.web.plan.views import blueprint as plan
from vinemark.web.questions.views import blueprint as questions
from vinemark.web.removed.views import blueprint as removed
from vinemark.web.request import show_error
from vinemark.web.request_log import name_requests, request_id
from vinemark.web.rosters.views import blueprint as rosters
from vinemark.web.scores.file_views import blueprint as score_files
from vinemark.web.scores.views import blueprint as scores
from vinemark.web.section_people.views import blueprint as section_people
from vinemark.web.seen.views import blueprint as seen
from vinemark.web.settle.views import blueprint as settle
from vinemark.web.statement.views import blueprint as statement
from vinemark.web.submit.paper_views import blueprint as submit_papers
from vinemark.web.submit.views import blueprint as submit
from vinemark.web.ui.assets import add_assets
from vinemark.web.ui.formats import add_filters
from vinemark.web.ui.packing import pack
from vinemark.web.ui.security import add_headers

BLUEPRINTS = (
    people_pages, forgotten, own_email, invitations, identity, second_step, machine_pages,
    desk, plan, syllabus, scores, score_files, bring, class_list, groups,
    exports, made, statement, seen, section_people, questions, audit, papers, outside_totals, health, settle, submit,
    submit_papers, after, history, deleting, board, college, entry, looked, removed, moving, rosters,
)  # fmt: skip
SHORTEST_SECRET = 32
_log = logging.getLogger("vinemark.requests")


def create_app(
    settings: Settings,
    office_transport: httpx.BaseTransport | None = None,
    machine_transport: httpx.BaseTransport | None = None,
) -> Flask:
    """Vine Mark as a WSGI application; the transports let tests stand between it, the registrar and other machines."""
    app = Flask(__name__, static_folder=None)
    _configure(app, settings)
    app.extensions["vinemark.other_secret"] = _prepare_databases(settings.databases, app.config["SECRET_KEY"])
    app.extensions["vinemark"] = settings
    use_style(settings.dates)
    app.extensions["vinemark.gateway"] = Gateway(_office(settings, office_transport))
    app.extensions["vinemark.snapshots"] = Snapshots()
    app.extensions["vinemark.making"] = Making()
    app.extensions["vinemark.first_code"] = settings.first_code or new_first_code()
    name_requests(app)
    check_requests(app)
    open_databases(app, settings.databases)
    add_machines(app, settings.databases, machine_transport)
    add_identity(app, settings)
    csrf = CSRFProtect(app)
    csrf.exempt(machine_pages)
    csrf.exempt("vinemark.web.people.identity_views.signed_out")
    set_up_sign_in(app)
    add_assets(app)
    for blueprint in BLUEPRINTS:
        app.register_blueprint(blueprint)
    add_filters(app)
    app.register_error_handler(HTTPException, _on_error)
    app.register_error_handler(CSRFError, _on_stale_form)
    app.register_error_handler(DatabaseError, on_database_error)
    app.after_request(pack)
    app.after_request(add_headers)
    app.after_request(log_answer)
    return app


def _configure(app: Flask, settings: Settings) -> None:
    app.config.update(
        SECRET_KEY=_secret(settings),
        PERMANENT_SESSION_LIFETIME=timedelta(seconds=LONGEST_SECONDS),
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        # It ends when the sign-in does, however often it is shown: only what changed is signed and sent again.
        SESSION_REFRESH_EACH_REQUEST=False,
        WTF_CSRF_TIME_LIMIT=None,
        SEND_FILE_MAX_AGE_DEFAULT=timedelta(hours=1),
    )
    app.session_interface = HostCookies(settings.secure_cookies)
    # All of them stay: looking one up among a limited number costs more than a small template.
    app.jinja_options = {**app.jinja_options, "cache_size": -1}
    app.jinja_env.trim_blocks = True
    app.jinja_env.lstrip_blocks = True
    if settings.compiled:
        app.jinja_env.bytecode_cache = FileSystemBytecodeCache(settings.compiled)


def _office(settings: Settings, transport: httpx.BaseTransport | None) -> Office:
    folder = file_folder(settings.office_url)
    if folder is not None:
        return CrossListed(FileOffice(folder, settings.clock))
    _refuse_plain_office(settings.office_url)
    return CrossListed(OfficeClient(settings.office_url, settings.office_token, transport))


def _refuse_plain_office(address: str) -> None:
    """Grades and the token go over https to an office that is not on this machine. Raises Refused."""
    parts = urlsplit(address)
    if parts.scheme != "https" and parts.hostname not in {"localhost", "127.0.0.1", "::1"}:
        raise Refused("VINEMARK_OFFICE_URL", "must begin with https:// where the registrar is not on this machine")


def first_code(app: Flask) -> str:
    """The code for making the first account; empty where somebody has one, or other machines have the people."""
    databases: Databases = app.extensions["vinemark.databases"]
    if databases.home not in databases.here:
        return ""
    with closing(connect(databases.home.file)) as connection:
        return "" if people.anybody(connection) else str(app.extensions["vinemark.first_code"])


def secret_is_another(app: Flask) -> bool:
    """Whether the database was served with another secret before."""
    return bool(app.extensions["vinemark.other_secret"])


def new_first_code() -> str:
    """A code for the first account, easy to type over from a terminal."""
    drawn = "".join(secrets.choice("abcdefghjkmnpqrstuvwxyz23456789") for _ in range(12))
    return f"{drawn[:4]}-{drawn[4:8]}-{drawn[8:]}"


def _secret(settings: Settings) -> str:
    """What signs cookies. Raises Refused where it is so short that it could be guessed."""
    if not settings.secret:
        return _kept_secret(Path(settings.database).with_suffix(".secret"))
    if len(settings.secret) < SHORTEST_SECRET:
        raise Refused("VINEMARK_SECRET", f"must have {SHORTEST_SECRET} signs or more")
    return settings.secret


def _kept_secret(path: Path) -> str:
    """The secret beside the database, made on the first start, readable by its owner only."""
    if not path.exists():
        _make_secret(path)
    path.chmod(0o600)
    found = path.read_text(encoding="utf-8", errors="replace").strip()
    if len(found) < SHORTEST_SECRET:
        raise Refused(
            str(path),
            "is empty or was cut: put it back from where you keep it, or delete it, and another one is made;"
            " everybody signs in again then, and nothing that was saved is lost",
        )
    return found


def _make_secret(path: Path) -> None:
    """All of it or nothing: a disk that is full leaves no file that is cut."""
    unnamed = path.with_name(f"{path.name}.unfinished")
    descriptor = os.open(unnamed, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(descriptor, "w") as file:
        file.write(secrets.token_hex(32))
        file.flush()
        os.fsync(file.fileno())
    unnamed.rename(path)


def _prepare_databases(databases: Databases, secret: str) -> bool:
    """Bring all that are served here to this version; whether the secret is another than that of before."""
    others = [_prepare_database(one, secret) for one in databases.here]
    return any(others)


def _prepare_database(one: KeptApart, secret: str) -> bool:
    with closing(connect(one.file)) as connection:
        prepare_database(connection, one.number)
        other = is_other_secret(connection, secret)
        note_secret(connection, secret)
    for ending in ("", "-wal", "-shm"):
        path = Path(f"{one.file}{ending}")
        if path.exists():
            path.chmod(0o600)
    return other


def _on_error(error: HTTPException) -> ResponseReturnValue:
    if error.code is not None and error.code < 400:
        return error.get_response()
    if (error.code or 500) >= 500:
        _log.error("request %s: %s", request_id(), error.name)
    return show_error(error.code or 500, error.name, error.description or "")


def _on_stale_form(error: CSRFError) -> ResponseReturnValue:
    g.mark = "stale"
    return show_error(
        400, "This page is out of date", "Load the page again, then repeat what you did; nothing was changed."
    )
