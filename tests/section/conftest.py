"""The demo's sections as the acts see them, and a registrar that can be down or lose an answer."""

import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time
from pathlib import Path

import httpx
import pytest

from tests.web.conftest import Weather
from vinemark.clock import Clock
from vinemark.core.course.course import Run, SectionName, Term
from vinemark.demo.build import OSTRANDER
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.client import OfficeClient
from vinemark.section.delivery.cross_listed import CrossListed
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.snapshot import Snapshots
from vinemark.section.state import SectionState, open_section
from vinemark.store import people
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act

NOW = datetime(2026, 12, 19, 10, 20)


@dataclass
class House:
    """The demo's database, its person, and the registrar."""

    folder: Path
    connection: Connection
    person: int
    snapshots: Snapshots
    weather: Weather
    gateway: Gateway

    def section(self, short: str, run: Run = "final", now: datetime = NOW) -> SectionState:
        """A section as it is now, by its course and number."""
        course, number = short.rsplit("-", 1)
        row = self.connection.execute("SELECT id FROM section WHERE course = ? AND number = ?", (course, number))
        found = open_section(self.connection, self.snapshots, self.person, int(row.fetchone()["id"]), now, run)
        assert found is not None
        return found

    def choose(self, _term: Term, _name: SectionName) -> Connection:
        """The one database there is."""
        return self.connection

    def act(self, section: SectionState, key: str | None = None, now: datetime = NOW) -> Act:
        """A request of the person."""
        return Act(self.person, now, section.id, key)


@pytest.fixture
def house(demo_folder: Path, tmp_path: Path) -> Iterator[House]:
    for name in ("vinemark.sqlite", "office.sqlite"):
        shutil.copy(demo_folder / name, tmp_path / name)
    clock = Clock(date(2026, 12, 19), time(10, 20))
    weather = Weather(create_office(OfficeSettings(str(tmp_path / "office.sqlite"), "token", clock)))
    connection = connect(tmp_path / "vinemark.sqlite")
    person = people.by_email(connection, OSTRANDER[1])
    assert person is not None
    gateway = Gateway(CrossListed(OfficeClient("http://office", "token", weather)))
    yield House(tmp_path, connection, person["id"], Snapshots(), weather, gateway)
    connection.close()


class Answers(httpx.BaseTransport):
    """A registrar that says what a test wants."""

    def __init__(self, status: int, body: object) -> None:
        self.status, self.body = status, body

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        if isinstance(self.body, bytes):
            return httpx.Response(self.status, content=self.body)
        return httpx.Response(self.status, json=self.body)
