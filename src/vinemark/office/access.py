"""The token that a program shows at the registrar: for one instructor, for a few minutes, made from a shared secret.

A JSON Web Token (RFC 7519) signed with HS256: any system can check it. The secret itself never goes over the line, so
that what somebody reads there opens one person's sections, and not for long.
"""

import time

import jwt

VALID_SECONDS = 300
ISSUER = "vine-mark"
AUDIENCE = "registrar"
_NEEDED = ["sub", "iat", "exp", "iss", "aud"]


def access_token(secret: str, instructor: str, now: float | None = None) -> str:
    """A token for an instructor, by email; none without a secret. `now` is seconds of the epoch."""
    if not secret:
        return ""
    at = int(time.time() if now is None else now)
    claims = {"iss": ISSUER, "aud": AUDIENCE, "sub": instructor, "iat": at, "exp": at + VALID_SECONDS}
    return jwt.encode(claims, secret, algorithm="HS256")


def instructor_of(secret: str, token: str) -> str | None:
    """Whose token it is; None where it was not made with the secret, is for somebody else, or is over."""
    if not secret:
        return None
    try:
        claims = jwt.decode(
            token, secret, algorithms=["HS256"], audience=AUDIENCE, issuer=ISSUER, options={"require": _NEEDED}
        )
    except jwt.PyJWTError:
        return None
    return str(claims["sub"])
