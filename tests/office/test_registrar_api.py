"""docs/registrar-api.yaml (OpenAPI 3.1) and the simulated office say the same: every answer and every error."""

import json
import re
from collections.abc import Iterator
from datetime import date, datetime, time
from pathlib import Path
from typing import Any

import httpx
import pytest
import yaml
from jsonschema import Draft202012Validator, FormatChecker
from openapi_spec_validator import OpenAPIV31SpecValidator

from tests.office.test_office import PEOPLE, RUNS, SECTION, TERM
from vinemark.clock import Clock
from vinemark.core.submit.grade_row import GradeRow, digest, row_values
from vinemark.office import ledger, ledger_grades
from vinemark.office.access import access_token
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.ledger import Weather
from vinemark.office.schools import LAKESIDE, LARKMOOR
from vinemark.store.database import connect

DOCUMENT = yaml.safe_load((Path(__file__).parents[2] / "docs" / "registrar-api.yaml").read_text(encoding="utf-8"))
SECRET = "a secret that both sides know, long enough"
METHODS = ("get", "post")
Pair = tuple[str, str]


def schema_of(fragment: dict[str, Any]) -> Draft202012Validator:
    """A validator for a schema of the document; OpenAPI 3.1 takes JSON Schema 2020-12 as it is."""
    whole = {**fragment, "components": DOCUMENT["components"]}
    return Draft202012Validator(whole, format_checker=FormatChecker())


