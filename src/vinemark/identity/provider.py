"""The simulated identity provider of a college: choose who you are, sign in to Vine Mark with it, sign out of both."""

import os
import secrets
import time
from collections.abc import Sequence
from typing import Any
from urllib.parse import quote

import httpx
from authlib.oauth2.rfc6749.errors import OAuth2Error
from flask import Blueprint, Flask, abort, current_app, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFProtect
from joserfc import jwt
from joserfc.errors import JoseError
from joserfc.jwk import RSAKey

from vinemark.identity.codes import Server, Session
from vinemark.identity.people import KnownHere, Program

BACK_CHANNEL = "http://schemas.openid.net/event/backchannel-logout"
TOLD_SECONDS = 3.0


blueprint = Blueprint("identity", __name__)


def create_provider(issuer: str, program: Program, people: Sequence[KnownHere], name: str) -> Flask:
    """The provider as a WSGI application, under its own address; over plain http, as only a simulated one may be."""
    os.environ["AUTHLIB_INSECURE_TRANSPORT"] = "1"
    app = Flask(__name__)
    app.config.update(SECRET_KEY=secrets.token_hex(32), SESSION_COOKIE_NAME="identity", SESSION_COOKIE_SAMESITE="Lax")
    key = RSAKey.generate_key(2048, {"kid": secrets.token_hex(4), "use": "sig", "alg": "RS256"})
    app.extensions["identity"] = Provider(issuer, program, people, name, key)
    app.extensions["identity.server"] = Server(app, program, issuer, key)
    CSRFProtect(app).exempt("vinemark.identity.provider.token")
    app.register_blueprint(blueprint)
    return app


@blueprint.get("/.well-known/openid-configuration")
def discovery() -> ResponseReturnValue:
    """What it offers (OpenID Connect Discovery 1.0)."""
    return jsonify(_provider().metadata())


@blueprint.get("/keys")
def keys() -> ResponseReturnValue:
    """The public half of what tokens are signed with (RFC 7517)."""
    return jsonify({"keys": [_provider().key.as_dict(private=False)]})


@blueprint.post("/token")
def token() -> ResponseReturnValue:
    """Give tokens for a code."""
    answer: ResponseReturnValue = current_app.extensions["identity.server"].create_token_response()
    return answer


@blueprint.route("/authorize", methods=["GET", "POST"])
def authorize() -> ResponseReturnValue:
    """Who is it; then back to the program with a code."""
    provider, server = _provider(), current_app.extensions["identity.server"]
    if request.method == "POST":
        provider.choose(request.form.get("subject", ""))
    signed_in = provider.signed_in()
    try:
        grant = server.get_consent_grant(end_user=signed_in)
    except OAuth2Error as error:
        text = error.description or error.error
        return render_template("identity/wrong.html", name=provider.name, error=text), 400
    if signed_in is None:
        return render_template("identity/choose.html", name=provider.name, people=provider.people)
    answer: ResponseReturnValue = server.create_authorization_response(grant_user=signed_in, grant=grant)
    return answer


@blueprint.get("/end")
def end() -> ResponseReturnValue:
    """Sign out here and at the program (OpenID Connect RP-Initiated Logout 1.0)."""
    provider = _provider()
    provider.end()
    wanted, state = request.args.get("post_logout_redirect_uri", ""), request.args.get("state", "")
    known = wanted == provider.program.after_sign_out and provider.is_mine(request.args.get("id_token_hint", ""))
    if not known:
        return render_template("identity/out.html", name=provider.name)
    return redirect(f"{wanted}?state={quote(state)}" if state else wanted)


@blueprint.get("/")
def index() -> ResponseReturnValue:
    """Who is signed in here."""
    provider = _provider()
    here, address = provider.signed_in(), provider.program.address
    return render_template("identity/index.html", name=provider.name, here=here, address=address)


@blueprint.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    """Sign out here, and tell the program."""
    _provider().end()
    return redirect(url_for("identity.index"))


def _provider() -> "Provider":
    found: Provider = current_app.extensions["identity"]
    return found


class Provider:
    """Who is signed in by which browser, and what the program is told."""

    def __init__(self, issuer: str, program: Program, people: Sequence[KnownHere], name: str, key: RSAKey) -> None:
        self._issuer, self.program, self.key, self.name, self.people = issuer, program, key, name, people
        self._known = {one.subject: one for one in people}

    def metadata(self) -> dict[str, Any]:
        """The discovery document."""
        return {
            "issuer": self._issuer,
            "authorization_endpoint": f"{self._issuer}/authorize",
            "token_endpoint": f"{self._issuer}/token",
            "jwks_uri": f"{self._issuer}/keys",
            "end_session_endpoint": f"{self._issuer}/end",
            "response_types_supported": ["code"],
            "subject_types_supported": ["public"],
            "id_token_signing_alg_values_supported": ["RS256"],
            "code_challenge_methods_supported": ["S256"],
            "scopes_supported": ["openid", "profile", "email"],
            "claims_supported": ["sub", "name", "email", "email_verified", "roles"],
            "backchannel_logout_supported": True,
            "backchannel_logout_session_supported": True,
        }

    def choose(self, subject: str) -> None:
        """Sign somebody in by this browser."""
        if subject not in self._known:
            abort(404)
        session.update(subject=subject, sid=secrets.token_hex(8))

    def signed_in(self) -> Session | None:
        """Who is signed in by this browser."""
        known = self._known.get(str(session.get("subject", "")))
        return Session(known, str(session["sid"])) if known else None

    def end(self) -> None:
        """Nobody is any more; the program is told, and if it does not answer it is told no further."""
        found = self.signed_in()
        session.clear()
        if found is not None:
            self.tell(found)

    def tell(self, ended: Session) -> None:
        """Tell the program that somebody signed out (OpenID Connect Back-Channel Logout 1.0)."""
        try:
            httpx.post(
                self.program.told_of_sign_out,
                data={"logout_token": self.logout_token(ended.user.subject, ended.sid)},
                timeout=TOLD_SECONDS,
            )
        except httpx.HTTPError:
            return

    def logout_token(self, subject: str, sid: str) -> str:
        """What it is told by."""
        now = int(time.time())
        claims = {
            "iss": self._issuer, "sub": subject, "aud": self.program.id, "iat": now, "exp": now + 120,
            "jti": secrets.token_hex(8), "sid": sid, "events": {BACK_CHANNEL: {}},
        }  # fmt: skip
        return jwt.encode({"alg": "RS256", "typ": "logout+jwt", "kid": self.key.kid}, claims, self.key, ["RS256"])

    def is_mine(self, id_token: str) -> bool:
        """Whether a token is one of its own, however old."""
        try:
            return jwt.decode(id_token, self.key, algorithms=["RS256"]).claims.get("iss") == self._issuer
        except (JoseError, ValueError):
            return False
