"""Signing in and out, the first account, and one's own account."""

import hmac
import re
import time
from base64 import b64encode
from dataclasses import replace
from urllib.parse import urlsplit

from flask import (
    Blueprint,
    Flask,
    abort,
    current_app,
    jsonify,
    make_response,
    redirect,
    render_template,
    request,
    session,
    url_for,
)
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_required, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from itsdangerous import BadData, URLSafeSerializer

from vinemark.core.base.refused import Refused
from vinemark.passwords import TooManyAtOnceError
from vinemark.section.acts.accounts import (
    HalfWay,
    SignedIn,
    TooEarly,
    TypedSignIn,
    account_errors,
    change_name,
    change_password,
    create_first_account,
    same_code,
    sign_in,
)
from vinemark.section.acts.leave import delete_account, sections_left
from vinemark.section.outcome import Done
from vinemark.store import identities, people, sign_ins
from vinemark.store.college import college_part, parts_in_words
from vinemark.store.database import Row
from vinemark.store.history import Act
from vinemark.store.numbered import KnownPerson
from vinemark.web.databases import all_databases, databases_here, home, is_kept_here
from vinemark.web.events import tell_log
from vinemark.web.machines import Elsewhere, Who, machines
from vinemark.web.people.identity import end_there
from vinemark.web.request import my_email, new_act, person_id, settings, sign_in_key, take_notice, tell

DEVICE_COOKIE = "vinemark-device"
DEVICE_DAYS = 180
CROWDED = "Many people are signing in at this moment. Try again in a few seconds."

blueprint = Blueprint("people", __name__)


class Person(UserMixin):  # type: ignore[misc]
    """The signed-in person."""

    def __init__(self, found: Who) -> None:
        self.id, self.name, self.email = found.known.id, found.known.name, found.known.email
        self.known = found.known
        self.second_step = found.second_step
        self.part = found.part


def set_up_sign_in(app: Flask) -> None:
    """Teach the application who is signed in."""
    manager = LoginManager(app)
    manager.session_protection = None  # a session is kept on the server: its key is all that counts
    manager.login_view = "people.sign_in"
    manager.login_message = None
    manager.user_loader(_load)
    app.add_template_global(sealing_key)


def _load(person_id: str) -> Person | None:
    found = _who()
    return Person(found) if found and str(found.known.id) == person_id else None


def _who() -> Who | None:
    """Who is signed in: the machine with the people knows."""
    if not is_kept_here(all_databases().home):
        return machines().who(request.host, request.headers.get("Cookie", ""))
    row = sign_ins.person_of(home(), sign_in_key(), time.time())
    return _who_in(row, bool(row["has_second_step"] or row["vouched"])) if row else None


def _who_in(row: Row, second_step: bool) -> Who:
    part = college_part(home(), row["email"])
    if row["email"].casefold() in settings().administrators:
        part = replace(part, administrator=True)
    return Who(KnownPerson(row["id"], row["name"], row["email"], row["created_at"]), second_step, part)


@blueprint.get("/sign-in", endpoint="sign_in")
def show_sign_in() -> ResponseReturnValue:
    """The sign-in page; on an empty database the first account comes first."""
    if settings().local_passwords and not people.anybody(home()):
        return redirect(url_for("people.first_account"))
    if current_user.is_authenticated:
        return redirect(url_for("desk.show"))
    return _sign_in_page()


def _sign_in_page(error: str = "", status: int = 200) -> ResponseReturnValue:
    demo = parts_in_words(home()) if settings().demo else []
    where = safe_next(request.args.get("next", ""))
    return render_template(
        "people/sign_in.html", error=error, demo=demo, typed=request.form or request.args, where=where
    ), status


@blueprint.post("/sign-in")
def try_sign_in() -> ResponseReturnValue:
    """Sign in, slowed down after failures."""
    if not settings().local_passwords:
        abort(404)
    form = request.form
    typed = TypedSignIn(
        form.get("email", ""), form.get("password", ""), request.remote_addr or "", request.user_agent.string, _device()
    )
    try:
        found = sign_in(home(), typed, time.time(), settings().cheap_hashes)
    except TooManyAtOnceError:
        return _sign_in_page(CROWDED, 503)
    if isinstance(found, HalfWay):
        return half_way(found.person_id, safe_next(request.args.get("next", "")))
    if not isinstance(found, SignedIn):
        tell_log("kept waiting" if isinstance(found, TooEarly) else "wrong password", email=typed.email)
    if isinstance(found, TooEarly):
        return _sign_in_page(f"Too many tries. Wait {found.seconds} seconds, then try again.", 429)
    if isinstance(found, Refused):
        return _sign_in_page(found.reason, 422)
    return signed_in(found, safe_next(request.args.get("next", "")))


