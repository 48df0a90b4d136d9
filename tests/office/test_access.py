"""The token of an instructor opens their sections at the registrar, for a few minutes, and nothing else."""

import hmac
import json
from base64 import urlsafe_b64decode, urlsafe_b64encode
from datetime import date, time
from pathlib import Path
from time import time as time_now

import httpx
import jwt
import pytest
from flask import Flask

from vinemark.clock import Clock
from vinemark.office import ledger
from vinemark.office.access import VALID_SECONDS, access_token, instructor_of
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.schools import LARKMOOR
from vinemark.store.database import connect

SECRET = "the secret that both sides know and nobody else"
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


def test_a_token_ends_after_a_few_minutes() -> None:
    now = time_now()
    assert instructor_of(SECRET, access_token(SECRET, "mine@larkmoor.example", now - VALID_SECONDS + 60)) is not None
    assert instructor_of(SECRET, access_token(SECRET, "mine@larkmoor.example", now - VALID_SECONDS - 1)) is None


def test_a_token_is_what_the_standard_says() -> None:
    """RFC 7515, 3.1: header, claims and HMAC SHA-256 of the two, each in base64 for addresses, without padding."""
    header, claims, signature = access_token(SECRET, "mine@larkmoor.example", 1_800_000_000).split(".")
    assert json.loads(urlsafe_b64decode(f"{header}==")) == {"alg": "HS256", "typ": "JWT"}
    said = json.loads(urlsafe_b64decode(f"{claims}=="))
    assert said == {
        "iss": "vine-mark", "aud": "registrar", "sub": "mine@larkmoor.example", "iat": 1_800_000_000,
        "exp": 1_800_000_300,
    }  # fmt: skip
    made = hmac.digest(SECRET.encode(), f"{header}.{claims}".encode(), "sha256")
    assert urlsafe_b64encode(made).decode().rstrip("=") == signature


@pytest.mark.parametrize(
    "claims",
    [
        {"sub": "mine@larkmoor.example"},
        {"iss": "vine-mark", "aud": "payroll", "sub": "mine@larkmoor.example", "iat": 1, "exp": 2**33},
        {"iss": "somebody", "aud": "registrar", "sub": "mine@larkmoor.example", "iat": 1, "exp": 2**33},
        {"iss": "vine-mark", "aud": "registrar", "sub": "mine@larkmoor.example", "iat": 1},
    ],
)
def test_a_token_for_somebody_else_or_for_ever_opens_nothing(claims: dict[str, object]) -> None:
    assert instructor_of(SECRET, jwt.encode(claims, SECRET, algorithm="HS256")) is None


def test_a_token_without_a_signature_opens_nothing() -> None:
    claims = {"iss": "vine-mark", "aud": "registrar", "sub": "mine@larkmoor.example", "iat": 1, "exp": 2**33}
    assert instructor_of(SECRET, jwt.encode(claims, "", algorithm="none")) is None
    assert instructor_of("", jwt.encode(claims, "", algorithm="none")) is None


def test_a_token_of_another_shape_is_nobodys() -> None:
    token = access_token(SECRET, "mine@larkmoor.example")
    # The last sign of a signature has bits that say nothing: one before it is changed.
    assert instructor_of(SECRET, f"{token[:-2]}{'A' if token[-2] != 'A' else 'B'}{token[-1]}") is None
    assert instructor_of(SECRET, token.split(".", 1)[1]) is None
