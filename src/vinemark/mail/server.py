"""The simulated mail server: it takes messages over SMTP, and shows them on a page for whoever tries Vine Mark."""

import re
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session
from flask import Flask, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFProtect
from markupsafe import Markup

from vinemark.core.base.dates import weekday_time_words
from vinemark.core.base.moments import moment_of
from vinemark.mail.box import Mailroom

LARGEST_MESSAGE = 1024 * 1024
REFUSED_DOMAIN = "nobody."
"""An address of a domain that begins like this is refused, so that a letter that does not arrive can be tried."""


class Taking:
    """What is done with a message that comes in."""

    def __init__(self, mailroom: Mailroom) -> None:
        self._mailroom = mailroom

    async def handle_RCPT(  # noqa: N802
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        """Take an address, or say that nobody has it (RFC 5321, 4.2.3)."""
        if address.rpartition("@")[2].casefold().startswith(REFUSED_DOMAIN):
            return "550 nobody here has this address"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        """Keep a message."""
        content = envelope.original_content
        if content is None:
            return "554 there is no message"
        self._mailroom.put(content)
        return "250 OK"


def serve_smtp(folder: Path, host: str, port: int) -> Controller:
    """Take messages on a port, in a thread of its own, until it is stopped."""
    controller = Controller(Taking(Mailroom(folder)), hostname=host, port=port, data_size_limit=LARGEST_MESSAGE)
    controller.start()
    return controller


def create_mail_pages(folder: Path, secret: str) -> Flask:
    """The pages of what was taken."""
    app = Flask(__name__)
    app.config.update(SECRET_KEY=secret, SESSION_COOKIE_NAME="mail", SESSION_COOKIE_SAMESITE="Lax")
    CSRFProtect(app)
    app.template_filter("moment")(lambda value: weekday_time_words(moment_of(value)) if value else "")
    app.template_filter("linked")(_linked)

    @app.get("/")
    def index() -> ResponseReturnValue:
        """All messages, or those to one address."""
        to = request.args.get("to", "")
        return render_template("mail/index.html", messages=Mailroom(folder).received(to), to=to)

    @app.get("/<key>")
    def show(key: str) -> ResponseReturnValue:
        """One message."""
        found = Mailroom(folder).message(key)
        if found is None:
            abort(404)
        return render_template("mail/message.html", message=found)

    @app.post("/empty")
    def empty() -> ResponseReturnValue:
        """Throw all away."""
        Mailroom(folder).empty()
        return redirect(url_for("index"))

    return app


def _linked(text: str) -> Markup:
    """A message's text with its addresses as links."""
    parts = re.split(r"(https?://\S+)", text)
    made = [Markup('<a href="{0}">{0}</a>').format(part) if n % 2 else Markup("{}").format(part)
            for n, part in enumerate(parts)]  # fmt: skip
    return Markup("").join(made)