def half_way(person: int, where: str) -> ResponseReturnValue:
    """On to the second step; that the password was right stands in the signed cookie for a few minutes."""
    session.clear()
    session["half_way"] = [person, time.time()]
    return redirect(url_for("second_step.ask", next=where))


def signed_in(found: SignedIn, where: str) -> ResponseReturnValue:
    """On to a page, with the key in the cookie, and the device known from now on."""
    device = _device()
    session.clear()
    session.permanent = True
    session["key"] = found.key
    login_user(Person(_known(found.person_id)))
    tell_log("signed in", "a device known before" if device and device[0] == found.person_id else "a new device")
    answer = redirect(where)
    if device is None or device[0] != found.person_id:
        secure = bool(current_app.session_interface.get_cookie_secure(current_app))
        made = _devices().dumps([found.person_id, found.key[:16]])
        answer.set_cookie(
            DEVICE_COOKIE, made, DEVICE_DAYS * 24 * 3600, secure=secure, httponly=True, samesite="Lax", path="/sign-in"
        )
    return answer


def _known(person_id: int) -> Who:
    row = people.by_id(home(), person_id)
    if row is None:
        abort(404)
    return _who_in(row, bool(row["second_step"]))


def _devices() -> URLSafeSerializer:
    return URLSafeSerializer(str(current_app.config["SECRET_KEY"]), salt="device")


def _device() -> tuple[int, str] | None:
    """A person who signed in from this device before, and the device's name."""
    try:
        person, name = _devices().loads(request.cookies.get(DEVICE_COOKIE, ""))
    except (BadData, ValueError, TypeError):
        return None
    return int(person), str(name)


def safe_next(wanted: str) -> str:
    """Only an address of this application: a path, and nothing a browser could read as another host."""
    try:
        parts = urlsplit(wanted)
    except ValueError:
        return url_for("desk.show")
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
    """Sign out: the session ends here and on the server."""
    if current_user.is_authenticated:
        tell_log("signed out")
    id_token = sign_ins.id_token_of(home(), sign_in_key()) if settings().identity else ""
    sign_ins.end(home(), sign_in_key())
    logout_user()
    session.clear()
    there = end_there(id_token, url_for("people.sign_in")) if id_token else ""
    # A form may lead nowhere else by itself (form-action of CSP): the page that it leads to goes on there.
    return render_template("people/signing_out.html", there=there) if there else redirect(url_for("people.sign_in"))


@blueprint.get("/first-account")
def first_account() -> ResponseReturnValue:
    """On an empty database only: make the first account."""
    if people.anybody(home()) or not settings().local_passwords:
        return redirect(url_for("people.sign_in"))
    return render_template("people/first_account.html", errors={}, typed={})


@blueprint.post("/first-account")
def make_first_account() -> ResponseReturnValue:
    """Keep the first account and sign it in; only who can read what the server prints knows the code."""
    if people.anybody(home()) or not settings().local_passwords:
        return redirect(url_for("people.sign_in"))
    form = request.form
    errors = _first_account_errors()
    if errors:
        return render_template("people/first_account.html", errors=errors, typed=form), 422
    cheap = settings().cheap_hashes
    first = Act(None, settings().clock.now())
    try:
        person_id = create_first_account(home(), first, form["email"], form["name"], form["password"], cheap)
    except TooManyAtOnceError:
        return render_template("people/first_account.html", errors={"code": CROWDED}, typed=form), 503
    if person_id is None:
        return redirect(url_for("people.sign_in"))
    tell_log("account made", "the first one", email=form["email"])
    key = sign_ins.begin(home(), person_id, time.time(), request.remote_addr or "", request.user_agent.string)
    return signed_in(SignedIn(person_id, form["name"].strip(), key), url_for("desk.show"))


