"""The college for its administrators, and a chair's board: what each does, and what nobody else can."""

import io
import re

import pytest

from tests.web.conftest import PASSWORD, Site
from tests.web.test_letters import Written, written  # noqa: F401
from vinemark.demo.build import BRIGHTWATER, FENWICK, GARRICK, OSTRANDER, VANTERPOOL
from vinemark.store.database import connect

WATER = "Earth and Water"


@pytest.fixture
def garrick(site: Site) -> Site:
    """Signed in as the administrator."""
    site.become(GARRICK[1])
    return site


@pytest.fixture
def chair(site: Site) -> Site:
    """Signed in as the chair."""
    site.become(BRIGHTWATER[1])
    return site


def choose(site: Site, **choices: str) -> None:
    site.become(GARRICK[1])
    site.post("/college/choices", **choices)


# --- who may ------------------------------------------------------------------------------------


@pytest.mark.parametrize("who", [OSTRANDER, BRIGHTWATER, FENWICK])
def test_nobody_else_reaches_the_college(site: Site, who: tuple[str, str]) -> None:
    site.become(who[1])
    rules = [rule for rule in site.app.url_map.iter_rules() if rule.endpoint.startswith("college.")]
    assert len(rules) > 9
    for rule in rules:
        address = str(rule.rule).replace("<int:account_id>", "1")
        for method in (rule.methods or set()) & {"GET", "POST"}:
            assert site.browser.open(address, method=method).status_code == 403, address
    assert 'href="/college"' not in site.browser.get("/").text


def test_an_administrator_sees_no_section(garrick: Site) -> None:
    section = garrick.section("HYDR 230-01")
    assert 'href="/college"' in garrick.browser.get("/").text
    assert garrick.browser.get(f"/s/{section}/scores").status_code == 404
    assert garrick.browser.get("/board").status_code == 403


# --- departments and terms ----------------------------------------------------------------------


def test_a_department_is_added_changed_and_removed(garrick: Site) -> None:
    page = garrick.post("/college/department", name="Rocks", subjects="GEOL, MINR", key="1").text
    assert "Department Rocks saved." in page
    wrong = garrick.post("/college/department", of="department", name="Stones", subjects="GEOL", key="2").text
    assert "has GEOL, which is Rocks’s" in wrong
    assert 'value="Stones"' in wrong
    assert (
        "another department"
        in garrick.post("/college/department", of="department", name=WATER, subjects="X", key="3").text
    )
    garrick.post("/college/department", before="Rocks", name="Rock", subjects="GEOL", key="4")
    page = garrick.browser.get("/college").text
    assert 'value="Rock"' in page
    assert 'value="Rocks"' not in page
    assert "Rock removed." in garrick.post("/college/department/remove", before="Rock", key="5").text


def test_a_term_is_offered_where_a_section_is_added(garrick: Site) -> None:
    typed = {"term": "Summer 2027", "starts": "2027-06-01", "ends": "2027-05-01", "of": "term"}
    assert "must not be before" in garrick.post("/college/term", **typed, key="1").text
    garrick.post("/college/term", **{**typed, "ends": "2027-08-01"}, key="2")
    assert "Summer 2027 (Jun 1, 2027 to Aug 1, 2027)" in garrick.browser.get("/sections/new").text
    garrick.post("/college/term/remove", before="Summer 2027", key="3")
    assert "Summer 2027" not in garrick.browser.get("/sections/new").text


# --- parts and accounts -------------------------------------------------------------------------


def test_a_chair_is_made_and_unmade(garrick: Site) -> None:
    give = {"email": VANTERPOOL[1], "role": "chair", "of": "part"}
    assert "must be chosen" in garrick.post("/college/part", **give, key="1").text
    garrick.post("/college/part", **give, department="Plants and Fiber", key="2")
    garrick.become(VANTERPOOL[1])
    board = garrick.browser.get("/board").text
    assert "BOTN 105-02" in board
    assert "HYDR 230-01" not in board
    assert garrick.browser.get(f"/board?department={WATER}").status_code == 403
    garrick.become(GARRICK[1])
    garrick.post("/college/part/remove", who=VANTERPOOL[1], role="chair", department="Plants and Fiber", key="3")
    garrick.become(VANTERPOOL[1])
    assert garrick.browser.get("/board").status_code == 403


