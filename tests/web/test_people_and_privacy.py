"""Signing in, who sees what, and what every answer carries."""

from pathlib import Path

import pytest

from tests.web.conftest import CLOCK, Site
from vinemark.demo.build import OSTRANDER, VANTERPOOL
from vinemark.settings import Settings
from vinemark.store import people
from vinemark.store.database import connect
from vinemark.web import create_app

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
        connection.execute("INSERT INTO section_person VALUES (?, ?, ?)", (section, person["id"], role))
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