def _first_account_errors() -> dict[str, str]:
    form = request.form
    errors = account_errors(form.get("name", ""), form.get("email", ""), form.get("password", ""))
    if form.get("password") != form.get("again") and "password" not in errors:
        errors["again"] = "The two passwords differ."
    if not same_code(form.get("code", ""), current_app.extensions["vinemark.first_code"]):
        errors["code"] = "This is not the code that the server printed when it started."
    return errors


@blueprint.get("/account")
@login_required  # type: ignore[untyped-decorator]
def account() -> ResponseReturnValue:
    """One's own account: the password, and where one is signed in."""
    return account_page({})


def account_page(errors: dict[str, str], status: int = 200) -> ResponseReturnValue:
    """The page of one's own account."""
    row = people.by_id(home(), person_id())
    places = sign_ins.sign_ins_of(home(), person_id(), sign_in_key(), time.time())
    standing = sections_left(databases_here(), person_id())
    return render_template(
        "people/account.html",
        person=row,
        places=places,
        sections=standing,
        errors=errors,
        notice=take_notice(),
        typed=request.form,
        by_identity=identities.has_identity(home(), person_id()),
    ), status


@blueprint.post("/account/name")
@login_required  # type: ignore[untyped-decorator]
def new_name() -> ResponseReturnValue:
    """Another name."""
    fault = change_name(home(), new_act(), person_id(), request.form.get("name", ""))
    if fault:
        return account_page({"name": fault}, 422)
    tell(Done("Name saved. What you did before keeps the name of its time."))
    return redirect(url_for("people.account"))


@blueprint.post("/account/password")
@login_required  # type: ignore[untyped-decorator]
def new_password() -> ResponseReturnValue:
    """Another password; everywhere else one is signed out."""
    typed = {name: request.form.get(name, "") for name in ("current", "new", "again")}
    try:
        errors = change_password(home(), new_act(), person_id(), sign_in_key(), typed, settings().cheap_hashes)
    except TooManyAtOnceError:
        errors = {"current": CROWDED}
    if errors:
        return account_page(errors, 422)
    tell_log("password changed")
    tell(Done("Password changed. Everywhere else you are signed out."))
    return redirect(url_for("people.account"))


@blueprint.post("/account/sign-out/<int:sign_in_id>")
@login_required  # type: ignore[untyped-decorator]
def sign_out_there(sign_in_id: int) -> ResponseReturnValue:
    """Sign out at another place."""
    if not sign_ins.end_one(home(), person_id(), sign_in_id):
        abort(404)
    tell_log("signed out there")
    tell(Done("Signed out there."))
    return redirect(url_for("people.account"))


@blueprint.post("/account/keys")
@login_required  # type: ignore[untyped-decorator]
def choose_keys() -> ResponseReturnValue:
    """Shortcuts of a single key on or off, in this browser (WCAG 2.2, 2.1.4)."""
    answer = make_response(redirect(url_for("people.account")))
    year = 365 * 24 * 3600
    answer.set_cookie("vinemark-keys", "off" if request.form.get("keys") == "off" else "", max_age=year, samesite="Lax")
    return answer


@blueprint.post("/account/sign-out-others")
@login_required  # type: ignore[untyped-decorator]
def sign_out_others() -> ResponseReturnValue:
    """Sign out everywhere but here."""
    many = sign_ins.end_others(home(), person_id(), sign_in_key())
    tell_log("signed out there", f"{many} places")
    tell(Done(f"Signed out at {many} other place{'' if many == 1 else 's'}."))
    return redirect(url_for("people.account"))


@blueprint.post("/account/delete")
@login_required  # type: ignore[untyped-decorator]
def delete() -> ResponseReturnValue:
    """Delete the account: nothing of it is left but a name on lines of the history."""
    mail, typed = my_email(), request.form.get("delete_password", "")
    away = [Elsewhere(one) for one in all_databases().elsewhere]
    others = [one for one in databases_here() if one is not home()]
    try:
        why_not = delete_account(home(), others, away, new_act(), typed, settings().cheap_hashes)
    except TooManyAtOnceError:
        return account_page({"delete": CROWDED}, 503)
    if why_not:
        return account_page({"delete": why_not}, 422)
    tell_log("account deleted", email=mail)
    logout_user()
    session.clear()
    return redirect(url_for("people.sign_in"))
