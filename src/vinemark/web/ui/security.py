"""Security headers."""

from flask import Response, g, request

from vinemark.web.ui.assets import version

REFUSALS = frozenset({403, 404, 409, 422})

POLICY = "; ".join(
    [
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    ]
)


def add_headers(response: Response) -> Response:
    """A strict content security policy and its companions on every answer; pages are not kept by caches."""
    headers = response.headers
    headers["Content-Security-Policy"] = POLICY
    headers["X-Content-Type-Options"] = "nosniff"
    headers["X-Frame-Options"] = "DENY"
    headers["Referrer-Policy"] = "same-origin"
    headers["Cross-Origin-Opener-Policy"] = "same-origin"
    headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
    if request.is_secure:
        headers["Strict-Transport-Security"] = "max-age=31536000"
    # A page believes only what carries this mark: whatever stands between may answer with the same status.
    headers["X-Vine-Mark"] = g.get("mark") or ("refused" if response.status_code in REFUSALS else "answer")
    headers["X-Vine-Mark-Version"] = version()
    if request.endpoint != "asset":
        headers["Cache-Control"] = "no-store"
    return response
