"""A forgotten password: a link by email, which works once and for an hour."""

import time

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.passwords import TooManyAtOnceError
from vinemark.section.acts.account_links import ask_for_password, reset_password
from vinemark.store.history import Act
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.links import password_link, person_of_password_link, sends_mail
from vinemark.web.people.views import CROWDED
from vinemark.web.request import settings

blueprint = Blueprint("forgotten", __name__, url_prefix="/password")
_OVER = "This link has been used, or is older than an hour. Ask for another one."


@blueprint.before_request
def require_mail() -> None:
    """Without mail there are no links, and without passwords none for one."""
    if not sends_mail() or not settings().local_passwords:
        abort(404)


@blueprint.get("")
def ask() -> ResponseReturnValue:
    """The form for the email address."""
    return _ask()


def _ask(error: str = "", asked: str = "", status: int = 200) -> ResponseReturnValue:
    return render_template("people/forgotten.html", error=error, asked=asked), status


@blueprint.post("")
def send() -> ResponseReturnValue:
    """Send a link, where somebody has this address; the answer is the same for everybody."""
    email = request.form.get("email", "").strip()
    if not email:
        return _ask("Type your email address.", status=422)
    now, address = settings().clock.now(), request.remote_addr or ""
    early = ask_for_password(home(), now, email, address, password_link, time.time())
    if early is not None:
        return _ask(f"Too many links were asked for. Wait {early.seconds} seconds, then try again.", status=429)
    tell_log("password link", email=email)
    return _ask(asked=email)


@blueprint.get("/<token>")
def choose(token: str) -> ResponseReturnValue:
    """The form for the new password."""
    if person_of_password_link(token) is None:
        return _ask(_OVER, status=410)
    return render_template("people/new_password.html", errors={})


@blueprint.post("/<token>")
def change(token: str) -> ResponseReturnValue:
    """Put the new password in place."""
    row = person_of_password_link(token)
    if row is None:
        return _ask(_OVER, status=410)
    typed = {name: request.form.get(name, "") for name in ("new", "again")}
    act = Act(row["id"], settings().clock.now())
    try:
        errors = reset_password(home(), act, row["id"], typed, settings().cheap_hashes)
    except TooManyAtOnceError:
        errors = {"new": CROWDED}
    if errors:
        return render_template("people/new_password.html", errors=errors), 422
    tell_log("password changed", "by a link", email=row["email"])
    return redirect(url_for("people.sign_in", changed=1))
