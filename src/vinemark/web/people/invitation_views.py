"""An invitation: whoever opens the link of a letter makes an account for the address that it was sent to."""

import time

from flask import Blueprint, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user, logout_user

from vinemark.passwords import TooManyAtOnceError
from vinemark.section.acts.account_links import accept_invitation
from vinemark.section.acts.accounts import SignedIn
from vinemark.store import people, sign_ins
from vinemark.store.college import invited_name
from vinemark.store.history import Act
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.links import Invitation, read_invitation
from vinemark.web.people.views import CROWDED, signed_in
from vinemark.web.request import settings, sign_in_key

blueprint = Blueprint("invitations", __name__, url_prefix="/invitation")


@blueprint.get("/<token>")
def show(token: str) -> ResponseReturnValue:
    """The form for an account; where there is one, on to the page, after signing in."""
    found = read_invitation(token)
    if found is None:
        return render_template("people/invitation_over.html"), 410
    if not settings().local_passwords or people.by_email(home(), found.email) is not None:
        return _with_account(found)
    return _page(found, {})


def _page(found: Invitation, errors: dict[str, str], status: int = 200) -> ResponseReturnValue:
    typed = request.form.get("name", invited_name(home(), found.email))
    return render_template("people/invitation.html", email=found.email, errors=errors, typed=typed), status


def _with_account(found: Invitation) -> ResponseReturnValue:
    """On to the page; somebody else who is signed in here is asked to sign out first."""
    if not current_user.is_authenticated:
        return redirect(url_for("people.sign_in", next=found.where, email=found.email))
    if str(current_user.email).casefold() == found.email.casefold():
        return redirect(found.where)
    return render_template("people/other_account.html", email=found.email, where=found.where)


@blueprint.post("/<token>")
def accept(token: str) -> ResponseReturnValue:
    """Make the account and sign it in."""
    found = read_invitation(token)
    if found is None or not settings().local_passwords:
        return render_template("people/invitation_over.html"), 410
    typed = {name: request.form.get(name, "") for name in ("name", "new", "again")}
    act = Act(None, settings().clock.now())
    try:
        person = accept_invitation(home(), act, found.email, typed, settings().cheap_hashes)
    except TooManyAtOnceError:
        return _page(found, {"new": CROWDED}, 503)
    if not isinstance(person, int):
        return _page(found, person, 422)
    if current_user.is_authenticated:
        sign_ins.end(home(), sign_in_key())
        logout_user()
        session.clear()
    tell_log("account made", "by an invitation", email=found.email)
    key = sign_ins.begin(home(), person, time.time(), request.remote_addr or "", request.user_agent.string)
    return signed_in(SignedIn(person, typed["name"].strip(), key), found.where)
