"""The protocol of the simulated identity provider: the code flow of OpenID Connect Core 1.0 with PKCE, by a library."""

import secrets
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from authlib.integrations.flask_oauth2 import AuthorizationServer
from authlib.oauth2.rfc6749 import AuthorizationCodeMixin, ClientMixin
from authlib.oauth2.rfc6749.grants import AuthorizationCodeGrant
from authlib.oauth2.rfc7636 import CodeChallenge
from authlib.oidc.core import OpenIDCode, UserInfo
from flask import Flask
from joserfc.jwk import RSAKey

from vinemark.identity.people import KnownHere, Program

CODE_SECONDS = 60


class Registered(ClientMixin):  # type: ignore[misc]
    """The program as the library asks about it."""

    def __init__(self, program: Program) -> None:
        self.program = program

    def get_client_id(self) -> str:
        """Its id."""
        return self.program.id

    def get_default_redirect_uri(self) -> str:
        """Where answers go."""
        return self.program.callback

    def get_allowed_scope(self, scope: str) -> str:
        """What it may ask for."""
        return " ".join(one for one in scope.split() if one in {"openid", "profile", "email"})

    def check_redirect_uri(self, redirect_uri: str) -> bool:
        """Whether answers may go there."""
        return redirect_uri == self.program.callback

    def check_client_secret(self, client_secret: str) -> bool:
        """Whether this is its secret."""
        return secrets.compare_digest(client_secret.encode(), self.program.secret.encode())

    def check_endpoint_auth_method(self, method: str, endpoint: str) -> bool:
        """How it shows who it is."""
        return method in {"client_secret_basic", "client_secret_post"}

    def check_response_type(self, response_type: str) -> bool:
        """Only codes."""
        return response_type == "code"

    def check_grant_type(self, grant_type: str) -> bool:
        """Only codes."""
        return grant_type == "authorization_code"


@dataclass
class GivenCode(AuthorizationCodeMixin):  # type: ignore[misc]
    """A code that was given out, for whom, and what came with the request."""

    code: str
    user: KnownHere
    sid: str
    redirect_uri: str
    scope: str
    nonce: str
    code_challenge: str
    code_challenge_method: str
    at: float = field(default_factory=time.time)

    def get_redirect_uri(self) -> str:
        """Where the answer went."""
        return self.redirect_uri

    def get_scope(self) -> str:
        """What was asked for."""
        return self.scope

    def get_nonce(self) -> str:
        """The nonce of the request."""
        return self.nonce

    def get_auth_time(self) -> int:
        """When its person signed in."""
        return int(self.at)

    def get_acr(self) -> None:
        """How surely: nothing is said."""

    def get_amr(self) -> None:
        """By what: nothing is said."""


@dataclass(frozen=True)
class Session:
    """Somebody who is signed in at the provider."""

    user: KnownHere
    sid: str


class Server(AuthorizationServer):  # type: ignore[misc]
    """The provider's end of the protocol; codes are kept in memory, each for one use and a minute."""

    def __init__(self, app: Flask, program: Program, issuer: str, key: RSAKey) -> None:
        registered = Registered(program)
        super().__init__(app, lambda wanted: registered if wanted == program.id else None, lambda *_: None)
        self.codes: dict[str, GivenCode] = {}
        self.register_grant(CodeGrant, [Identity(self.codes, issuer, key), CodeChallenge(required=True)])


class CodeGrant(AuthorizationCodeGrant):  # type: ignore[misc]
    """The code flow."""

    TOKEN_ENDPOINT_AUTH_METHODS: Sequence[str] = ("client_secret_basic", "client_secret_post")
    server: Server

    def save_authorization_code(self, code: str, request: Any) -> None:
        """Keep a code."""
        asked, session = request.payload.data, request.user
        self.server.codes[code] = GivenCode(
            code, session.user, session.sid, request.payload.redirect_uri, request.payload.scope or "",
            asked.get("nonce", ""), asked.get("code_challenge", ""), asked.get("code_challenge_method", ""),
        )  # fmt: skip

    def query_authorization_code(self, code: str, client: Registered) -> GivenCode | None:
        """A code that is still good."""
        found = self.server.codes.get(code)
        return found if found and time.time() - found.at < CODE_SECONDS else None

    def delete_authorization_code(self, authorization_code: GivenCode) -> None:
        """It was used."""
        self.server.codes.pop(authorization_code.code, None)

    def authenticate_user(self, authorization_code: GivenCode) -> Session:
        """Whose it is."""
        return Session(authorization_code.user, authorization_code.sid)


class Identity(OpenIDCode):  # type: ignore[misc]
    """Who somebody is."""

    def __init__(self, codes: Mapping[str, GivenCode], issuer: str, key: RSAKey) -> None:
        super().__init__(require_nonce=True)
        self._codes, self._issuer, self._key = codes, issuer, key

    def exists_nonce(self, nonce: str, request: Any) -> bool:
        """Whether a nonce was used before."""
        return any(one.nonce == nonce for one in self._codes.values())

    def get_client_algorithm(self, client: Registered) -> str:
        """How tokens are signed."""
        return "RS256"

    def get_client_claims(self, client: Registered) -> dict[str, Any]:
        """What every token says."""
        return {"iss": self._issuer, "aud": [client.get_client_id()]}

    def resolve_client_private_key(self, client: Registered) -> Any:
        """What tokens are signed with."""
        return self._key

    def get_encode_header(self, client: Registered) -> dict[str, str]:
        """With which key it is signed."""
        return {"alg": "RS256", "kid": str(self._key.kid)}

    def generate_user_info(self, user: Session, scope: str) -> UserInfo:
        """What is said of somebody."""
        known = user.user
        return UserInfo(
            sub=known.subject, name=known.name, email=known.email, email_verified=known.email_verified,
            roles=list(known.roles), sid=user.sid,
        )  # fmt: skip
