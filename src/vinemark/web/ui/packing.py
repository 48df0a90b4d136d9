"""Pages go out compressed to browsers that take it."""

import gzip

from flask import Response, request

PACKED = frozenset({"text/html", "application/json", "text/css", "text/csv"})
SMALLEST = 1400
"""What fits into one packet gains nothing."""
LEVEL = 3


def accepts_gzip() -> bool:
    """Whether the request takes an answer compressed by gzip (RFC 9110, 12.5.3)."""
    return request.accept_encodings["gzip"] > 0


def pack(response: Response) -> Response:
    """Compress a text of some length; what is compressed already, or no text, is left as it is."""
    if response.mimetype not in PACKED or response.direct_passthrough or response.is_streamed:
        return response
    response.vary.add("Accept-Encoding")
    if "Content-Encoding" in response.headers or not accepts_gzip() or (response.content_length or 0) < SMALLEST:
        return response
    response.set_data(gzip.compress(response.get_data(), LEVEL, mtime=0))
    response.headers["Content-Encoding"] = "gzip"
    return response
