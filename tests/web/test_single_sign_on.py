"""Single sign-on with the identity provider that ships, over real connections: in, out at both ends; what is refused.

The flow and its checks: OpenID Connect Core 1.0 (3.1), RP-Initiated Logout 1.0, Back-Channel Logout 1.0.
"""

import re
import shutil
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from urllib.parse import parse_qs, urlsplit

import httpx
import pytest
from flask import Flask
from joserfc import jwt
from joserfc.jwk import OctKey, RSAKey
from werkzeug.serving import make_server

from tests.browser.stage import free_port
from tests.web.conftest import CLOCK, PASSWORD
from vinemark.core.base.refused import Refused
from vinemark.demo.build import ALBRIGHT, BRIGHTWATER, MARSH, OSTRANDER
from vinemark.identity.people import KnownHere, Program
from vinemark.identity.provider import BACK_CHANNEL, Provider, create_provider
from vinemark.settings import Settings
from vinemark.store.database import connect
from vinemark.web import create_app

KNOWN = [KnownHere("l1", *OSTRANDER), KnownHere("l2", *ALBRIGHT),
         KnownHere("l3", *MARSH, ("chair of Plants and Fiber",)),
         KnownHere("l4", "Nils Odd", "nils@larkmoor.example", email_verified=False),
         KnownHere("l5", "No Address", "")]  # fmt: skip


