"""Signing in, who sees what, and what every answer carries."""

import re
import stat
import threading
import time
from dataclasses import replace
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from tests.web.conftest import CLOCK, Site
from vinemark.core.base.refused import Refused
from vinemark.demo.build import OSTRANDER, VANTERPOOL
from vinemark.settings import Settings
from vinemark.store import people
from vinemark.store.database import connect
from vinemark.store.replica import ReplicaState, note_replica
from vinemark.web import create_app, first_code
from vinemark.web.application import new_first_code

ARGUMENTS = {"student_id": "L1", "item_id": "q1", "entry_id": 1, "file_id": 1, "after": 0, "name": "course"}


def routes(site: Site, section: int) -> list[tuple[str, str]]:
    """Every address that speaks of a section, with the method it takes; what has another argument uses 1."""
    adapter = site.app.url_map.bind("localhost")
    found = []
    for rule in site.app.url_map.iter_rules():
        if "section_id" in rule.arguments:
            values = {name: ARGUMENTS.get(name, 1) for name in rule.arguments} | {"section_id": section}
            found += [
                (method, adapter.build(rule.endpoint, values)) for method in (rule.methods or set()) & {"GET", "POST"}
            ]
    return found


def test_without_a_sign_in_every_page_leads_to_it(site: Site) -> None:
    nobody = site.app.test_client()
    assert len(routes(site, 1)) > 50
    for method, address in [("GET", "/"), ("GET", "/sections/new"), *routes(site, 1)]:
        answer = nobody.open(address, method=method)
        assert (answer.status_code, answer.headers["Location"].split("?")[0]) == (302, "/sign-in"), address


def test_another_persons_section_gives_404_everywhere(site: Site) -> None:
    other = site.app.test_client()
    other.post("/sign-in", data={"email": VANTERPOOL[1], "password": "larkmoor"})
    for method, address in routes(site, site.section("HYDR 230-01")):
        answer = other.open(address, method=method, json={} if method == "POST" else None)
        assert answer.status_code == 404, (method, address)
    assert "HYDR 230" not in other.get("/").text
    assert "SOIL 210-01" in other.get("/").text


def test_a_reviewer_reads_all_and_changes_nothing_but_remarks(site: Site) -> None:
    section = site.section("SOIL 210-01")
    give_role(site, section, "reviewer")
    course = site.course(section, VANTERPOOL[1])
    place = {"student": course.students[0].id, "item": next(i.id for _, i in course.plan.items())}
    assert site.browser.get(f"/s/{section}/scores").status_code == 200
    for address, sent in (
        ("scores/cells", {"cells": [{**place, "typed": "1"}]}),
        ("scores/undo", {"entry": 1}),
        (f"scores/late/{place['student']}/do", {}),
        (f"scores/visibility/{place['item']}", {}),
        ("scores/files", {}),
    ):
        assert site.browser.post(f"/s/{section}/{address}", json=sent).status_code == 403, address
    answer = site.browser.post(f"/s/{section}/scores/cells", json={"cells": [], "remark": {**place, "text": "look"}})
    assert answer.status_code == 200
    assert site.course(section, VANTERPOOL[1]) == course


def test_a_grader_enters_scores_but_opens_nothing_to_students(site: Site) -> None:
    section = site.section("SOIL 210-01")
    give_role(site, section, "grader")
    place = {"student": site.course(section, VANTERPOOL[1]).students[0].id, "item": "i1"}
    item = next(i.id for _, i in site.course(section, VANTERPOOL[1]).plan.items())
    sent = {"cells": [{**place, "item": item, "typed": "1"}]}
    assert site.browser.post(f"/s/{section}/scores/cells", json=sent).get_json()["entry"]
    assert site.post(f"/s/{section}/scores/visibility/{item}", access="open").status_code == 403


def give_role(site: Site, section: int, role: str) -> None:
    """Let the signed-in instructor look into another person's section."""
    with connect(site.folder / "vinemark.sqlite") as connection:
        person = people.by_email(connection, OSTRANDER[1])
        assert person is not None
        connection.execute("INSERT INTO section_person VALUES (?, ?, ?, NULL)", (section, person["id"], role))
    connection.close()


def test_the_demo_lists_its_people_on_the_sign_in_page(site: Site) -> None:
    page = site.app.test_client().get("/sign-in").text
    assert "Maren Ostrander" in page
    assert "Idris Vanterpool" in page


