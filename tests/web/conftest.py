"""The application over the demo's databases, made once and copied for each test."""

import re
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, time
from pathlib import Path
from typing import Any

import httpx
import pytest
from flask import Flask
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from vinemark.clock import Clock
from vinemark.core.course.course import Course
from vinemark.demo.build import OSTRANDER
from vinemark.office.app import OfficeSettings, create_office
from vinemark.section import making
from vinemark.settings import Settings
from vinemark.store import people, sections
from vinemark.store.database import connect
from vinemark.web import create_app

PASSWORD = "larkmoor"
CLOCK = Clock(date(2026, 12, 19), time(10, 20))


class Weather(httpx.BaseTransport):
    """Stands between the application and the registrar: 'down' refuses, 'lost' loses the answer."""

    def __init__(self, office: Flask) -> None:
        self.office = httpx.WSGITransport(app=office)
        self.now = "fine"

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        if self.now == "down":
            raise httpx.ConnectError("down")
        answer = self.office.handle_request(request)
        if self.now == "lost":
            raise httpx.RemoteProtocolError("lost")
        return answer


class Shown(TestResponse):
    """An answer; the text of a page is what is read on it: white space is one space, as a browser shows it."""

    @property
    def text(self) -> str:
        text = self.get_data(as_text=True)
        if self.mimetype != "text/html":
            return text
        parts = re.split(r"(<(?:pre|textarea)\b.*?</(?:pre|textarea)>)", text, flags=re.DOTALL)
        return "".join(part if n % 2 else re.sub(r"\s+", " ", part) for n, part in enumerate(parts))


class Reader(FlaskClient):
    """A browser that reads pages."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.response_wrapper = type("Shown", (Shown, self.response_wrapper), {})


@dataclass
class Site:
    """The application with a signed-in browser of its own."""

    app: Flask
    browser: FlaskClient
    folder: Path
    weather: Weather

    def sign_in(self, email: str = OSTRANDER[1], password: str = PASSWORD) -> TestResponse:
        return self.browser.post("/sign-in", data={"email": email, "password": password})

    def become(self, email: str) -> None:
        """Sign out, and sign somebody else in."""
        self.browser.post("/sign-out")
        assert self.sign_in(email).status_code == 302

    def section(self, short: str) -> int:
        with connect(self.folder / "vinemark.sqlite") as connection:
            course, number = short.rsplit("-", 1)
            row = connection.execute("SELECT id FROM section WHERE course = ? AND number = ?", (course, number))
            found = int(row.fetchone()["id"])
        connection.close()
        return found

    def course(self, section_id: int, email: str = OSTRANDER[1]) -> Course:
        connection = connect(self.folder / "vinemark.sqlite")
        person = people.by_email(connection, email)
        assert person is not None
        section = sections.section_of(connection, person["id"], section_id)
        assert section is not None
        course = sections.load_course(connection, section)
        connection.close()
        return course

    def post(self, path: str, htmx: Any = False, **form: Any) -> TestResponse:
        headers = {"HX-Request": "true"} if htmx else {}
        return self.browser.post(path, data=form, headers=headers, follow_redirects=True)


@pytest.fixture(autouse=True)
def patient(monkeypatch: pytest.MonkeyPatch) -> None:
    """On a busy machine a paper takes long, which is no fault of what is tested."""
    monkeypatch.setattr(making, "WAITED_SECONDS", 90.0)


@pytest.fixture
def site(demo_folder: Path, compiled: str, tmp_path: Path) -> Iterator[Site]:
    for name in ("vinemark.sqlite", "office.sqlite"):
        shutil.copy(demo_folder / name, tmp_path / name)
    office = create_office(OfficeSettings(str(tmp_path / "office.sqlite"), "token", CLOCK))
    weather = Weather(office)
    settings = Settings(
        database=str(tmp_path / "vinemark.sqlite"), office_url="http://localhost", office_token="token", clock=CLOCK,
        demo=True, secret="for tests alone, and long enough to sign with", compiled=compiled,
    )  # fmt: skip
    app = create_app(settings, weather)
    app.config["WTF_CSRF_ENABLED"] = False
    app.test_client_class = Reader
    found = Site(app, app.test_client(), tmp_path, weather)
    found.sign_in()
    yield found
