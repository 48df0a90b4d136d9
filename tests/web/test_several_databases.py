"""Several databases, on one machine and on two behind one address: each section in its own, people and Desk in one."""

import io
import json
import re
import shutil
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import httpx
import pytest
from flask import Flask
from werkzeug.test import Client, TestResponse

from tests.web.conftest import CLOCK, PASSWORD, Weather
from vinemark.core.course.course import SectionName
from vinemark.core.course.databases import HOME, SPAN, KeptApart
from vinemark.demo.build import OSTRANDER
from vinemark.exchange import course_file
from vinemark.office.app import OfficeSettings, create_office
from vinemark.section.acts.practice import practice_course
from vinemark.settings import Settings
from vinemark.store.database import connect
from vinemark.store.security_log import events_since
from vinemark.web import create_app
from vinemark.web import machines as machines_module

IN_SOIL = re.compile(rf"/(?:s/{1}[0-9]{{9}}|at/1)(?:/|$)")
"""What a proxy sends to the second machine."""


@dataclass
class College:
    """One address; behind it one machine or two. `down` are the machines that do not answer."""

    folder: Path
    browser: Client
    apps: Mapping[str, Flask]
    down: set[str]

    def get(self, path: str, **more: Any) -> TestResponse:
        return self.browser.get(path, **more)

    def post(self, path: str, **form: Any) -> TestResponse:
        return self.browser.post(path, data=form)

    def make(self, course: str, **form: Any) -> int:
        """A new section through the form; its id."""
        answer = self.post("/sections/new", course=course, number="01", people="Ada Mai\nBo Mai", **form)
        if answer.status_code == 307:
            answer = self.post(answer.headers["Location"], course=course, number="01", people="Ada Mai\nBo Mai", **form)
        assert answer.status_code == 302, answer.text
        found = re.search(r"/s/([0-9]+)/", answer.headers["Location"])
        assert found
        return int(found[1])

    def delete(self, section: int, name: str) -> TestResponse:
        """Take the archive and delete a section."""
        self.post(f"/s/{section}/after/archive", key="z")
        return self.post(f"/s/{section}/delete", name=name, key="d")

    def ids(self, file: str) -> set[int]:
        connection = connect(self.folder / file)
        found = {row["id"] for row in connection.execute("SELECT id FROM section")}
        connection.close()
        return found


class Reached(httpx.BaseTransport):
    """One machine as another one reaches it."""

    def __init__(self, college: Callable[[], College], name: str) -> None:
        self._college, self._name = college, name
        self.asked: list[str] = []

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        self.asked.append(request.url.path)
        college = self._college()
        if self._name in college.down:
            raise httpx.ConnectError("down")
        return httpx.WSGITransport(app=college.apps[self._name]).handle_request(request)


def _settings(folder: Path, compiled: str) -> Settings:
    home = KeptApart(HOME, str(folder / "vinemark.sqlite"), address="http://home.invalid:8600")
    soil = KeptApart(
        1, str(folder / "soil.sqlite"), departments=frozenset({"soil"}), address="http://second.invalid:8600"
    )
    return Settings(
        database=home.file, every_database=(home, soil), office_url="http://localhost", office_token="token",
        clock=CLOCK, secret="for tests alone, and long enough to sign with", compiled=compiled,
    )  # fmt: skip


def _open(folder: Path, apps: Mapping[str, Flask], down: set[str]) -> College:
    def proxy(environ: dict[str, Any], start_response: Any) -> Any:
        name = "second" if "second" in apps and IN_SOIL.match(environ["PATH_INFO"]) else "home"
        if name in down:
            start_response("502 Bad Gateway", [])
            return [b""]
        return apps[name](environ, start_response)

    for app in apps.values():
        app.config["WTF_CSRF_ENABLED"] = False
    found = College(folder, Client(proxy), apps, down)
    found.post("/sign-in", email=OSTRANDER[1], password=PASSWORD)
    return found


def _weather(folder: Path, demo_folder: Path) -> Weather:
    for name in ("vinemark.sqlite", "office.sqlite"):
        shutil.copy(demo_folder / name, folder / name)
    return Weather(create_office(OfficeSettings(str(folder / "office.sqlite"), "token", CLOCK)))


@pytest.fixture
def one(demo_folder: Path, compiled: str, tmp_path: Path) -> College:
    weather = _weather(tmp_path, demo_folder)
    return _open(tmp_path, {"home": create_app(_settings(tmp_path, compiled), weather)}, set())


