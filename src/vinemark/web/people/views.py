"""Signing in and out, and the first account."""

import hmac
import re
import time
from base64 import b64encode
from urllib.parse import urlsplit

from flask import Blueprint, Flask, current_app, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from flask_wtf.csrf import generate_csrf

from vinemark.passwords import hasher, verified
from vinemark.section.acts.accounts import account_errors, create_first_account
from vinemark.store import people
from vinemark.store.history import Act
from vinemark.web.request import database, settings

blueprint = Blueprint("people", __name__)
# Hashed when an address is unknown, so that an answer takes as long as for a known one.
_NOBODY: dict[bool, str] = {}


class Person(UserMixin):  # type: ignore[misc]
    """The signed-in person."""

    def __init__(self, person_id: int, name: str) -> None:
        self.id = person_id
        self.name = name


def set_up_sign_in(app: Flask) -> None:
    """Teach the application who is signed in."""
    manager = LoginManager(app)
    manager.session_protection = "strong"
    manager.user_loader(_load)
    app.add_template_global(sealing_key)


def _load(person_id: str) -> Person | None:
    row = people.by_id(database(), int(person_id)) if person_id.isdigit() else None
    return Person(row["id"], row["name"]) if row else None


@blueprint.get("/sign-in")
def sign_in() -> ResponseReturnValue:
    """The sign-in page; on an empty database the first account comes first."""
    if not people.anybody(database()):
        return redirect(url_for("people.first_account"))
    if current_user.is_authenticated:
        return redirect(url_for("desk.show"))
    return _sign_in_page()


def _sign_in_page(error: str = "", status: int = 200) -> ResponseReturnValue:
    demo = people.everybody(database()) if settings().demo else []
    return render_template("people/sign_in.html", error=error, demo=demo, typed=request.form), status


@blueprint.post("/sign-in")
def try_sign_in() -> ResponseReturnValue:
    """Sign in, slowed down after failures."""
    email, password = request.form.get("email", ""), request.form.get("password", "")
    address, now = request.remote_addr or "", time.time()
    wait = people.seconds_to_wait(database(), email, address, now)
    if wait > 0:
        return _sign_in_page(f"Too many tries. Wait {wait} seconds, then try again.", 429)
    row = people.by_email(database(), email)
    if not verified(row["password_hash"] if row else _nobody(), password, settings().cheap_hashes) or row is None:
        people.note_failure(database(), email, address, now)
        return _sign_in_page("This e-mail and password do not go together.", 422)
    people.clear_failures(database(), email)
    session.clear()
    session.permanent = True
    login_user(Person(row["id"], row["name"]))
    return redirect(_safe_next(request.args.get("next", "")))


def _nobody() -> str:
    cheap = settings().cheap_hashes
    if cheap not in _NOBODY:
        _NOBODY[cheap] = hasher(cheap).hash("nobody has this password")
    return _NOBODY[cheap]


def _safe_next(wanted: str) -> str:
    """Only an address of this application: a path, and nothing a browser could read as another host."""
    parts = urlsplit(wanted)
    if parts.scheme or parts.netloc or not re.fullmatch(r"/(?![/\\])[^\\\r\n]*", wanted):
        return url_for("desk.show")
    return wanted


@blueprint.get("/session")
def session_now() -> ResponseReturnValue:
    """Who is signed in, and the token that forms go out with."""
    who = int(current_user.get_id()) if current_user.is_authenticated else None
    return jsonify(person=who, csrf=generate_csrf())


def sealing_key() -> str:
    """What a person typed is kept in their browser under this key, which is theirs alone and never kept there."""
    secret = str(current_app.config["SECRET_KEY"]).encode()
    return b64encode(hmac.digest(secret, f"typed by {current_user.get_id()}".encode(), "sha256")).decode()


@blueprint.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    """Sign out."""
    logout_user()
    session.clear()
    return redirect(url_for("people.sign_in"))


@blueprint.get("/first-account")
def first_account() -> ResponseReturnValue:
    """On an empty database only: make the first account."""
    if people.anybody(database()):
        return redirect(url_for("people.sign_in"))
    return render_template("people/first_account.html", errors={}, typed={})


@blueprint.post("/first-account")
def make_first_account() -> ResponseReturnValue:
    """Keep the first account and sign it in."""
    form = request.form
    errors = account_errors(form.get("name", ""), form.get("email", ""), form.get("password", ""))
    if form.get("password") != form.get("again") and "password" not in errors:
        errors["again"] = "The two passwords differ."
    if errors:
        return render_template("people/first_account.html", errors=errors, typed=form), 422
    first = Act(None, settings().clock.now())
    cheap = settings().cheap_hashes
    person_id = create_first_account(database(), first, form["email"], form["name"], form["password"], cheap)
    if person_id is None:
        return redirect(url_for("people.sign_in"))
    session.clear()
    login_user(Person(person_id, form["name"].strip()))
    return redirect(url_for("desk.show"))