def test_a_wrong_password_is_refused_and_slowed_down(site: Site) -> None:
    browser = site.app.test_client()
    answers = [
        browser.post("/sign-in", data={"email": "maren.ostrander@larkmoor.example", "password": "x"}) for _ in range(7)
    ]
    assert [a.status_code for a in answers] == [422] * 5 + [429] * 2
    assert "maren.ostrander@larkmoor.example" in answers[0].text
    right = {"email": "maren.ostrander@larkmoor.example", "password": "larkmoor"}
    assert browser.post("/sign-in", data=right).status_code == 429


@pytest.mark.parametrize(
    ("wanted", "reached"),
    [("/s/1/plan", "/s/1/plan"), ("//evil.example", "/"), ("https://evil.example", "/"), ("/\\evil.example", "/")],
)
def test_after_signing_in_only_this_site_is_reached(site: Site, wanted: str, reached: str) -> None:
    form = {"email": "maren.ostrander@larkmoor.example", "password": "larkmoor"}
    answer = site.app.test_client().post("/sign-in", query_string={"next": wanted}, data=form)
    assert answer.headers["Location"] == reached


def test_signing_out_is_a_post_and_ends_the_session(site: Site) -> None:
    assert site.browser.get("/sign-out").status_code == 405
    site.browser.post("/sign-out")
    assert site.browser.get("/").status_code == 302


def test_headers_of_every_answer(site: Site) -> None:
    for path in ("/", "/sign-in", "/nowhere", f"/s/{site.section('HYDR 230-01')}/plan"):
        headers = site.browser.get(path).headers
        policy = headers["Content-Security-Policy"]
        assert "script-src 'self';" in policy
        assert "unsafe" not in policy
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["X-Frame-Options"] == "DENY"
        assert headers["Cache-Control"] == "no-store"


def test_without_its_token_a_form_changes_nothing(site: Site) -> None:
    site.app.config["WTF_CSRF_ENABLED"] = True
    section = site.section("HYDR 230-01")
    answer = site.browser.post(f"/s/{section}/plan/add-category", data={"name": "X", "weight": "5"})
    assert answer.status_code == 400
    assert "out of date" in answer.text
    assert len(site.course(section).plan.categories) == 5


CODE = "abcd-efgh-jkmn"
ACCOUNT = {"code": "ABCD efgh jkmn", "name": "Tove", "email": "tove@x.example", "password": "moss on cold stone",
           "again": "moss on cold stone"}  # fmt: skip
NEW_PASSWORD = "lichen under the north wall"


@pytest.fixture
def empty(tmp_path: Path) -> Flask:
    """The application with an empty database."""
    settings = Settings(database=str(tmp_path / "new.sqlite"), clock=CLOCK, first_code=CODE, cheap_hashes=True)
    app = create_app(settings)
    app.config["WTF_CSRF_ENABLED"] = False
    return app


def test_who_has_the_code_makes_the_first_account_and_only_the_first(empty: Flask) -> None:
    browser = empty.test_client()
    assert first_code(empty) == CODE
    assert browser.get("/sign-in").headers["Location"] == "/first-account"
    assert browser.post("/first-account", data=ACCOUNT).headers["Location"] == "/"
    assert browser.get("/").status_code == 200
    assert first_code(empty) == ""
    second = empty.test_client().post("/first-account", data={**ACCOUNT, "email": "b@x.example"})
    assert second.headers["Location"] == "/sign-in"
    assert empty.test_client().get("/first-account").headers["Location"] == "/sign-in"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"code": ""}, "not the code"),
        ({"code": "abcd-efgh-jkmm"}, "not the code"),
        ({"again": "differs"}, "two passwords differ"),
        ({"password": "short", "again": "short"}, "10 characters or more"),
        ({"password": "x" * 900, "again": "x" * 900}, "200 characters or fewer"),
        ({"password": "password1234", "again": "password1234"}, "tried first"),
        ({"password": "qwertyuiop", "again": "qwertyuiop"}, "tried first"),
        ({"name": "Tove Bergsdottir", "password": "bergsdottir1", "again": "bergsdottir1"}, "tried first"),
        ({"name": " "}, "Type your name"),
        ({"email": "tove"}, "Type an email address"),
    ],
)
def test_a_first_account_with_a_fault_is_not_made(empty: Flask, change: dict[str, str], said: str) -> None:
    answer = empty.test_client().post("/first-account", data={**ACCOUNT, **change})
    assert (answer.status_code, said in answer.text) == (422, True)
    assert first_code(empty) == CODE


def test_a_code_is_drawn_anew_at_each_start() -> None:
    assert re.fullmatch("(?:[a-z2-9]{4}-){2}[a-z2-9]{4}", new_first_code())
    assert new_first_code() != new_first_code()


