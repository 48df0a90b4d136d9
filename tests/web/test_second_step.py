"""The second step of signing in, with codes worked out here from RFC 6238 and not by the library."""

import base64
import hmac
import re
import struct
import time
from dataclasses import replace

import pytest
from flask.testing import FlaskClient

from tests.web.conftest import PASSWORD, Site
from vinemark.demo.build import OSTRANDER


def code(secret: str, at: float | None = None, digits: int = 6) -> str:
    """RFC 4226, 5.3, and RFC 6238, 4.2."""
    step = int(time.time() if at is None else at) // 30
    digest = hmac.digest(base64.b32decode(secret), struct.pack(">Q", step), "sha1")
    start = digest[-1] & 15
    number = struct.unpack(">I", digest[start : start + 4])[0] & 0x7FFFFFFF
    return str(number % 10**digits).zfill(digits)


@pytest.mark.parametrize(("at", "expected"), [(59, "94287082"), (1111111109, "07081804"), (20000000000, "65353130")])
def test_the_codes_of_the_standard(at: int, expected: str) -> None:
    """RFC 6238, appendix B: the secret '12345678901234567890', SHA-1, eight digits."""
    assert code(base64.b32encode(b"12345678901234567890").decode(), at, 8) == expected


def secret_of(browser: FlaskClient) -> str:
    page = browser.get("/account/second-step").text
    found = re.search(r"<code>([A-Z2-7 ]+)</code>", page)
    assert found is not None
    assert "data:image/svg+xml" in page
    return found[1].replace(" ", "")


def set_up(site: Site) -> tuple[str, list[str]]:
    """The secret and the recovery codes; the code of the step before is used up."""
    secret = secret_of(site.browser)
    page = site.browser.post("/account/second-step", data={"code": code(secret, time.time() - 30)}).text
    return secret, re.findall(r"[0-9a-f]{8}-[0-9a-f]{8}", page)


def half_way(site: Site) -> FlaskClient:
    browser = site.app.test_client()
    answer = browser.post("/sign-in?next=/s/1/plan", data={"email": OSTRANDER[1], "password": PASSWORD})
    assert answer.headers["Location"].startswith("/sign-in/code")
    return browser


def typed(browser: FlaskClient, text: str) -> int:
    return browser.post("/sign-in/code?next=/s/1/plan", data={"code": text}).status_code


def test_a_password_alone_opens_nothing_any_more(site: Site) -> None:
    other = site.app.test_client()
    other.post("/sign-in", data={"email": OSTRANDER[1], "password": PASSWORD})
    secret, codes = set_up(site)
    assert len(set(codes)) == 8
    assert site.browser.get("/").status_code == 200
    assert other.get("/").status_code == 302
    browser = half_way(site)
    assert browser.get("/").status_code == 302
    assert typed(browser, "000000" if code(secret) != "000000" else "111111") == 422
    answer = browser.post("/sign-in/code?next=/s/1/plan", data={"code": f" {code(secret)} "})
    assert answer.headers["Location"] == "/s/1/plan"
    assert browser.get("/").status_code == 200


def test_a_code_is_used_once(site: Site) -> None:
    secret, _ = set_up(site)
    now = code(secret)
    assert typed(half_way(site), now) == 302
    assert typed(half_way(site), now) == 422
    assert typed(half_way(site), code(secret, time.time() - 30)) == 422


@pytest.mark.parametrize("off", [-300, 300])
def test_a_code_of_another_time_is_none(site: Site, off: int) -> None:
    secret, _ = set_up(site)
    assert typed(half_way(site), code(secret, time.time() + off)) == 422


def test_a_recovery_code_is_used_once(site: Site) -> None:
    _, codes = set_up(site)
    assert typed(half_way(site), codes[0].upper().replace("-", " ")) == 302
    assert typed(half_way(site), codes[0]) == 422
    assert typed(half_way(site), codes[1]) == 302


def test_wrong_codes_are_slowed_down(site: Site) -> None:
    set_up(site)
    browser = half_way(site)
    assert [typed(browser, "12345") for _ in range(7)] == [422] * 5 + [429] * 2


def test_without_the_password_there_is_no_second_step(site: Site) -> None:
    set_up(site)
    stranger = site.app.test_client()
    assert stranger.get("/sign-in/code").headers["Location"] == "/sign-in"
    assert stranger.post("/sign-in/code", data={"code": "123456"}).headers["Location"] == "/sign-in"


def test_half_way_ends_after_a_few_minutes(site: Site, monkeypatch: pytest.MonkeyPatch) -> None:
    set_up(site)
    browser = half_way(site)
    monkeypatch.setattr("vinemark.web.people.second_views.HALF_WAY_SECONDS", -1)
    assert browser.get("/sign-in/code").headers["Location"] == "/sign-in"


def test_a_wrong_first_code_turns_nothing_on(site: Site) -> None:
    secret = secret_of(site.browser)
    answer = site.browser.post("/account/second-step", data={"code": "12345"})
    assert (answer.status_code, "not the code of this moment" in answer.text) == (422, True)
    assert secret_of(site.browser) == secret
    site.browser.post("/sign-out")
    assert site.sign_in().headers["Location"] == "/"


def test_it_ends_with_the_password(site: Site) -> None:
    set_up(site)
    assert site.post("/account/second-step/end", password="wrong").status_code == 422
    assert "The second step is off." in site.post("/account/second-step/end", password=PASSWORD).text
    site.browser.post("/sign-out")
    assert site.sign_in().headers["Location"] == "/"


def test_a_college_asks_everybody_for_it(site: Site) -> None:
    site.app.extensions["vinemark"] = replace(site.app.extensions["vinemark"], two_steps=True)
    assert site.browser.get("/").headers["Location"] == "/account/second-step"
    assert "Your college asks for it" in site.browser.get("/account/second-step").text
    set_up(site)
    assert site.browser.get("/").status_code == 200


def test_one_that_is_on_is_not_overwritten(site: Site) -> None:
    set_up(site)
    assert site.browser.get("/account/second-step").headers["Location"] == "/account"
    assert site.browser.post("/account/second-step", data={"code": "1"}).headers["Location"] == "/account/second-step"
