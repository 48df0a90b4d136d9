"""The token of an instructor opens their sections at the registrar, for a few minutes, and nothing else."""

from datetime import date, time
from pathlib import Path

import httpx
import pytest
from flask import Flask

from vinemark.clock import Clock
from vinemark.office import ledger
from vinemark.office.access import VALID_SECONDS, access_token, instructor_of
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.schools import LARKMOOR
from vinemark.store.database import connect

SECRET = "the secret that both sides know"
TERM = {"code": "T", "name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"}
SECTION = {"term": "T", "title": "Mosses", "number": "01"}


@pytest.fixture
def office(tmp_path: Path) -> Flask:
    path = tmp_path / "office.sqlite"
    app = create_office(OfficeSettings(str(path), SECRET, Clock(date(2026, 12, 19), time(9, 30))))
    connection = connect(path)
    ledger.set_school(connection, LARKMOOR)
    ledger.add_term(connection, TERM, {"final": ("2026-12-14T08:00:00", "2026-12-21T17:00:00")})
    for ref, instructor in (("MINE", "mine@larkmoor.example"), ("THEIRS", "theirs@larkmoor.example")):
        ledger.add_section(connection, {**SECTION, "ref": ref, "course": ref, "instructor": instructor}, [])
    connection.close()
    return app


def status(office: Flask, token: str, path: str, method: str = "GET") -> int:
    transport = httpx.WSGITransport(app=office)
    with httpx.Client(base_url="http://office", transport=transport) as client:
        return client.request(method, path, headers={"Authorization": f"Bearer {token}"}).status_code


@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("GET", ""),
        ("GET", "/runs/final/grades"),
        ("POST", "/runs/final/sendings"),
        ("POST", "/changes"),
    ],
)
def test_a_token_opens_the_sections_of_its_instructor_alone(office: Flask, method: str, path: str) -> None:
    token = access_token(SECRET, "Mine@Larkmoor.example")
    assert status(office, token, f"/api/sections/MINE{path}", method) != 404
    assert status(office, token, f"/api/sections/THEIRS{path}", method) == 404
    assert status(office, access_token(SECRET, ""), f"/api/sections/MINE{path}", method) == 404


@pytest.mark.parametrize("token", ["", SECRET, access_token("another secret", "mine@larkmoor.example")])
def test_neither_nothing_nor_the_secret_nor_another_secret_opens_anything(office: Flask, token: str) -> None:
    assert status(office, token, "/api/sections") == 401


def test_a_token_ends_after_a_few_minutes(monkeypatch: pytest.MonkeyPatch) -> None:
    now = 1_800_000_000
    monkeypatch.setattr("itsdangerous.timed.time.time", lambda: now)
    token = access_token(SECRET, "mine@larkmoor.example")
    now += VALID_SECONDS
    assert instructor_of(SECRET, token) == "mine@larkmoor.example"
    now += 1
    assert instructor_of(SECRET, token) is None


def test_a_token_of_another_shape_is_nobodys() -> None:
    token = access_token(SECRET, "mine@larkmoor.example")
    # The last sign of a signature has bits that say nothing: one before it is changed.
    assert instructor_of(SECRET, f"{token[:-2]}{'A' if token[-2] != 'A' else 'B'}{token[-1]}") is None
    assert instructor_of(SECRET, token.split(".", 1)[1]) is None