def resolved(value: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in value:
        found: Any = DOCUMENT
        for part in value["$ref"].removeprefix("#/").split("/"):
            found = found[part]
        value = found
    return value


def operations() -> Iterator[tuple[str, str, dict[str, Any]]]:
    for path, methods in DOCUMENT["paths"].items():
        for method in METHODS:
            if method in methods:
                yield path, method, methods[method]


class Held(httpx.BaseTransport):
    """Stands between a client and the office, and holds each answer against the document."""

    def __init__(self, office: httpx.BaseTransport) -> None:
        self.office = office
        self.seen: set[Pair] = set()

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        answer = self.office.handle_request(request)
        answer.read()
        path, operation = self._operation(request)
        described = operation["responses"].get(str(answer.status_code))
        assert described is not None, f"{request.method} {path} answers {answer.status_code}, which is not described"
        content = resolved(described)["content"]["application/json"]["schema"]
        errors = [error.message for error in schema_of(content).iter_errors(answer.json())]
        assert errors == [], f"{request.method} {path} {answer.status_code}: {answer.text}"
        if answer.status_code == 200 and request.method == "POST":
            wanted = operation["requestBody"]["content"]["application/json"]["schema"]
            assert list(schema_of(wanted).iter_errors(json.loads(request.content))) == []
        self.seen.add((operation["operationId"], str(answer.status_code)))
        return answer

    def _operation(self, request: httpx.Request) -> tuple[str, dict[str, Any]]:
        for path, method, operation in operations():
            pattern = re.sub(r"\{\w+\}", "[^/]+", path)
            if method.upper() == request.method and re.fullmatch(pattern, request.url.path):
                return path, operation
        raise AssertionError(f"{request.method} {request.url.path} is not described")


class Room:
    """An office at a time of day, and somebody who asks it."""

    def __init__(self, folder: Path, school: dict[str, Any]) -> None:
        self.path = folder / "office.sqlite"
        self.at(time(9, 30))
        connection = connect(self.path)
        ledger.set_school(connection, school)
        ledger.add_term(connection, TERM, RUNS)
        names = {"family_name": "Ode", "given_name": "Marit", "email": None}
        ledger.add_section(connection, SECTION, [{"id": i, "status": s, "basis": b, **names} for i, s, b in PEOPLE])
        connection.close()
        self.seen: set[Pair] = set()

    def at(self, now: time, day: date = date(2026, 12, 19)) -> None:
        self.app = create_office(OfficeSettings(str(self.path), SECRET, Clock(day, now)))

    def ask(self, method: str, path: str, body: object = None, token: str | None = None) -> httpx.Response:
        shown = access_token(SECRET, "t@x") if token is None else token
        held = Held(httpx.WSGITransport(app=self.app))
        with httpx.Client(base_url="http://office", transport=held) as client:
            answer = client.request(method, path, json=body, headers={"Authorization": f"Bearer {shown}"})
        self.seen |= held.seen
        return answer

    def everything(self, method: str, token: str | None = None) -> list[int]:
        """Each operation of a method, on the section that is there."""
        paths = [p.replace("{ref}", "R1").replace("{run}", "final") for p, m, _ in operations() if m == method]
        return [self.ask(method.upper(), path, sending(GradeRow("L1", "A")), token).status_code for path in paths]


def sending(*rows: GradeRow, key: str = "0123456789abcdef") -> dict[str, Any]:
    return {
        "key": key, "signed_by": "t@x", "digest": digest(rows), "rows": [row_values(row) for row in rows],
        "history_seal": "a" * 64,
    }  # fmt: skip


def change(new: GradeRow, old: GradeRow | None, key: str = "fedcba9876543210") -> dict[str, Any]:
    return {
        "key": key, "signed_by": "t@x", "student": new.id, "old": old and row_values(old), "new": row_values(new),
        "reason": "a paper that was found", "evidence": {"note": "see the paper"},
    }  # fmt: skip


def test_the_document_is_openapi_3_1_and_its_examples_fit() -> None:
    OpenAPIV31SpecValidator(DOCUMENT).validate()
    for schema in DOCUMENT["components"]["schemas"].values():
        Draft202012Validator.check_schema(schema)


@pytest.mark.parametrize("school", [LARKMOOR, LAKESIDE])
def test_every_answer_and_every_error_is_as_described(tmp_path: Path, school: dict[str, Any]) -> None:
    room = Room(tmp_path, school)
    final, changes = "/api/sections/R1/runs/final/sendings", "/api/sections/R1/changes"
    assert room.everything("get") == [200] * 3
    assert room.everything("get", "nonsense") + room.everything("post", "nonsense") == [401] * 5
    for path in ("/api/sections/R9", "/api/sections/R9/runs/final/grades", "/api/sections/R1/runs/summer/grades"):
        assert room.ask("GET", path).status_code == 404
    for path in ("/api/sections/R9/changes", "/api/sections/R9/runs/final/sendings"):
        assert room.ask("POST", path, {}).status_code == 404
    assert [room.ask("POST", path, {}).status_code for path in (final, changes)] == [400, 400]
    assert room.ask("POST", changes, change(GradeRow("L1", "B"), GradeRow("L1", "A"))).status_code == 409
    room.at(time(12, 10) if school is LARKMOOR else time(2, 30))
    assert room.ask("POST", final, sending(GradeRow("L1", "A"))).status_code == 423
    room.at(time(9, 30))
    receipt = room.ask("POST", final, sending(GradeRow("L1", "A"), GradeRow("L9", "A")))
    assert (receipt.json()["accepted"], receipt.json()["refused"]) == (1, 1)
    assert room.ask("POST", final, sending(GradeRow("L1", "B"))).status_code == 409
    connection = connect(room.path)
    ledger_grades.post(connection, "R1", "final", datetime(2026, 12, 19, 12))
    room.at(time(12, 10) if school is LARKMOOR else time(2, 30))
    asked = change(GradeRow("L1", "B"), GradeRow("L1", "A"))
    assert room.ask("POST", changes, asked).status_code == 423
    room.at(time(9, 30))
    assert room.ask("POST", changes, asked).json()["state"] == "pending"
    ledger_grades.answer_change(connection, "R1", 1, True, "granted", datetime(2026, 12, 20, 9))
    assert room.ask("POST", changes, asked).json()["state"] == "granted"
    assert room.ask("GET", "/api/sections/R1/runs/final/grades").json()["changes"][0]["state"] == "granted"
    ledger.set_weather(connection, Weather(down=True))
    assert room.everything("get") + room.everything("post") == [503] * 5
    connection.close()
    described = {(o["operationId"], status) for _, _, o in operations() for status in o["responses"]}
    assert room.seen == described


def test_what_fell_back_is_as_described(tmp_path: Path) -> None:
    room = Room(tmp_path, LARKMOOR)
    incomplete = GradeRow("L1", "I", fallback_grade="D", finish_by="2027-02-01")
    assert room.ask("POST", "/api/sections/R1/runs/final/sendings", sending(incomplete)).json()["accepted"] == 1
    connection = connect(room.path)
    ledger_grades.post(connection, "R1", "final", datetime(2026, 12, 19, 12))
    connection.close()
    room.at(time(9), date(2027, 2, 2))
    held = room.ask("GET", "/api/sections/R1/runs/final/grades").json()
    assert [(one["id"], one["was"]["code"]) for one in held["fell_back"]] == [("L1", "I")]
