"""The college's identity provider, spoken to by OpenID Connect through a library: where people go to sign in, what
comes back, and being told that somebody signed out there."""

import logging
import time
from collections.abc import Mapping, Sequence
from typing import Any, Final
from urllib.parse import urlsplit

from authlib.integrations.base_client import OAuthError
from authlib.integrations.flask_client import OAuth
from flask import Flask, current_app
from flask.typing import ResponseReturnValue
from joserfc import jwt
from joserfc.errors import JoseError
from joserfc.jwk import KeySet
from joserfc.jws import JWSRegistry
from requests.exceptions import RequestException

from vinemark.core.base.refused import Refused
from vinemark.section.acts.identity import Vouched
from vinemark.settings import Settings
from vinemark.web.people.links import outside_address

SIGNATURES: Final = frozenset(
    {"RS256", "RS384", "RS512", "PS256", "PS384", "PS512", "ES256", "ES384", "ES512", "EdDSA"}
)
"""Those of a provider's own key (RFC 7518, 3.1; RFC 8037); neither none at all nor the secret that both know."""
PROVIDER_SECONDS: Final = 8
LEEWAY_SECONDS: Final = 120
SIGNED_OUT_EVENT: Final = "http://schemas.openid.net/event/backchannel-logout"
_HERE: Final = {"localhost", "127.0.0.1", "::1"}
_NAME: Final = "identity"
_log = logging.getLogger("vinemark.identity")


class IdentityError(Exception):
    """The provider does not answer, or what it says cannot be believed."""


def add_identity(app: Flask, settings: Settings) -> None:
    """Teach an application the provider of its settings, if there is one. Raises Refused."""
    if not settings.identity:
        if not settings.local_passwords:
            raise Refused("VINEMARK_LOCAL_PASSWORDS", "can be 0 only where VINEMARK_IDENTITY is set")
        return
    parts = urlsplit(settings.identity)
    if parts.scheme != "https" and parts.hostname not in _HERE:
        raise Refused("VINEMARK_IDENTITY", "must begin with https:// where the provider is not on this machine")
    if not (settings.identity_client and settings.identity_secret and settings.address):
        needed = "VINEMARK_IDENTITY_CLIENT, VINEMARK_IDENTITY_SECRET and VINEMARK_ADDRESS"
        raise Refused("VINEMARK_IDENTITY", f"needs {needed}")
    OAuth(app).register(
        _NAME,
        client_id=settings.identity_client,
        client_secret=settings.identity_secret,
        server_metadata_url=f"{settings.identity.rstrip('/')}/.well-known/openid-configuration",
        client_kwargs={
            "scope": "openid email profile", "code_challenge_method": "S256", "default_timeout": PROVIDER_SECONDS,
        },
    )  # fmt: skip


def to_provider(callback: str) -> ResponseReturnValue:
    """Send somebody to sign in there. Raises IdentityError."""
    try:
        _metadata()
        answer: ResponseReturnValue = _client().authorize_redirect(outside_address(callback))
    except (RequestException, OAuthError, RuntimeError, ValueError, KeyError) as error:
        raise _not_answered(error) from error
    return answer


def vouched(roles_claim: str) -> Vouched:
    """Who came back with this request, after everything about the answer was checked. Raises IdentityError."""
    try:
        _metadata()
        token = _client().authorize_access_token()
        claims: Mapping[str, Any] = token["userinfo"]
    except (RequestException, OAuthError, JoseError, RuntimeError, ValueError, KeyError) as error:
        raise _not_answered(error) from error
    return Vouched(
        str(claims["iss"]),
        str(claims["sub"]),
        str(claims.get("email", "")).strip(),
        str(claims.get("name", "")),
        bool(claims["email_verified"]) if "email_verified" in claims else None,
        _texts(claims.get(roles_claim)) if roles_claim else [],
        str(token.get("id_token", "")),
        str(claims.get("sid", "")),
    )


def _texts(value: object) -> Sequence[str]:
    if isinstance(value, str):
        return [value]
    return [one for one in value if isinstance(one, str)] if isinstance(value, list) else []


def end_there(id_token: str, back: str) -> str:
    """The address at which somebody signs out there too, and comes back; empty where the provider has none."""
    try:
        if not _metadata().get("end_session_endpoint"):
            return ""
        made = _client().create_logout_url(outside_address(back), id_token, client_id=_client().client_id)
    except (RequestException, OAuthError, RuntimeError, ValueError, IdentityError):
        return ""
    return str(made["url"])


def signed_out_there(logout_token: str) -> tuple[str, str]:
    """Subject and session, of which one may be empty, of whoever signed out there (OpenID Connect Back-Channel Logout
    1.0, 2.6). Raises IdentityError."""
    try:
        metadata = _metadata()
        keys = KeySet.import_key_set(_client().fetch_jwk_set(force=True))
        registry = JWSRegistry(algorithms=list(metadata["id_token_signing_alg_values_supported"]))
        claims = jwt.decode(logout_token, keys, registry=registry).claims
    except (RequestException, JoseError, ValueError, KeyError) as error:
        raise _not_answered(error) from error
    now, audience = time.time(), claims.get("aud")
    right = (
        claims.get("iss") == metadata["issuer"]
        and _client().client_id in (audience if isinstance(audience, list) else [audience])
        and SIGNED_OUT_EVENT in (claims.get("events") or {})
        and "nonce" not in claims
        and isinstance(claims.get("iat"), int)
        and abs(now - claims["iat"]) < LEEWAY_SECONDS
        and now < claims.get("exp", now + 1) + LEEWAY_SECONDS
    )
    if not right or not (claims.get("sub") or claims.get("sid")):
        raise IdentityError("this is no word of the provider’s that somebody signed out")
    return str(claims.get("sub") or ""), str(claims.get("sid") or "")


def _client() -> Any:
    return current_app.extensions["authlib.integrations.flask_client"].create_client(_NAME)


def _metadata() -> Mapping[str, Any]:
    """What the provider offers, with the safe ones of its signatures. Raises IdentityError."""
    found: dict[str, Any] = _client().load_server_metadata()
    wanted = current_app.extensions["vinemark"].identity.rstrip("/")
    if str(found.get("issuer", "")).rstrip("/") != wanted:
        raise IdentityError(f"the provider says that it is {found.get('issuer')}, not {wanted}")
    offered = found.get("id_token_signing_alg_values_supported") or ["RS256"]
    found["id_token_signing_alg_values_supported"] = [one for one in offered if one in SIGNATURES]
    return found


def _not_answered(error: Exception) -> IdentityError:
    _log.warning("single sign-on: %s: %s", type(error).__name__, error)
    return IdentityError(str(error) or type(error).__name__)
