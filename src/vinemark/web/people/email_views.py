"""Another email address for oneself: asked for on the account, in place once the link sent to it was opened."""

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import login_required

from vinemark.passwords import TooManyAtOnceError
from vinemark.section.acts.account_links import ask_for_email, change_email
from vinemark.section.outcome import Done
from vinemark.store import people
from vinemark.store.history import Act
from vinemark.web.databases import home
from vinemark.web.events import tell_log
from vinemark.web.people.links import email_link, read_email_link, sends_mail
from vinemark.web.people.views import CROWDED, account_page
from vinemark.web.request import person_id, settings, tell

blueprint = Blueprint("own_email", __name__, url_prefix="/account/email")
_OVER = "This link has been used, or is older than an hour. Ask for another one on your account."
_TAKEN = "Somebody else has an account with this address. Nothing was changed."


@blueprint.before_request
def require_mail() -> None:
    """Without mail there are no links."""
    if not sends_mail():
        abort(404)


@blueprint.post("")
@login_required  # type: ignore[untyped-decorator]
def ask() -> ResponseReturnValue:
    """Send a link to the new address."""
    row = people.by_id(home(), person_id())
    assert row is not None  # noqa: S101
    typed = {"email": request.form.get("email", ""), "password": request.form.get("email_password", "")}
    now, cheap = settings().clock.now(), settings().cheap_hashes
    try:
        errors = ask_for_email(home(), now, person_id(), typed, email_link(row), cheap)
    except TooManyAtOnceError:
        errors = {"email_password": CROWDED}
    if errors:
        return account_page(errors, 422)
    tell(Done(f"A link is on its way to {typed['email'].strip()}. Until it was opened your address stays."))
    return redirect(url_for("people.account"))


@blueprint.get("/<token>")
def choose(token: str) -> ResponseReturnValue:
    """The address that the account is to have, and a button: a program that opens links changes nothing."""
    found = read_email_link(token)
    return _page(found.email) if found else _page(trouble=_OVER, status=410)


def _page(email: str = "", trouble: str = "", status: int = 200) -> ResponseReturnValue:
    return render_template("people/new_email.html", email=email, trouble=trouble), status


@blueprint.post("/<token>")
def change(token: str) -> ResponseReturnValue:
    """Put the address in place."""
    found = read_email_link(token)
    if found is None:
        return _page(trouble=_OVER, status=410)
    if not change_email(home(), Act(found.person_id, settings().clock.now()), found.person_id, found.email):
        return _page(trouble=_TAKEN, status=409)
    tell_log("email changed", email=found.email)
    tell(Done("Your email address was changed."))
    return redirect(url_for("people.account"))