@pytest.fixture
def two(demo_folder: Path, compiled: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[College]:
    monkeypatch.setattr(machines_module, "BELIEVED_SECONDS", 0.0)
    weather, settings = _weather(tmp_path, demo_folder), _settings(tmp_path, compiled)
    made: list[College] = []
    apps = {
        name: create_app(replace(settings, serves=frozenset({serves})), weather, Reached(lambda: made[0], other))
        for name, serves, other in (("home", HOME, "second"), ("second", 1, "home"))
    }
    down: set[str] = set()
    made.append(College(tmp_path, Client(lambda *_: [b""]), apps, down))
    yield _open(tmp_path, apps, down)


@pytest.fixture(params=["one", "two"])
def college(request: pytest.FixtureRequest) -> College:
    found: College = request.getfixturevalue(request.param)
    return found


def desk(college: College) -> str:
    """The Desk with what it fetches from other machines."""
    page = college.get("/").text
    for path in re.findall(r'hx-get="(/at/[0-9]+/desk)"', page):
        page += college.get(path, headers={"HX-Request": "true"}).text
    return page


def score(college: College, section: int, typed: str, key: str) -> dict[str, Any]:
    cell = {"student": "ada-mai", "item": "quiz-1", "typed": typed}
    answer = college.browser.post(f"/s/{section}/scores/cells", json={"key": key, "cells": [cell]})
    found: dict[str, Any] = json.loads(answer.text)
    return found


def test_a_section_is_kept_where_its_department_is(college: College) -> None:
    before = college.ids("vinemark.sqlite")
    soil, hydr = college.make("SOIL 310"), college.make("HYDR 310")
    assert soil == SPAN + 1
    assert college.ids("soil.sqlite") == {soil}
    assert college.ids("vinemark.sqlite") == {*before, hydr}
    assert college.make("soil 311") == SPAN + 2


def test_the_desk_has_the_sections_of_all(college: College) -> None:
    soil = college.make("SOIL 310")
    shown = desk(college)
    assert "SOIL 310-01" in shown
    assert f"/s/{soil}/plan" in shown
    assert "HYDR 230-01" in shown


def test_everything_of_a_section_goes_as_in_one_database(college: College) -> None:
    soil = college.make("SOIL 310")
    assert "SOIL 310-01" in college.get(f"/s/{soil}/plan").text
    assert college.post(f"/s/{soil}/plan/add-category", name="Quizzes", weight="5", key="c").status_code in {200, 302}
    for step in ("plan", "scores", "audit", "settle", "submit", "history", "syllabus", "class", "files"):
        assert college.get(f"/s/{soil}/{step}").status_code in {200, 302, 404}, step
    history = college.get(f"/s/{soil}/history").text
    assert "created with 2 students" in history
    assert OSTRANDER[0] in history


def test_what_came_of_an_act_is_said_on_the_next_page_once(college: College) -> None:
    soil = college.make("SOIL 310")
    assert "SOIL 310-01" in college.get(f"/s/{soil}/delete").text
    answer = college.delete(soil, "SOIL 310-01")
    assert answer.headers["Location"] == "/"
    assert college.ids("soil.sqlite") == set()
    assert "SOIL 310-01" in desk(college)
    assert "SOIL 310-01" not in desk(college)


def test_nobody_else_opens_it(college: College) -> None:
    soil = college.make("SOIL 310")
    college.post("/sign-out")
    assert college.get(f"/s/{soil}/plan").status_code == 302
    college.post("/sign-in", email="tove.brandvik@larkmoor.example", password=PASSWORD)
    assert college.get(f"/s/{soil}/plan").status_code in {302, 404}


def test_signing_out_ends_it_everywhere(college: College) -> None:
    soil = college.make("SOIL 310")
    kept = college.browser.get_cookie("vinemark")
    assert kept is not None
    college.post("/sign-out")
    college.browser.set_cookie("vinemark", kept.value)
    assert "/sign-in" in college.get(f"/s/{soil}/plan").headers["Location"]


def test_an_account_stays_while_a_section_of_any_database_is_its_own(college: College) -> None:
    soil = college.make("SOIL 310")
    for section in college.ids("vinemark.sqlite"):
        connection = connect(college.folder / "vinemark.sqlite")
        connection.execute("DELETE FROM section_person WHERE section_id = ?", (section,))
        connection.close()
    refused = college.post("/account/delete", delete_password=PASSWORD, key="a")
    assert refused.status_code == 422
    assert "Delete your sections first" in refused.text
    college.delete(soil, "SOIL 310-01")
    assert college.post("/account/delete", delete_password=PASSWORD, key="b").headers["Location"] == "/sign-in"
    for file in ("vinemark.sqlite", "soil.sqlite"):
        connection = connect(college.folder / file)
        left = {row["email"] for row in connection.execute("SELECT email FROM person WHERE name = ?", (OSTRANDER[0],))}
        assert left
        assert OSTRANDER[1] not in left, file
        connection.close()


def test_the_registrars_sections_are_offered_where_they_will_be_kept(college: College) -> None:
    offered = college.get("/sections/unadded").text
    if "second" in college.apps:
        offered += college.get("/at/1/sections/unadded").text
    refs = re.findall(r'name="ref" value="([^"]+)"', offered)
    assert len(refs) == len(set(refs))


def test_a_file_goes_where_its_course_belongs(college: College) -> None:
    text = course_file.course_text(
        replace(practice_course(CLOCK.now().date()), section=SectionName("SOIL 310", "", "01"))
    )
    answers = []
    for path in ("/sections/new", "/at/1/sections/new")[: len(college.apps)]:
        sent = {"course_file": (io.BytesIO(text.encode()), "c.json")}
        answers.append(college.browser.post(path, data=sent).status_code)
    assert answers == [307, 302][-len(college.apps) :]
    assert college.ids("soil.sqlite") == {SPAN + 1}


def test_no_such_database_is_no_page(college: College) -> None:
    assert college.get(f"/s/{2 * SPAN + 1}/plan").status_code == 404
    assert college.get("/at/2/desk").status_code == 404


def test_health_speaks_of_each(one: College) -> None:
    assert one.get("/health").status_code == 200
    (one.folder / "soil.sqlite").unlink()
    assert one.get("/health").status_code == 503


def test_a_scale_saved_in_one_is_there_in_all_of_a_machine(one: College) -> None:
    soil, hydr = one.make("SOIL 310"), one.make("HYDR 310")
    one.post(f"/s/{soil}/plan/save-scale", scale_name="Ours", key="s")
    assert "Ours" in one.get(f"/s/{soil}/plan").text
    assert "Ours" in one.get(f"/s/{hydr}/plan").text


def test_a_plan_is_copied_from_another_database(one: College) -> None:
    soil, source = one.make("SOIL 310"), min(one.ids("vinemark.sqlite"))
    assert "Map quizzes" in one.get(f"/s/{soil}/plan/copy?source={source}").text
    one.post(f"/s/{soil}/plan/copy", source=str(source), days="0", key="c")
    assert "Map quizzes" in one.get(f"/s/{soil}/plan").text


def test_what_is_for_another_machine_is_misdirected(two: College) -> None:
    second, home = two.apps["second"].test_client(), two.apps["home"].test_client()
    for client, path in ((second, "/"), (second, "/sign-in"), (second, "/s/1/plan"), (home, f"/s/{SPAN + 1}/plan")):
        assert client.get(path).status_code == 421, path
    assert second.get("/health").status_code == 200


def test_what_makes_a_section_is_sent_again_to_the_machine_that_keeps_it(two: College) -> None:
    answer = two.post("/sections/new", course="SOIL 310", people="Ada Mai")
    assert (answer.status_code, answer.headers["Location"]) == (307, "/at/1/sections/new")
    wrong = two.post("/sections/new", course="", people="Ada Mai")
    assert (wrong.status_code, "Type a name" in wrong.text) == (422, True)
    there = two.post("/at/1/sections/new", course="HYDR 310", people="Ada Mai")
    assert (there.status_code, there.headers["Location"]) == (307, "/at/0/sections/new")
    assert two.post("/at/0/sections/new", course="HYDR 310", people="Ada Mai").status_code == 302


def test_a_machine_that_does_not_answer_stops_only_its_own(two: College) -> None:
    soil, hydr = two.make("SOIL 310"), two.make("HYDR 310")
    two.down.add("second")
    assert two.get(f"/s/{hydr}/plan").status_code == 200
    page = two.get("/").text
    assert "HYDR 310-01" in page
    assert "has not answered yet" in page
    assert two.get("/at/1/desk").status_code == 502
    stays = two.post("/account/delete", delete_password=PASSWORD, key="a")
    assert (stays.status_code, "does not answer" in stays.text) == (503, True)
    two.down.clear()
    two.down.add("home")
    answer = two.get(f"/s/{soil}/plan")
    assert (answer.status_code, "Nothing was changed" in answer.text) == (503, True)
    two.down.clear()
    assert two.get(f"/s/{soil}/plan").status_code == 200


def test_machines_believe_only_each_other(two: College) -> None:
    two.make("SOIL 310")
    second = two.apps["second"].test_client()
    for signature in ("", "made up", two.apps["second"].extensions["vinemark.machines"]._signer.dumps([1, "leave", 1])):
        answer = second.post("/at/1/left", headers={"X-Machine": signature})
        assert answer.status_code == 403, signature
    signed = two.apps["home"].extensions["vinemark.machines"]._signer.dumps([1, "left", 10**6])
    assert second.post("/at/1/left", headers={"X-Machine": signed}).json == {"sections": 0}


def test_who_is_signed_in_is_believed_for_a_moment(two: College, monkeypatch: pytest.MonkeyPatch) -> None:
    soil = two.make("SOIL 310")
    monkeypatch.setattr(machines_module, "BELIEVED_SECONDS", 60.0)
    transport = two.apps["second"].extensions["vinemark.machines"]._client._transport
    for _ in range(2):
        two.get(f"/s/{soil}/plan")
    asked = len(transport.asked)
    for _ in range(5):
        assert two.get(f"/s/{soil}/plan").status_code == 200
    assert len(transport.asked) == asked


def test_what_happens_is_in_the_log_of_its_machine(two: College) -> None:
    soil = two.make("SOIL 310")
    two.delete(soil, "SOIL 310-01")
    found = {}
    for file in ("vinemark.sqlite", "soil.sqlite"):
        connection = connect(two.folder / file)
        found[file] = {event.kind for event in events_since(connection, CLOCK.now().replace(year=2000))}
        connection.close()
    assert "signed in" in found["vinemark.sqlite"]
    assert found["soil.sqlite"] == {"section deleted", "file taken out"}