def test_a_short_secret_is_refused(tmp_path: Path) -> None:
    with pytest.raises(Refused, match="32 signs or more"):
        create_app(Settings(database=str(tmp_path / "new.sqlite"), secret="guess me"))


@pytest.mark.parametrize("address", ["http://registrar.example", "http://10.0.0.5:8601", "ftp://localhost.example"])
def test_an_office_elsewhere_is_spoken_to_over_https_only(tmp_path: Path, address: str) -> None:
    with pytest.raises(Refused, match="https://"):
        create_app(Settings(database=str(tmp_path / "new.sqlite"), office_url=address))
    assert create_app(Settings(database=str(tmp_path / "new.sqlite"), office_url="https://registrar.example"))
    assert create_app(Settings(database=str(tmp_path / "new.sqlite"), office_url="http://[::1]:8601"))


def test_the_database_and_the_secret_are_their_owners_alone(empty: Flask, tmp_path: Path) -> None:
    empty.test_client().post("/first-account", data=ACCOUNT)
    assert {path.name for path in tmp_path.iterdir()} >= {"new.sqlite", "new.secret"}
    assert {stat.S_IMODE(path.stat().st_mode) for path in tmp_path.iterdir()} == {0o600}


# --- sessions ---


def twin(site: Site) -> FlaskClient:
    """Another browser with the same cookies."""
    found = site.app.test_client()
    for name in ("vinemark", "vinemark-device"):
        if cookie := site.browser.get_cookie(name):
            found.set_cookie(name, cookie.value)
    return found


def opens(browser: FlaskClient) -> bool:
    return browser.get("/").status_code == 200


def elsewhere(site: Site, email: str = OSTRANDER[1], **more: str) -> FlaskClient:
    """Signed in at another place."""
    found = site.app.test_client()
    found.post("/sign-in", data={"email": email, "password": "larkmoor"}, environ_base=more)
    return found


def test_signing_out_ends_the_session_whoever_kept_the_cookie(site: Site) -> None:
    copy = twin(site)
    assert opens(copy)
    site.browser.post("/sign-out")
    assert not opens(copy)


def test_another_password_ends_all_other_sessions(site: Site) -> None:
    other = elsewhere(site)
    typed = {"current": "larkmoor", "new": NEW_PASSWORD, "again": NEW_PASSWORD}
    page = site.post("/account/password", **typed)
    assert "Password changed. Everywhere else you are signed out." in page.text
    assert (opens(site.browser), opens(other)) == (True, False)
    assert elsewhere(site).get("/").status_code == 302
    assert site.app.test_client().post(
        "/sign-in", data={"email": OSTRANDER[1], "password": NEW_PASSWORD}
    ).headers["Location"] == "/"  # fmt: skip


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"current": "wrong"}, "not your password"),
        ({"new": "larkmoor"}, "10 characters or more"),
        ({"new": "ostrander1", "again": "ostrander1"}, "tried first"),
        ({"again": "differs"}, "two passwords differ"),
    ],
)
def test_another_password_with_a_fault_changes_nothing(site: Site, change: dict[str, str], said: str) -> None:
    other = elsewhere(site)
    typed = {"current": "larkmoor", "new": NEW_PASSWORD, "again": NEW_PASSWORD, **change}
    answer = site.post("/account/password", **typed)
    assert (answer.status_code, said in answer.text) == (422, True)
    assert opens(other)


def test_one_signs_out_at_another_place(site: Site) -> None:
    other, third = elsewhere(site, REMOTE_ADDR="10.0.0.7"), elsewhere(site)
    page = site.browser.get("/account").text
    assert page.count("Sign out there") == 2
    assert "10.0.0.7" in page
    number = re.findall(r"/account/sign-out/(\d+)", page)[1]
    assert "Signed out there." in site.post(f"/account/sign-out/{number}").text
    assert [opens(other), opens(third)].count(False) == 1
    assert site.post(f"/account/sign-out/{number}").status_code == 404
    assert "Signed out at 1 other place." in site.post("/account/sign-out-others").text
    assert (opens(other), opens(third), opens(site.browser)) == (False, False, True)


def test_nobody_ends_the_session_of_another_person(site: Site) -> None:
    other = elsewhere(site, VANTERPOOL[1])
    for number in range(1, 9):
        site.post(f"/account/sign-out/{number}")
    assert opens(other)


def test_the_account_is_for_who_is_signed_in(site: Site) -> None:
    nobody = site.app.test_client()
    for method, path in (("GET", "/account"), ("POST", "/account/password"), ("POST", "/account/sign-out-others")):
        answer = nobody.open(path, method=method)
        assert (answer.status_code, answer.headers["Location"].split("?")[0]) == (302, "/sign-in")