def test_an_administrator_does_not_give_up_the_part_alone(garrick: Site) -> None:
    page = garrick.post("/college/part/remove", who=GARRICK[1], role="administrator", key="1").text
    assert "is your own" in page
    assert garrick.browser.get("/college").status_code == 200


def test_an_account_is_closed_at_once_and_opened_again(garrick: Site) -> None:
    other = garrick.app.test_client()
    other.post("/sign-in", data={"email": FENWICK[1], "password": PASSWORD})
    assert other.get("/account").status_code == 200
    page = garrick.browser.get("/college?find=fenwick").text
    address = re.search(r"/college/account/\d+/close", page)
    assert address
    assert "is closed." in garrick.post(address[0], key="1").text
    assert other.get("/account").status_code == 302
    assert other.post("/sign-in", data={"email": FENWICK[1], "password": PASSWORD}).status_code == 422
    assert "is open again" in garrick.post(address[0].replace("close", "open"), key="2").text
    assert "cannot be closed" in garrick.post("/college/account/99999/close", key="3").text


def test_people_are_looked_at_and_then_invited(written: Written) -> None:  # noqa: F811
    site = written.site
    site.become(GARRICK[1])
    table = (
        "email,name,role,department\nines@larkmoor.example,Ines Albright,chair,earth and water\n"
        f"nobody,X,,\n{VANTERPOOL[1]},Idris,,\n"
    )
    upload = {"file": (io.BytesIO(table.encode()), "people.csv")}
    page = site.browser.post("/college/people/look", data=upload).get_data(as_text=True)
    assert "left out: has no email address" in page
    assert "Invite 2 people" in " ".join(page.split())
    lines = re.search(r'name="lines" value="([^"]*)"', page)
    assert lines
    done = site.post("/college/people/invite", lines=lines[1], key="1").text
    assert "1 person invited; 1 had an account already." in done
    assert written.go_round() == ["sent"]
    site.browser.post("/sign-out")
    link = written.link("ines@")
    assert 'value="Ines Albright"' in site.browser.get(link).text
    new = "three ferns in a wet wood"
    site.post(link, name="Ines Albright", new=new, again=new)
    assert "HYDR 230-01" in site.browser.get("/board").text


def test_lines_are_pasted(written: Written) -> None:  # noqa: F811
    written.site.become(GARRICK[1])
    page = written.site.post("/college/people/look", pasted="ines@larkmoor.example, Ines\nbo@b.example").text
    assert "Invite 2 people" in page
    assert "is to be chosen" in written.site.post("/college/people/look", pasted=" ").text
    assert "needs a heading row" in written.site.post("/college/people/look", pasted="emails\nnobody").text


def test_an_account_that_is_opened_again_gets_a_link(written: Written) -> None:  # noqa: F811
    site = written.site
    site.become(GARRICK[1])
    address = re.search(r"/college/account/\d+/close", site.browser.get("/college?find=fenwick").text)
    assert address
    site.post(address[0], key="1")
    site.post(address[0].replace("close", "open"), key="2")
    written.go_round()
    new = "three ferns in a wet wood"
    site.post(written.link(FENWICK[1]), new=new, again=new)
    site.browser.post("/sign-out")
    assert site.sign_in(FENWICK[1], new).status_code == 302


# --- a chair's board ----------------------------------------------------------------------------


def test_the_board_names_sections_and_no_student(chair: Site) -> None:
    page = chair.browser.get("/board").text
    for short in ("HYDR 230-01", "HYDR 410-01", "SOIL 210-01"):
        assert short in page
        section = chair.section(short)
        owner = VANTERPOOL[1] if short.startswith("SOIL") else OSTRANDER[1]
        for student in chair.course(section, owner).students:
            assert student.id not in page
            assert student.name not in page
    assert "BOTN 105-02" not in page
    assert 'aria-label="A ' in page


