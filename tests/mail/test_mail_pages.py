"""The pages of the simulated mail server: what came is read there, and nothing of it is run."""

import re
from datetime import datetime

from tests.mail.conftest import Mails
from vinemark.mail.sending import Outgoing, opened_post
from vinemark.mail.server import create_mail_pages


def test_a_message_is_read_with_its_link(mails: Mails) -> None:
    text = "<script>alert(1)</script>\nhttp://localhost/invitation/a.b?c=d\n"
    with opened_post(mails.server) as post:
        at = datetime(2026, 12, 19, 10, 20)
        post.send(Outgoing("1", "petra@larkmoor.example", "<b>New</b>", text, at))
    app = create_mail_pages(mails.folder, "a secret")
    app.config["WTF_CSRF_ENABLED"] = False
    browser = app.test_client()
    page = browser.get("/").text
    assert "&lt;b&gt;New&lt;/b&gt;" in page
    assert "Sat, Dec 19, 10:20 AM" in page
    key = re.search(r'<a href="/([^"]+)">&lt;b&gt;', page)
    assert key
    message = browser.get(f"/{key[1]}").text
    assert '<a href="http://localhost/invitation/a.b?c=d">http://localhost/invitation/a.b?c=d</a>' in message
    assert "<script>" not in message
    assert "No messages to bo@" in browser.get("/?to=bo@").text
    assert browser.get("/none-such").status_code == 404
    assert browser.post("/empty").status_code == 302
    assert "No messages yet" in browser.get("/").text
