"""What letters lead to: another password, an account, another address, and for students their statement."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import timedelta
from pathlib import Path

import pytest
import time_machine

from tests.browser.stage import free_port
from tests.web.conftest import CLOCK, PASSWORD, Site
from vinemark.clock import Clock
from vinemark.demo.build import OSTRANDER, VANTERPOOL
from vinemark.mail.box import Mailroom
from vinemark.mail.sending import read_mail_server
from vinemark.mail.server import serve_smtp
from vinemark.section.delivery.postman import Postman

ADDRESS = "http://vinemark.larkmoor.example"
NEW = "three ferns in a wet wood"
EMAIL = OSTRANDER[1]


@dataclass
class Written:
    """The application with a mail server, and what came there."""

    site: Site
    room: Mailroom

    def go_round(self, later: timedelta = timedelta()) -> list[str]:
        at = CLOCK.now() + later
        settings = self.site.app.extensions["vinemark"]
        server = read_mail_server(settings.mail, settings.mail_from)
        return list(Postman(settings.database, Clock(at.date(), at.time()), 20, server).go_round())

    def texts(self, to: str) -> list[str]:
        return [one.text for one in self.room.received(to)]

    def link(self, to: str) -> str:
        """The path of the link in the latest letter to somebody."""
        found = re.search(rf"{ADDRESS}(\S+)", self.texts(to)[0])
        assert found
        return found[1]


@pytest.fixture
def written(site: Site, tmp_path: Path) -> Iterator[Written]:
    port = free_port()
    controller = serve_smtp(tmp_path / "mail", "127.0.0.1", port)
    site.app.extensions["vinemark"] = replace(
        site.app.extensions["vinemark"],
        address=ADDRESS,
        mail=f"smtp://127.0.0.1:{port}",
        mail_from="vine.mark@larkmoor.example",
        cheap_hashes=True,
    )
    yield Written(site, Mailroom(tmp_path / "mail"))
    controller.stop()


def ask(written: Written, email: str) -> str:
    return str(written.site.post("/password", email=email).text)


# --- another password ---------------------------------------------------------------------------


def test_a_forgotten_password_is_replaced_once_within_an_hour(written: Written) -> None:
    site = written.site
    site.browser.post("/sign-out")
    assert "Forgot your password?" in site.browser.get("/sign-in").text
    assert "a link is on its way" in ask(written, EMAIL.upper())
    assert written.go_round() == ["sent"]
    link = written.link(EMAIL)
    # Opening it, as programs do that look for harm, changes nothing.
    assert "Choose a new password" in site.browser.get(link).text
    assert "The two passwords differ" in site.post(link, new=NEW, again="another").text
    assert "10 characters" in site.post(link, new="short", again="short").text
    assert "Password changed." in site.post(link, new=NEW, again=NEW).text
    assert site.sign_in(EMAIL, PASSWORD).status_code == 422
    assert site.sign_in(EMAIL, NEW).status_code == 302
    # Used, it is good for nothing more, and the person is told.
    assert site.browser.get(link).status_code == 410
    assert site.browser.post(link, data={"new": "other words of this kind", "again": "x"}).status_code == 410
    written.go_round()
    assert "your password was changed by a link" in written.texts(EMAIL)[0]


def test_it_signs_out_everywhere(written: Written) -> None:
    other = written.site.app.test_client()
    other.post("/sign-in", data={"email": EMAIL, "password": PASSWORD})
    ask(written, EMAIL)
    written.go_round()
    written.site.post(written.link(EMAIL), new=NEW, again=NEW)
    assert other.get("/account").status_code == 302
    assert written.site.browser.get("/account").status_code == 302


def test_a_link_is_over_after_an_hour(written: Written) -> None:
    with time_machine.travel("2026-12-19T10:20:00Z", tick=False) as clock:
        ask(written, EMAIL)
        written.go_round()
        link = written.link(EMAIL)
        clock.shift(3599)
        assert written.site.browser.get(link).status_code == 200
        clock.shift(2)
        assert written.site.browser.get(link).status_code == 410


def test_nobody_learns_who_has_an_account(written: Written) -> None:
    known, unknown = (ask(written, one).partition("<h1>")[2] for one in (EMAIL, "nobody@larkmoor.example"))
    assert known.replace(EMAIL, "X") == unknown.replace("nobody@larkmoor.example", "X") != ""
    assert written.go_round() == ["sent"]
    assert written.texts("nobody@") == []


def test_three_letters_an_hour_go_to_an_address(written: Written) -> None:
    for _ in range(5):
        assert "is on its way" in ask(written, EMAIL)
    assert written.go_round() == ["sent"] * 3
    assert "Wait" in ask(written, EMAIL)


@pytest.mark.parametrize("token", ["x", "a.b.c", "%00", "x." * 60])
def test_a_made_up_link_opens_nothing(written: Written, token: str) -> None:
    for path in ("password", "invitation", "account/email"):
        assert written.site.browser.get(f"/{path}/{token}").status_code == 410
        assert written.site.browser.post(f"/{path}/{token}", data={"new": NEW, "again": NEW}).status_code == 410


def test_a_link_of_one_kind_is_none_of_another(written: Written) -> None:
    ask(written, EMAIL)
    written.go_round()
    token = written.link(EMAIL).rpartition("/")[2]
    assert written.site.browser.get(f"/invitation/{token}").status_code == 410
    assert written.site.browser.get(f"/account/email/{token}").status_code == 410


def test_without_mail_no_link_is_offered(site: Site) -> None:
    site.browser.post("/sign-out")
    assert "Forgot" not in site.browser.get("/sign-in").text
    assert site.browser.get("/password").status_code == 404
    assert site.browser.post("/password", data={"email": EMAIL}).status_code == 404


# --- an invitation ------------------------------------------------------------------------------


def invite(written: Written, email: str, role: str = "grader") -> int:
    section = written.site.section("HYDR 230-01")
    page = written.site.post(f"/s/{section}/people/add", email=email, role=role, key=f"add {email}").text
    assert "A letter is on its way." in page
    assert written.go_round() == ["sent"]
    return section


def test_who_is_invited_makes_an_account_and_enters_a_first_score(written: Written) -> None:
    site, email = written.site, "ines.albright@larkmoor.example"
    section = invite(written, email)
    assert "letter sent" in site.browser.get(f"/s/{section}/people").text
    site.browser.post("/sign-out")
    link = written.link(email)
    assert email in site.browser.get(link).text
    assert "Type your name." in site.post(link, name=" ", new=NEW, again=NEW).text
    page = site.browser.post(link, data={"name": "Ines Albright", "new": NEW, "again": NEW})
    assert page.location == f"/s/{section}/scores"
    cell = {"student": site.course(section).students[0].id, "item": "n1", "typed": "12"}
    assert site.browser.post(f"/s/{section}/scores/cells", json={"key": "k", "cells": [cell]}).status_code == 200
    # The second time it leads to the page, and makes no other account.
    assert site.browser.get(link).location == f"/s/{section}/scores"
    site.browser.post("/sign-out")
    assert "/sign-in" in site.browser.get(link).location
    assert "has an account already" in site.post(link, name="Somebody", new=NEW, again=NEW).text


def test_who_has_an_account_is_led_to_it(written: Written) -> None:
    section = invite(written, VANTERPOOL[1])
    link = written.link(VANTERPOOL[1])
    assert "you are signed in as" in written.site.browser.get(link).text
    written.site.browser.post("/sign-out")
    page = written.site.browser.get(link, follow_redirects=True)
    assert f'value="{VANTERPOOL[1]}"' in page.text
    done = written.site.browser.post(page.request.full_path, data={"email": VANTERPOOL[1], "password": PASSWORD})
    assert done.location == f"/s/{section}/scores"


def test_an_invitation_is_over_after_two_weeks(written: Written) -> None:
    with time_machine.travel("2026-12-01T10:20:00Z", tick=False) as clock:
        written.site.sign_in()
        invite(written, "ines.albright@larkmoor.example")
        clock.shift(14 * 24 * 3600 + 1)
        assert written.site.browser.get(written.link("ines.albright")).status_code == 410


def test_it_is_sent_again_but_not_at_once(written: Written) -> None:
    email = "ines.albright@larkmoor.example"
    section = invite(written, email)
    address = f"/s/{section}/people/invite"
    assert "was sent a letter minutes ago" in written.site.post(address, who=email, key="2").text
    assert "needs no invitation" in written.site.post(address, who=EMAIL, key="3").text


def test_one_that_does_not_arrive_is_said(written: Written) -> None:
    section = written.site.section("HYDR 230-01")
    written.site.post(f"/s/{section}/people/add", email="ines@nobody.example", role="grader", key="a")
    assert written.go_round() == ["not delivered"]
    page = written.site.browser.get(f"/s/{section}/people").text
    assert "letter not delivered: the mail server says 550" in page


# --- name and address of one's own --------------------------------------------------------------


def test_a_name_is_changed_and_what_was_done_keeps_the_old_one(written: Written) -> None:
    site = written.site
    assert "Type your name." in site.post("/account/name", name="  ").text
    page = site.post("/account/name", name="Maren  Ostrander-Lisle", key="n").text
    assert "Name saved." in page
    assert 'value="Maren Ostrander-Lisle"' in page
    history = site.browser.get(f"/s/{site.section('HYDR 410-01')}/history").text
    assert OSTRANDER[0] in history
    assert "Lisle" not in history.partition('id="work"')[2]


def test_another_address_is_in_place_once_its_link_was_opened(written: Written) -> None:
    site, new = written.site, "maren@lisle.example"
    wrong = site.post("/account/email", email=new, email_password="wrong").text
    assert "This is not your password." in wrong
    assert f'value="{new}"' in wrong
    assert "A link is on its way" in site.post("/account/email", email=new, email_password=PASSWORD).text
    assert written.go_round() == ["sent"]
    link = written.link(new)
    assert site.browser.get(link).status_code == 200
    assert site.sign_in(EMAIL).status_code == 302
    assert "was changed" in site.post(link).text
    assert site.browser.get(link).status_code == 410
    site.browser.post("/sign-out")
    assert site.sign_in(EMAIL).status_code == 422
    assert site.sign_in(new).status_code == 302
    written.go_round()
    assert f"another email address from now on: {new}" in written.texts(EMAIL)[0]


def test_an_address_that_is_somebodys_is_not_taken(written: Written) -> None:
    site = written.site
    site.post("/account/email", email=VANTERPOOL[1], email_password=PASSWORD)
    written.go_round()
    assert site.browser.post(written.link(VANTERPOOL[1])).status_code == 409
    assert site.sign_in(EMAIL).status_code == 302


# --- students are told --------------------------------------------------------------------------


def test_students_are_told_without_a_grade_in_the_letter(written: Written) -> None:
    site = written.site
    section = site.section("HYDR 230-01")
    students = [one for one in site.course(section).students if one.email and not one.set_aside]
    page = site.post(f"/s/{section}/seen/tell", student="", more="Ask me\non Monday.", key="t").text
    assert f"{len(students)} students told by email that there is something new." in page
    assert set(written.go_round()) == {"sent"}
    text = written.texts(str(students[0].email))[0]
    assert "Ask me\non Monday." in text.replace("\r\n", "\n")
    assert not re.search(r"\d+(\.\d+)?\s*%|\bgrade\b", text)
    assert f"{len(students)} sent" in site.browser.get(f"/s/{section}/seen").text
    assert "told by email" in site.browser.get(f"/s/{section}/history").text


def test_a_student_without_an_account_reads_the_statement_by_the_letter(written: Written) -> None:
    site = written.site
    section = site.section("HYDR 230-01")
    student = next(one for one in site.course(section).students if one.email and "cato" not in one.email)
    site.post(f"/s/{section}/seen/tell", student=student.id, more="", key="t")
    written.go_round()
    site.browser.post("/sign-out")
    page = site.post(written.link(str(student.email)), name=student.plain_name, new=NEW, again=NEW)
    assert page.request.path == f"/s/{section}/statement"
    assert page.status_code == 200
    assert site.browser.get(f"/s/{section}/scores").status_code == 404


def test_who_has_no_address_cannot_be_told(written: Written) -> None:
    section = written.site.section("HYDR 230-01")
    assert "has no email address" in written.site.post(f"/s/{section}/seen/tell", student="nobody", key="t").text
    page = written.site.post(f"/s/{section}/seen/tell", more="x" * 5000, key="u")
    assert page.status_code == 422
    assert "x" * 5000 in page.text
    assert written.go_round() == []


def test_grades_that_are_hidden_again_at_once_are_told_to_nobody(written: Written) -> None:
    site = written.site
    section = site.section("HYDR 230-01")
    page = site.post(f"/s/{section}/settle/visible", visible="settled", tell="1", key="v").text
    assert "letters go out to" in page
    entry = re.search(rf"/s/{section}/history/undo/(\d+)", page)
    assert entry
    site.post(f"/s/{section}/history/undo/{entry[1]}", key="u", step="settle")
    assert written.go_round(timedelta(minutes=3)) == []
    assert "recalled" in site.browser.get(f"/s/{section}/seen").text


def test_grades_that_stay_visible_are_told(written: Written) -> None:
    section = written.site.section("HYDR 230-01")
    written.site.post(f"/s/{section}/settle/visible", visible="settled", tell="1", key="v")
    assert written.go_round() == []
    assert set(written.go_round(timedelta(minutes=2))) == {"sent"}
