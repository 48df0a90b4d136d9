"""The cookie of a session: over https only, and of this host alone, except on this machine itself."""

from flask import Flask, Response, request
from flask.sessions import SecureCookieSessionInterface, SessionMixin

HERE = {"localhost", "127.0.0.1", "[::1]"}


class HostCookies(SecureCookieSessionInterface):
    """A name that browsers accept from this host over https only (RFC 6265bis, 4.1.3.2); plain on this machine.

    `secure` says which of the two, whatever the host; None goes by the host.
    """

    def __init__(self, secure: bool | None = None) -> None:
        self._secure = secure

    def save_session(self, app: Flask, session: SessionMixin, response: Response) -> None:
        """Keep what changed; styles and scripts are nobody's, and go out without a word of it."""
        if request.endpoint != "asset":
            super().save_session(app, session, response)

    def get_cookie_secure(self, app: Flask) -> bool:
        """Whether the cookie goes over https only."""
        if self._secure is not None:
            return self._secure
        return request.host.rpartition(":")[0] not in HERE and request.host not in HERE

    def get_cookie_name(self, app: Flask) -> str:
        """The cookie's name."""
        return "__Host-vinemark" if self.get_cookie_secure(app) else "vinemark"
