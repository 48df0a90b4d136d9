"""The second step of signing in: asked for, set up, ended."""

import time

from flask import Blueprint, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import login_required

from vinemark.passwords import TooManyAtOnceError
from vinemark.section.acts import second_step as acts
from vinemark.section.acts.accounts import SignedIn, TooEarly
from vinemark.section.outcome import Done
from vinemark.store import people, sign_ins
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.views import CROWDED, account_page, safe_next, signed_in
from vinemark.web.request import my_email, new_act, person_id, settings, sign_in_key, tell

HALF_WAY_SECONDS = 5 * 60
WRONG = "This is not the code of this moment. Type the one that your authenticator shows now."

blueprint = Blueprint("second_step", __name__)


def _half_way() -> int | None:
    """Whose password was typed right a moment ago."""
    found = session.get("half_way")
    if not found or time.time() - found[1] > HALF_WAY_SECONDS:
        return None
    return int(found[0])


@blueprint.get("/sign-in/code")
def ask() -> ResponseReturnValue:
    """The form for the code."""
    return _ask() if _half_way() is not None else redirect(url_for("people.sign_in"))


def _ask(error: str = "", status: int = 200) -> ResponseReturnValue:
    return render_template("people/second_step.html", error=error), status


@blueprint.post("/sign-in/code")
def check() -> ResponseReturnValue:
    """Sign in with the code."""
    person = _half_way()
    if person is None:
        return redirect(url_for("people.sign_in"))
    row = people.by_id(home(), person)
    assert row is not None  # noqa: S101
    address = request.remote_addr or ""
    found = acts.check_second_step(home(), person, request.form.get("code", "")[:100], address, time.time())
    if isinstance(found, TooEarly):
        tell_log("kept waiting", "second step", row["email"])
        return _ask(f"Too many tries. Wait {found.seconds} seconds, then try again.", 429)
    if not found:
        tell_log("wrong password", "second step", row["email"])
        return _ask(WRONG, 422)
    key = sign_ins.begin(home(), person, time.time(), address, request.user_agent.string)
    return signed_in(SignedIn(person, row["name"], key), safe_next(request.args.get("next", "")))


@blueprint.get("/account/second-step")
@login_required  # type: ignore[untyped-decorator]
def new() -> ResponseReturnValue:
    """A secret for an authenticator, and the form for its first code."""
    if _is_on():
        return redirect(url_for("people.account"))
    session["new_second_step"] = session.get("new_second_step") or acts.new_secret()
    return _new_page()


def _is_on() -> bool:
    """Whether the person has a second step: another one takes its place only once that has been ended."""
    row = people.by_id(home(), person_id())
    return row is not None and bool(row["second_step"])


def _new_page(error: str = "", status: int = 200) -> ResponseReturnValue:
    return render_template(
        "people/new_second_step.html",
        new=acts.second_step_of(session["new_second_step"], my_email()),
        required=settings().two_steps,
        error=error,
        codes=None,
    ), status


@blueprint.post("/account/second-step")
@login_required  # type: ignore[untyped-decorator]
def set_up() -> ResponseReturnValue:
    """Begin with the second step; the recovery codes are shown this once."""
    secret = session.get("new_second_step")
    if not secret or _is_on():
        return redirect(url_for("second_step.new"))
    typed = request.form.get("code", "")[:100]
    codes = acts.set_up(home(), new_act(), person_id(), sign_in_key(), secret, typed, time.time())
    if codes is None:
        return _new_page(WRONG, 422)
    session.pop("new_second_step")
    tell_log("password changed", "second step set up")
    return render_template("people/new_second_step.html", codes=codes)


@blueprint.post("/account/second-step/end")
@login_required  # type: ignore[untyped-decorator]
def end() -> ResponseReturnValue:
    """End the second step, with the password."""
    try:
        typed, cheap = request.form.get("password", ""), settings().cheap_hashes
        ended = acts.end_second_step(home(), new_act(), person_id(), typed, cheap)
    except TooManyAtOnceError:
        return account_page({"end": CROWDED}, 503)
    if not ended:
        return account_page({"end": "This is not your password."}, 422)
    tell_log("password changed", "second step ended")
    tell(Done("The second step is off."))
    return redirect(url_for("people.account"))
