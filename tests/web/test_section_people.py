"""People of a section: given a part, changed, taken; always somebody who teaches; each sees what is theirs."""

import pytest

from tests.passwords import PASSWORD as LONG_PASSWORD
from tests.web.conftest import PASSWORD, Site
from vinemark.demo.build import OSTRANDER, VANTERPOOL
from vinemark.passwords import hashed
from vinemark.store import people
from vinemark.store.database import connect
from vinemark.store.history import Act


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


def add(site: Site, section: int, email: str, role: str) -> str:
    return str(site.post(f"/s/{section}/people/add", email=email, role=role, key=f"{section}{email}{role}").text)


def change(site: Site, section: int, email: str, role: str) -> str:
    return str(site.post(f"/s/{section}/people/change", who=email, role=role, key=f"c{section}{email}{role}").text)


def test_a_grader_who_is_added_enters_a_first_score(site: Site, hydr: int) -> None:
    assert "is grader from now on" in add(site, hydr, VANTERPOOL[1], "grader")
    site.become(VANTERPOOL[1])
    assert "HYDR 230-01" in site.browser.get("/").text
    cell = {"student": site.course(hydr).students[0].id, "item": "n1", "typed": "12"}
    assert site.browser.post(f"/s/{hydr}/scores/cells", json={"key": "k", "cells": [cell]}).status_code == 200
    assert site.browser.get(f"/s/{hydr}/settle").status_code == 403
    assert site.browser.post(f"/s/{hydr}/people/add", data={"email": "a@b", "role": "instructor"}).status_code == 403
    site.become(OSTRANDER[1])
    assert f"<strong>{VANTERPOOL[0]}</strong>" in site.browser.get(f"/s/{hydr}/history").text


def test_a_part_waits_for_an_account_and_opens_by_a_link_too(site: Site, hydr: int) -> None:
    page = add(site, hydr, "new@larkmoor.example", "reviewer")
    assert "once an account has this address" in page
    assert "No account yet" in page
    connection = connect(site.folder / "vinemark.sqlite")
    act = Act(None, site.app.extensions["vinemark"].clock.now())
    people.add_person(connection, act, "New@larkmoor.example", "Newt Okafor", hashed(LONG_PASSWORD))
    connection.close()
    site.browser.post("/sign-out")
    site.sign_in("new@larkmoor.example", LONG_PASSWORD)
    assert site.browser.get(f"/s/{hydr}/audit").status_code == 200
    assert "Newt Okafor" in site.browser.get(f"/s/{hydr}/people").text


@pytest.mark.parametrize(
    ("email", "role", "said"),
    [
        ("nobody", "grader", "This must be an email address."),
        (OSTRANDER[1], "grader", "has a part already"),
        ("emeka.cato@larkmoor.example", "grader", "a student’s of this class"),
    ],
)
def test_what_cannot_be_given_is_said_at_its_place(site: Site, hydr: int, email: str, role: str, said: str) -> None:
    answer = site.browser.post(f"/s/{hydr}/people/add", data={"email": email, "role": role})
    assert answer.status_code == 422
    assert said in answer.text
    assert f'value="{email}"' in answer.text
    assert site.browser.post(f"/s/{hydr}/people/add", data={"email": "x@y", "role": "king"}).status_code == 422


def test_there_is_always_somebody_who_teaches_and_a_section_is_handed_over(site: Site, hydr: int) -> None:
    assert "is the only instructor" in change(site, hydr, OSTRANDER[1], "")
    assert "is the only instructor" in change(site, hydr, OSTRANDER[1], "grader")
    add(site, hydr, "waits@larkmoor.example", "instructor")
    assert "is the only instructor" in change(site, hydr, OSTRANDER[1], "")
    add(site, hydr, VANTERPOOL[1], "instructor")
    assert "has no part any more" in change(site, hydr, OSTRANDER[1], "")
    assert site.browser.get(f"/s/{hydr}/plan").status_code == 404
    site.become(VANTERPOOL[1])
    assert site.browser.get(f"/s/{hydr}/settle").status_code == 200


def test_a_part_that_is_taken_shuts_at_once(site: Site, hydr: int) -> None:
    add(site, hydr, VANTERPOOL[1], "instructor")
    site.become(VANTERPOOL[1])
    assert site.browser.get(f"/s/{hydr}/plan").status_code == 200
    site.become(OSTRANDER[1])
    change(site, hydr, VANTERPOOL[1], "")
    site.become(VANTERPOOL[1])
    assert site.browser.get(f"/s/{hydr}/plan").status_code == 404
    assert "has no part" in change(site, site.section("SOIL 210-01"), "gone@larkmoor.example", "grader")


def test_with_another_instructor_an_account_can_be_left(site: Site) -> None:
    for short in ("HYDR 230-01", "HYDR 410-01", "BOTN 105-02", "FIBR 120-01"):
        add(site, site.section(short), VANTERPOOL[1], "instructor")
    assert site.browser.post("/account/delete", data={"delete_password": PASSWORD}).headers["Location"] == "/sign-in"
    site.become(VANTERPOOL[1])
    assert "HYDR 230-01" in site.browser.get("/").text
