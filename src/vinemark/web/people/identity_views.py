"""Single sign-on: to the college's identity provider, back with its word, and out at both ends."""

import time

from flask import Blueprint, abort, make_response, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.section.acts.identity import sign_in_by_identity
from vinemark.store import identities, sign_ins
from vinemark.store.history import Act
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.identity import IdentityError, signed_out_there, to_provider, vouched
from vinemark.web.people.views import safe_next, signed_in
from vinemark.web.request import settings

blueprint = Blueprint("identity", __name__, url_prefix="/sso")


@blueprint.before_request
def require_identity() -> None:
    """Only where the college has a provider."""
    if not settings().identity:
        abort(404)


@blueprint.get("/sign-in")
def begin() -> ResponseReturnValue:
    """To the provider."""
    try:
        answer = to_provider(url_for("identity.callback"))
    except IdentityError:
        return _trouble("Your college’s sign-in does not answer. Try again in a moment.", 503)
    session["next"] = safe_next(request.args.get("next", ""))
    return answer


def _trouble(text: str, status: int) -> ResponseReturnValue:
    return render_template("people/sso_trouble.html", text=text), status


@blueprint.get("/callback")
def callback() -> ResponseReturnValue:
    """Back from the provider: signed in, or why not."""
    where = safe_next(str(session.get("next", "")))
    try:
        found = vouched(settings().roles_claim)
    except IdentityError:
        tell_log("sign-on refused", email="")
        return _trouble("This sign-in was cancelled, took too long, or was begun in another window. Try again.", 400)
    act = Act(None, settings().clock.now())
    address, browser = request.remote_addr or "", request.user_agent.string
    done = sign_in_by_identity(home(), act, found, address, browser, time.time())
    if isinstance(done, Refused):
        tell_log("sign-on refused", done.reason, email=found.email)
        return _trouble(f"You cannot be signed in: {done.reason}. Tell whoever runs Vine Mark at your college.", 403)
    return signed_in(done, where)


@blueprint.post("/signed-out")
def signed_out() -> ResponseReturnValue:
    """The provider's word that somebody signed out there: they are signed out here, too."""
    try:
        subject, sid = signed_out_there(request.form.get("logout_token", ""))
    except IdentityError:
        abort(400)
    if sid:
        sign_ins.end_by_sid(home(), sid)
    else:
        row = identities.person_of_identity(home(), settings().identity, subject)
        if row is not None:
            sign_ins.end_identities(home(), row["id"])
    return make_response("", 200)
