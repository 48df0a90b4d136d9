"""Signing in, who sees what, and what every answer carries."""

from pathlib import Path

import pytest

from tests.web.conftest import CLOCK, Site
from vinemark.demo.build import VANTERPOOL
from vinemark.settings import Settings
from vinemark.web import create_app

PAGES = [
    "plan",
    "plan/versions",
    "plan/try",
    "scores",
    "scores/import",
    "audit",
    "settle",
    "submit",
    "submit/proof",
    "history",
    "course-file",
]
WRITES = [
    "plan/add-category", "plan/in-force", "plan/drop", "plan/bring-back", "plan/ribbon", "scores/cells", "scores/undo",
    "scores/import", "scores/import/take", "settle/take-rest", "settle/student/L1", "settle/aside/L1",
    "settle/add/L1", "submit/pull", "submit/sign", "submit/send/1", "submit/take-back/1", "submit/read-back",
    "history/undo/1",
]  # fmt: skip


def test_without_a_sign_in_every_page_leads_to_it(site: Site) -> None:
    nobody = site.app.test_client()
    for page in ["/", "/sections/new", *(f"/s/1/{p}" for p in PAGES)]:
        answer = nobody.get(page)
        assert (answer.status_code, answer.headers["Location"].split("?")[0]) == (302, "/sign-in"), page
    for page in WRITES:
        assert nobody.post(f"/s/1/{page}").status_code == 302, page


def test_another_persons_section_gives_404_everywhere(site: Site) -> None:
    other = site.app.test_client()
    other.post("/sign-in", data={"email": VANTERPOOL[1], "password": "larkmoor"})
    section = site.section("HYDR 230-01")
    for page in PAGES:
        assert other.get(f"/s/{section}/{page}").status_code == 404, page
    for page in WRITES:
        answer = other.post(f"/s/{section}/{page}", json={} if page in {"scores/cells", "scores/undo"} else None)
        assert answer.status_code == 404, page
    assert "HYDR 230" not in other.get("/").text
    assert "SOIL 210-01" in other.get("/").text


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
    assert "too old" in answer.text
    assert len(site.course(section).plan.categories) == 5


def test_the_first_visitor_makes_the_first_account_and_only_the_first(tmp_path: Path) -> None:
    settings = Settings(database=str(tmp_path / "new.sqlite"), clock=CLOCK, secret="x", cheap_hashes=True)
    app = create_app(settings)
    app.config["WTF_CSRF_ENABLED"] = False
    browser = app.test_client()
    assert browser.get("/sign-in").headers["Location"] == "/first-account"
    form = {"name": "Tove", "email": "tove@x", "password": "long enough", "again": "differs"}
    refused = browser.post("/first-account", data=form)
    assert (refused.status_code, "two passwords differ" in refused.text) == (422, True)
    assert browser.post("/first-account", data={**form, "again": "long enough"}).headers["Location"] == "/"
    assert browser.get("/").status_code == 200
    second = app.test_client().post("/first-account", data={**form, "email": "b@x", "again": "long enough"})
    assert second.headers["Location"] == "/sign-in"
    assert app.test_client().get("/first-account").headers["Location"] == "/sign-in"
