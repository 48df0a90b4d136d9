"""The token that a program shows at the registrar: for one instructor, for a few minutes, made from a shared secret.

The secret itself never goes over the line, so that what somebody reads there opens one person's sections, and not
for long.
"""

from itsdangerous import BadData, URLSafeTimedSerializer

VALID_SECONDS = 300


def access_token(secret: str, instructor: str) -> str:
    """A token for an instructor, by email."""
    return _serializer(secret).dumps(instructor)


def instructor_of(secret: str, token: str) -> str | None:
    """Whose token it is; None where it was not made with the secret, or is over."""
    try:
        found = _serializer(secret).loads(token, max_age=VALID_SECONDS)
    except BadData:
        return None
    return found if isinstance(found, str) else None


def _serializer(secret: str) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(secret, salt="the office, for an instructor")