def test_a_term_is_chosen(chair: Site) -> None:
    with connect(chair.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE section SET term_name = 'Old', term_starts = '2020-01-01', term_ends = '2020-05-01'"
                           " WHERE course = 'SOIL 210'")  # fmt: skip
    connection.close()
    assert "SOIL 210-01" not in chair.browser.get("/board").text
    old = chair.browser.get("/board?term=Old").text
    assert "SOIL 210-01" in old
    assert "HYDR 230-01" not in old


def test_a_chair_opens_a_section_as_a_reviewer_where_the_college_lets_them(site: Site) -> None:
    section, other = site.section("HYDR 230-01"), site.section("BOTN 105-02")
    student = site.course(section).students[0]
    site.become(BRIGHTWATER[1])
    assert f'href="/s/{section}/plan"' in site.browser.get("/board").text
    assert site.browser.get(f"/s/{section}/settle").status_code == 200
    assert site.browser.get(f"/s/{section}/people").status_code == 200
    assert site.browser.get(f"/s/{other}/scores").status_code == 404
    assert site.browser.post(f"/s/{section}/settle/student/{student.id}", data={"grade": "A"}).status_code == 403
    cell = {"student": student.id, "item": "n1", "typed": "1"}
    assert site.browser.post(f"/s/{section}/scores/cells", json={"key": "k", "cells": [cell]}).status_code == 403
    assert section not in {int(found) for found in re.findall(r'id="section-(\d+)"', site.browser.get("/").text)}
    choose(site)
    site.become(BRIGHTWATER[1])
    board = site.browser.get("/board").text
    assert "does not open sections to chairs" in board
    assert f"/s/{section}/" not in board
    assert site.browser.get(f"/s/{section}/settle").status_code == 404


def test_what_a_chair_looks_at_is_logged(chair: Site) -> None:
    section = chair.section("HYDR 230-01")
    student = chair.course(section).students[0].id
    chair.browser.get(f"/s/{section}/statement/of/{student}")
    with connect(chair.folder / "vinemark.sqlite") as connection:
        found = connection.execute("SELECT email, what FROM security_event WHERE kind = 'record seen'").fetchall()
    connection.close()
    assert [(row["email"], row["what"]) for row in found] == [(BRIGHTWATER[1], f"/s/{section}/statement/of/{student}")]


def test_the_first_account_administers(site: Site) -> None:
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE person SET password_hash = ''")
    connection.close()
    site.browser.post("/sign-out")
    site.app.extensions["vinemark.first_code"] = "moss"
    new = "three ferns in a wet wood"
    form = {"code": "moss", "name": "Ines", "email": "ines@larkmoor.example", "password": new, "again": new}
    site.post("/first-account", **form)
    assert site.browser.get("/college").status_code == 200


def test_a_request_that_is_repeated_is_done_once_and_not_refused(garrick: Site) -> None:
    for _ in range(2):
        page = garrick.post("/college/department", of="department", name="Rocks", subjects="GEOL", key="same")
        assert page.status_code == 200
        page = garrick.post("/college/term", term="Summer 2027", starts="2027-06-01", ends="2027-08-01", key="term")
        assert page.status_code == 200
    assert garrick.browser.get("/college").text.count('value="Rocks"') == 2


def test_what_was_not_done_is_not_logged(garrick: Site) -> None:
    garrick.post("/college/part", email="nobody", role="chair", of="part", key="1")
    garrick.post("/college/part", email="ada@larkmoor.example", role="administrator", of="part", key="2")
    garrick.post("/college/part/remove", who="ada@larkmoor.example", role="administrator", key="3")
    with connect(garrick.folder / "vinemark.sqlite") as connection:
        found = connection.execute("SELECT kind, what FROM security_event WHERE kind LIKE 'part %'").fetchall()
    connection.close()
    assert [tuple(row) for row in found] == [
        ("part given", "administrator to ada@larkmoor.example"),
        ("part taken", "administrator from ada@larkmoor.example"),
    ]