def test_a_notice_does_not_ride_in_the_cookie_and_is_undone_in_its_own_section(site: Site) -> None:
    one, other = site.section("HYDR 230-01"), site.section("BOTN 105-02")
    item = next(i for _, i in site.course(one).plan.items())
    path = f"/s/{one}/scores/visibility/{item.id}"
    for rule, reader in (("held", f"/s/{other}/scores"), ("open", f"/s/{one}/scores"), ("held", "/")):
        answer = site.browser.post(path, data={"access": rule})
        assert answer.status_code == 302
        assert item.name not in str(answer.headers)
        page = site.browser.get(reader)
        assert page.status_code == 200
        assert f"{item.name}: " in page.text
        assert ("/history/undo/" in page.text) == (reader == f"/s/{one}/scores")


# --- signing in ---


def wrong(site: Site, times: int, **more: str) -> list[int]:
    stranger = site.app.test_client()
    form = {"email": OSTRANDER[1], "password": "wrong"}
    return [stranger.post("/sign-in", data=form, environ_base=more).status_code for _ in range(times)]


def test_wrong_tries_from_elsewhere_keep_the_owner_neither_out_nor_in(site: Site) -> None:
    assert 429 in wrong(site, 8, REMOTE_ADDR="10.9.9.9")
    assert opens(site.browser)
    assert opens(elsewhere(site))


def test_wrong_tries_from_the_same_address_do_not_stop_a_device_that_was_here_before(site: Site) -> None:
    site.browser.post("/sign-out")
    assert 429 in wrong(site, 8)
    assert not opens(elsewhere(site))
    known = site.app.test_client()
    device = site.browser.get_cookie("vinemark-device", path="/sign-in")
    assert device is not None
    known.set_cookie("vinemark-device", device.value, path="/sign-in")
    known.post("/sign-in", data={"email": OSTRANDER[1], "password": "larkmoor"})
    assert opens(known)


@pytest.mark.parametrize("cookie", ["", "made up", "WzEsImEiXQ.x"])
def test_a_device_that_was_made_up_is_a_stranger(site: Site, cookie: str) -> None:
    wrong(site, 8)
    stranger = site.app.test_client()
    stranger.set_cookie("vinemark-device", cookie, path="/sign-in")
    answer = stranger.post("/sign-in", data={"email": OSTRANDER[1], "password": "larkmoor"})
    assert answer.status_code == 429


def test_many_who_sign_in_at_once_are_asked_to_wait(site: Site, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("vinemark.passwords._queue", threading.Semaphore(0))
    stranger = site.app.test_client()
    answer = stranger.post("/sign-in", data={"email": OSTRANDER[1], "password": "larkmoor"})
    assert (answer.status_code, "Many people are signing in" in answer.text) == (503, True)


def test_the_cookie_is_of_this_host_alone_and_over_https_only(site: Site) -> None:
    form = {"email": OSTRANDER[1], "password": "larkmoor"}
    there = site.app.test_client().post("/sign-in", data=form, base_url="https://grades.larkmoor.example")
    kept = {cookie.partition("=")[0]: cookie for cookie in there.headers.getlist("Set-Cookie")}
    assert set(kept) == {"__Host-vinemark", "vinemark-device"}
    assert all("; Secure; HttpOnly;" in cookie for cookie in kept.values())
    assert "Path=/;" in kept["__Host-vinemark"] + ";" and "Domain" not in kept["__Host-vinemark"]
    here = site.app.test_client().post("/sign-in", data=form)
    assert {cookie.partition("=")[0] for cookie in here.headers.getlist("Set-Cookie")} == {
        "vinemark",
        "vinemark-device",
    }
    assert not any("Secure" in cookie for cookie in here.headers.getlist("Set-Cookie"))


def test_how_old_the_copy_is_stands_on_the_desk_of_those_who_run_the_server(site: Site) -> None:
    database = site.folder / "vinemark.sqlite"
    assert "No copy of the database" not in site.browser.get("/").text
    before = site.app.extensions["vinemark"]
    site.app.extensions["vinemark"] = replace(before, administrators=frozenset({OSTRANDER[1]}))
    assert "No copy of the database is made all the time" in site.browser.get("/").text
    note_replica(database, ReplicaState("file:///srv/copies", time.time(), time.time()))
    assert "The copy at file:///srv/copies holds all that was saved up to" in site.browser.get("/").text
    note_replica(database, ReplicaState("file:///srv/copies", 0, time.time() - 7200, "no space left"))
    assert "2 hours ago (no space left)" in site.browser.get("/").text