@contextmanager
def served(app: Flask, port: int) -> Iterator[None]:
    server = make_server("127.0.0.1", port, app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield
    server.shutdown()
    thread.join()
    server.server_close()


@dataclass
class Both:
    """Vine Mark, the provider, and a browser."""

    app: Flask
    provider_app: Flask
    address: str
    issuer: str
    folder: Path
    browser: httpx.Client

    @property
    def provider(self) -> Provider:
        found: Provider = self.provider_app.extensions["identity"]
        return found

    def sign_in(self, subject: str, where: str = "/") -> httpx.Response:
        """As somebody does: from the sign-in page to the provider, choosing who one is, and back."""
        page = self.browser.get(f"{self.address}/sso/sign-in", params={"next": where})
        if "Who are you?" not in page.text:
            return page
        return self.browser.post(str(page.url), data={"subject": subject, "csrf_token": token_of(page)})

    def sign_out(self) -> httpx.Response:
        page = self.browser.get(f"{self.address}/account")
        return self.browser.post(f"{self.address}/sign-out", data={"csrf_token": token_of(page)})

    def who(self) -> str:
        found = re.search(r"[\w.]+@[\w.]+", self.browser.get(f"{self.address}/account").text)
        return found[0] if found else ""

    def rows(self, query: str) -> list[tuple[object, ...]]:
        with connect(self.folder / "vinemark.sqlite") as connection:
            found = [tuple(row) for row in connection.execute(query)]
        connection.close()
        return found


def token_of(page: httpx.Response) -> str:
    found = re.search(r'name="csrf[_-]token" (?:content|value)="([^"]+)"', page.text)
    assert found, page.text
    return found[1]


@pytest.fixture
def both(demo_folder: Path, compiled: str, tmp_path: Path) -> Iterator[Both]:
    yield from _both(demo_folder, compiled, tmp_path)


def _both(demo_folder: Path, compiled: str, folder: Path, **more: object) -> Iterator[Both]:
    shutil.copy(demo_folder / "vinemark.sqlite", folder / "vinemark.sqlite")
    port, provider_port = free_port(), free_port()
    address, issuer = f"http://127.0.0.1:{port}", f"http://127.0.0.1:{provider_port}"
    settings = Settings(
        database=str(folder / "vinemark.sqlite"), clock=CLOCK, secret="for tests alone, and long enough to sign with",
        compiled=compiled, address=address, identity=issuer, identity_secret="shared", roles_claim="roles",
        college="Larkmoor College", cheap_hashes=True,
    )  # fmt: skip
    app = create_app(replace(settings, **more))  # type: ignore[arg-type]
    provider = create_provider(issuer, Program("vine-mark", "shared", address), KNOWN, "Larkmoor College")
    with ExitStack() as stack:
        stack.enter_context(served(app, port))
        stack.enter_context(served(provider, provider_port))
        browser = stack.enter_context(httpx.Client(follow_redirects=True, timeout=20))
        yield Both(app, provider, address, issuer, folder, browser)


# --- in -----------------------------------------------------------------------------------------


def test_who_has_an_account_is_signed_in_to_it(both: Both) -> None:
    assert "Sign in with Larkmoor College" in " ".join(both.browser.get(f"{both.address}/sign-in").text.split())
    page = both.sign_in("l1", "/account")
    assert str(page.url) == f"{both.address}/account"
    assert both.who() == OSTRANDER[1]
    assert "HYDR 230-01" in both.browser.get(both.address).text
    assert both.rows("SELECT count(*) FROM person WHERE email = 'maren.ostrander@larkmoor.example'") == [(1,)]


def test_who_has_none_gets_one_without_a_password(both: Both) -> None:
    both.sign_in("l2")
    assert both.who() == ALBRIGHT[1]
    assert (ALBRIGHT[0], "") in both.rows("SELECT name, password_hash FROM person")
    account = both.browser.get(f"{both.address}/account").text
    assert "Current password" not in account
    assert "show that you mean it" in account
    # An empty password opens nothing.
    page = httpx.get(f"{both.address}/sign-in")
    form = {"email": ALBRIGHT[1], "password": "", "csrf_token": token_of(page)}
    assert httpx.post(f"{both.address}/sign-in", data=form, cookies=page.cookies).status_code == 422


def test_an_account_goes_by_the_subject_when_the_address_changes_there(both: Both) -> None:
    both.sign_in("l2")
    both.sign_out()
    both.provider._known["l2"] = KnownHere("l2", ALBRIGHT[0], "ines@lisle.example")
    both.sign_in("l2")
    assert both.who() == "ines@lisle.example"
    both.sign_out()
    both.provider._known["l2"] = KnownHere("l2", ALBRIGHT[0], OSTRANDER[1])
    page = both.sign_in("l2")
    assert page.status_code == 403
    assert "is another account’s here" in page.text
    assert both.rows("SELECT count(*) FROM signed_in") == [(0,)]


def test_a_part_comes_by_a_claim_and_goes_with_it(both: Both) -> None:
    both.sign_in("l3")
    board = both.browser.get(f"{both.address}/board")
    assert "BOTN 105-02" in board.text
    assert both.browser.get(f"{both.address}/board?department=Earth and Water").status_code == 403
    both.sign_out()
    both.provider._known["l3"] = KnownHere("l3", *MARSH)
    both.sign_in("l3")
    assert both.browser.get(f"{both.address}/board").status_code == 403


def test_a_part_by_address_holds_too(both: Both) -> None:
    both.provider._known["l9"] = KnownHere("l9", *BRIGHTWATER)
    both.sign_in("l9")
    assert "HYDR 230-01" in both.browser.get(f"{both.address}/board").text


@pytest.mark.parametrize(("subject", "said"), [("l4", "does not vouch for"), ("l5", "does not say your email")])
def test_an_address_that_is_not_vouched_for_opens_nothing(both: Both, subject: str, said: str) -> None:
    page = both.sign_in(subject)
    assert page.status_code == 403
    assert said in page.text
    assert both.who() == ""


def test_a_closed_account_stays_closed(both: Both) -> None:
    both.rows("UPDATE person SET closed = 1 WHERE email = 'maren.ostrander@larkmoor.example'")
    page = both.sign_in("l1")
    assert page.status_code == 403
    assert "this account is closed" in page.text


def test_it_leads_to_no_other_place(both: Both) -> None:
    page = both.sign_in("l1", "//elsewhere.example/x")
    assert str(page.url) == f"{both.address}/"


# --- what is no word of the provider's ----------------------------------------------------------


def test_an_answer_that_this_browser_did_not_ask_for_is_refused(both: Both) -> None:
    """Somebody else's answer, as in RFC 6749, 10.12."""
    other = httpx.Client(timeout=20)
    begun = other.get(f"{both.address}/sso/sign-in")
    state = parse_qs(urlsplit(begun.headers["Location"]).query)["state"][0]
    page = both.browser.get(f"{both.address}/sso/callback", params={"code": "x", "state": state})
    assert page.status_code == 400
    assert both.browser.get(f"{both.address}/sso/callback").status_code == 400
    assert both.browser.get(f"{both.address}/sso/callback?error=access_denied&state={state}").status_code == 400
    other.close()


def test_an_answer_is_good_once(both: Both) -> None:
    first = both.browser.get(f"{both.address}/sso/sign-in")
    form = {"subject": "l1", "csrf_token": token_of(first)}
    back = both.browser.post(str(first.url), data=form, follow_redirects=False).headers["Location"]
    assert str(both.browser.get(back).url) == f"{both.address}/"
    both.sign_out()
    assert both.browser.get(back).status_code == 400
    assert both.who() == ""


@pytest.mark.parametrize("wrong", ["another key", "another audience", "another issuer", "old", "another nonce"])
def test_a_token_that_is_not_the_providers_for_us_now_is_refused(
    both: Both, wrong: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = jwt.encode

    def forged(header, claims, key, algorithms=None):  # type: ignore[no-untyped-def]
        changed = dict(claims)
        if wrong == "another audience":
            changed["aud"] = ["somebody-else"]
        if wrong == "another issuer":
            changed["iss"] = "http://127.0.0.1:1"
        if wrong == "old":
            changed |= {"iat": int(time.time()) - 9000, "exp": int(time.time()) - 5000}
        if wrong == "another nonce":
            changed["nonce"] = "x"
        other = RSAKey.generate_key(2048, {"kid": key.kid}) if wrong == "another key" else key
        return real(header, changed, other, algorithms)

    monkeypatch.setattr("authlib.oidc.core.grants.code.jwt.encode", forged)
    assert both.sign_in("l1").status_code == 400
    assert both.who() == ""


def test_a_token_signed_with_the_shared_secret_is_refused(both: Both, monkeypatch: pytest.MonkeyPatch) -> None:
    """RFC 8725, 3.1: only algorithms that were agreed on, whatever the provider says that it offers."""
    real = jwt.encode

    def forged(header, claims, key, algorithms=None):  # type: ignore[no-untyped-def]
        return real({"alg": "HS256"}, claims, OctKey.import_key("shared"), ["HS256"])

    monkeypatch.setattr("authlib.oidc.core.grants.code.jwt.encode", forged)
    plain = both.provider.metadata()
    offered = {**plain, "id_token_signing_alg_values_supported": ["HS256", "none", "RS256"]}
    monkeypatch.setattr(both.provider, "metadata", lambda: offered)
    assert both.sign_in("l1").status_code == 400


def test_a_provider_that_says_it_is_another_is_refused(both: Both, monkeypatch: pytest.MonkeyPatch) -> None:
    plain = both.provider.metadata()
    monkeypatch.setattr(both.provider, "metadata", lambda: {**plain, "issuer": "https://another.example"})
    page = both.browser.get(f"{both.address}/sso/sign-in")
    assert page.status_code == 503
    assert "does not answer" in page.text


def test_a_provider_that_is_away_is_said(demo_folder: Path, compiled: str, tmp_path: Path) -> None:
    for both in _both(demo_folder, compiled, tmp_path, identity=f"http://127.0.0.1:{free_port()}"):
        assert both.browser.get(f"{both.address}/sso/sign-in").status_code == 503
        page = both.browser.get(f"{both.address}/sign-in")
        form = {"email": OSTRANDER[1], "password": PASSWORD, "csrf_token": token_of(page)}
        assert "Desk" in both.browser.post(f"{both.address}/sign-in", data=form).text


# --- out ----------------------------------------------------------------------------------------


def test_signing_out_ends_it_at_both_ends(both: Both) -> None:
    both.sign_in("l1")
    assert "is signed in here" in both.browser.get(both.issuer).text
    page = both.sign_out()
    assert both.who() == ""
    there = re.search(r'http-equiv="refresh" content="0;url=([^"]+)"', page.text)
    assert there
    back = both.browser.get(there[1].replace("&amp;", "&"))
    assert str(back.url).startswith(f"{both.address}/sign-in")
    assert "Nobody is signed in here" in both.browser.get(both.issuer).text


def test_signing_out_there_signs_out_here(both: Both) -> None:
    both.sign_in("l1")
    assert both.who() == OSTRANDER[1]
    page = both.browser.get(both.issuer)
    both.browser.post(f"{both.issuer}/sign-out", data={"csrf_token": token_of(page)})
    assert both.who() == ""


def test_signing_out_of_a_password_does_not_go_there(both: Both) -> None:
    page = both.browser.get(f"{both.address}/sign-in")
    form = {"email": OSTRANDER[1], "password": PASSWORD, "csrf_token": token_of(page)}
    both.browser.post(f"{both.address}/sign-in", data=form)
    assert str(both.sign_out().url) == f"{both.address}/sign-in"


def logout_token(both: Both, **changed: object) -> str:
    now = int(time.time())
    claims = {"iss": both.issuer, "sub": "l1", "aud": "vine-mark", "iat": now, "exp": now + 60, "jti": "1",
              "events": {BACK_CHANNEL: {}}}  # fmt: skip
    key = both.provider.key
    made = {name: value for name, value in {**claims, **changed}.items() if value is not None}
    return jwt.encode({"alg": "RS256", "kid": key.kid}, made, key, ["RS256"])


@pytest.mark.parametrize(
    "changed",
    [{"iss": "https://x"}, {"aud": "x"}, {"events": {}}, {"nonce": "1"}, {"iat": 5}, {"sub": None}, {"exp": 5}],
)
def test_a_word_of_signing_out_that_is_not_the_providers_ends_nothing(both: Both, changed: dict[str, object]) -> None:
    both.sign_in("l1")
    token = logout_token(both, **changed)
    assert httpx.post(f"{both.address}/sso/signed-out", data={"logout_token": token}).status_code == 400
    assert httpx.post(f"{both.address}/sso/signed-out", data={"logout_token": "x.y.z"}).status_code == 400
    assert httpx.post(f"{both.address}/sso/signed-out").status_code == 400
    assert both.who() == OSTRANDER[1]


def test_a_word_without_a_session_ends_all_of_that_person(both: Both) -> None:
    both.sign_in("l1")
    assert httpx.post(f"{both.address}/sso/signed-out", data={"logout_token": logout_token(both)}).status_code == 200
    assert both.who() == ""


# --- settings -----------------------------------------------------------------------------------


def test_local_passwords_can_be_switched_off(demo_folder: Path, compiled: str, tmp_path: Path) -> None:
    mail = {"mail": "smtp://127.0.0.1:1", "mail_from": "a@b.example", "local_passwords": False}
    for both in _both(demo_folder, compiled, tmp_path, **mail):
        page = both.browser.get(f"{both.address}/sign-in")
        assert 'type="password"' not in page.text
        form = {"email": OSTRANDER[1], "password": PASSWORD, "csrf_token": token_of(page)}
        assert both.browser.post(f"{both.address}/sign-in", data=form).status_code == 404
        assert both.browser.get(f"{both.address}/password").status_code == 404
        both.sign_in("l1")
        assert both.who() == OSTRANDER[1]


def test_an_account_of_single_sign_on_alone_is_deleted_by_its_owner(both: Both) -> None:
    both.sign_in("l2")
    page = both.browser.get(f"{both.address}/account")
    form = {"delete_password": "wrong", "csrf_token": token_of(page)}
    assert "This is not your email address." in both.browser.post(f"{both.address}/account/delete", data=form).text
    form["delete_password"] = ALBRIGHT[1]
    both.browser.post(f"{both.address}/account/delete", data=form)
    assert both.rows("SELECT count(*) FROM identity") == [(0,)]
    assert both.who() == ""


@pytest.mark.parametrize(
    "wrong",
    [{"identity": "http://sso.college.example"}, {"identity_secret": ""}, {"address": ""},
     {"identity": "", "local_passwords": False}],
)  # fmt: skip
def test_settings_that_do_not_fit_are_refused(tmp_path: Path, wrong: dict[str, object]) -> None:
    good = Settings(
        database=str(tmp_path / "v.sqlite"), identity="https://sso.college.example", identity_secret="shared",
        address="https://grades.college.example", secret="for tests alone, and long enough to sign with",
    )  # fmt: skip
    create_app(good)
    with pytest.raises(Refused):
        create_app(replace(good, **wrong))  # type: ignore[arg-type]
