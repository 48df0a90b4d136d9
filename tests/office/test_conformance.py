"""The simulated office keeps all that is tried; a deliberately wrong one fails each trial in words."""

import json
from collections.abc import Callable, Iterator
from datetime import date, time
from pathlib import Path
from typing import Any

import httpx
import pytest
from click.testing import CliRunner

from tests.faults.cutting import TOKEN, office_on_a_port
from tests.office.test_office import PEOPLE, RUNS, SECTION, TERM
from vinemark.cli import main
from vinemark.clock import Clock
from vinemark.office import ledger
from vinemark.office.access import instructor_of
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.conformance import Conformance
from vinemark.office.schools import LAKESIDE, LARKMOOR
from vinemark.store.database import connect

SECRET = "a secret that both sides know, long enough"
Answer = tuple[int, Any]
Change = Callable[[httpx.Request, int, Any], Answer]


class Wrong(httpx.BaseTransport):
    """An office whose answers are changed on their way."""

    def __init__(self, office: httpx.BaseTransport, change: Change) -> None:
        self.office, self.change = office, change

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        answer = self.office.handle_request(request)
        answer.read()
        status, value = self.change(request, answer.status_code, answer.json())
        if isinstance(value, bytes):
            return httpx.Response(status, content=value)
        return httpx.Response(status, json=value)


def office(folder: Path, school: dict[str, Any] = LARKMOOR, now: time = time(9, 30)) -> httpx.WSGITransport:
    path = folder / "office.sqlite"
    app = create_office(OfficeSettings(str(path), SECRET, Clock(date(2026, 12, 19), now)))
    connection = connect(path)
    ledger.set_school(connection, school)
    ledger.add_term(connection, TERM, RUNS)
    names = {"family_name": "Ode", "given_name": "Marit", "email": None}
    ledger.add_section(connection, SECTION, [{"id": i, "status": s, "basis": b, **names} for i, s, b in PEOPLE])
    connection.close()
    return httpx.WSGITransport(app=app)


def faults(transport: httpx.BaseTransport, send_to: str = "R1") -> list[str]:
    return list(Conformance("http://office", SECRET, "t@x", transport).faults(send_to))


def held(folder: Path) -> list[tuple[object, ...]]:
    connection = connect(folder / "office.sqlite")
    found = [tuple(row) for table in ("grade", "grade_change") for row in connection.execute(f"SELECT * FROM {table}")]  # noqa: S608
    connection.close()
    return found


@pytest.mark.parametrize("school", [LARKMOOR, LAKESIDE])
def test_the_simulated_office_keeps_all_and_no_grade_changes(tmp_path: Path, school: dict[str, Any]) -> None:
    assert faults(office(tmp_path, school)) == []
    assert held(tmp_path) == []


def test_during_a_transfer_what_could_not_be_tried_is_said(tmp_path: Path) -> None:
    (fault,) = faults(office(tmp_path, now=time(12, 10)))
    assert "receipts could not be tried" in fault


def test_without_a_section_it_is_said_that_little_was_tried(tmp_path: Path) -> None:
    found = list(Conformance("http://office", SECRET, "else@x", office(tmp_path)).faults())
    assert found == ["else@x has no section there: name an instructor who has one, so that more can be tried"]


def on(method: str, end: str, status: int, change: Callable[[Any], Answer]) -> Change:
    """Answers of a kind changed, the others as they are."""

    def changed(request: httpx.Request, came: int, value: Any) -> Answer:
        fits = request.method == method and request.url.path.endswith(end) and came == status
        return change(value) if fits else (came, value)

    return changed


def without(*places: str) -> Callable[[Any], Answer]:
    def change(value: Any) -> Answer:
        return 200, {key: value[key] for key in value if key not in places}

    return change


def put(**more: Any) -> Callable[[Any], Answer]:
    return lambda value: (200, {**value, **more})


def naive(request: httpx.Request, status: int, value: Any) -> Answer:
    return status, json.loads(json.dumps(value).replace("+00:00", ""))


def every_instructor(request: httpx.Request, status: int, value: Any) -> Answer:
    """Whoever asks sees the sections of all."""
    whose = instructor_of(SECRET, request.headers.get("Authorization", "").removeprefix("Bearer "))
    if request.url.path == "/api/sections" and whose != "t@x" and status == 200:
        return 200, {"sections": [{"ref": "R1"}]}
    return status, value


def restless() -> Change:
    number = iter(range(1000))
    return on(
        "GET", "grades", 200, lambda value: (200, {**value, "posted_at": f"2026-12-01T08:00:{next(number) % 60:02d}Z"})
    )


def another_receipt() -> Change:
    number = iter(range(1000))
    return on("POST", "sendings", 200, lambda value: (200, {**value, "number": f"R-{next(number)}"}))


def all_taken(value: Any) -> Answer:
    rows = [{**row, "accepted": True} for row in value["rows"]]
    return 200, {**value, "accepted": len(rows), "refused": 0, "rows": rows}


WRONG: dict[str, tuple[Change, str]] = {
    "down": (lambda *_: (503, {"error": "closed"}), "GET /api/sections must be answered 200 and is 503 (closed)"),
    "no json": (lambda *_: (200, b"<html>"), "is not answered with JSON"),
    "open to all": (
        lambda r, s, v: (200, {"sections": []}) if s == 401 else (s, v),
        "without a token must be answered 401",
    ),
    "403 for 401": (lambda r, s, v: (403, v) if s == 401 else (s, v), "with a token that is over must be answered 401"),
    "no reason": (lambda r, s, v: (s, {}) if s == 404 else (s, v), "must say why, as error, in JSON"),
    "all see all": (every_instructor, "for an instructor without sections must be answered 200 with an empty list"),
    "no roster": (on("GET", "R1", 200, without("roster")), "GET /api/sections/R1: roster is missing"),
    "no term": (
        on("GET", "sections", 200, lambda v: (200, {"sections": [{**one, "term": "Fall"} for one in v["sections"]]})),
        "sections[0].term must be an object",
    ),
    "another section": (on("GET", "R1", 200, put(ref="R2")), "with the section asked for, and not R2"),
    "no times with offset": (naive, "must be a moment with an offset"),
    "restless": (restless(), "must be answered alike as long as nothing happens"),
    "no changes": (on("GET", "grades", 200, without("changes")), "grades: changes is missing"),
    "takes anything": (
        on("POST", "sendings", 400, lambda _: (200, {})),
        "whose digest does not fit the rows must be answered 400",
    ),
    "422 for 400": (
        on("POST", "changes", 400, lambda v: (422, v)),
        "of a change without a student must be answered 400",
    ),
    "no key": (on("POST", "changes", 409, lambda v: (409, {"error": "no"})), "must repeat the key in its no"),
    "strangers sign": (
        on("POST", "sendings", 409, lambda _: (200, {})),
        "signed by somebody else must be answered 409 or 423",
    ),
    "no wait": (
        on("POST", "sendings", 200, lambda _: (423, {"error": "shut"})),
        "must say until when nothing is taken",
    ),
    "another receipt": (another_receipt(), "the same key with the same rows must give the same receipt"),
    "another digest": (on("POST", "sendings", 200, put(digest="0" * 64)), "must repeat the digest that was sent"),
    "no seal": (on("POST", "sendings", 200, without("history_seal")), "should repeat history_seal"),
    "rows missing": (on("POST", "sendings", 200, put(rows=[], refused=0)), "must have each row that was sent, once"),
    "counts wrong": (on("POST", "sendings", 200, put(accepted=1)), "accepted does not agree with the rows"),
    "takes nobody": (
        on("POST", "sendings", 200, all_taken),
        "for a student whom nobody knows must be refused with a reason",
    ),
    "held all the same": (
        on("GET", "final/grades", 200, put(grades=[{"id": "nobody-4f1d0c", "code": "A"}])),
        "must not have what was refused",
    ),
}


@pytest.mark.parametrize("name", WRONG)
def test_a_wrong_office_fails_in_words(tmp_path: Path, name: str) -> None:
    change, said = WRONG[name]
    found = faults(Wrong(office(tmp_path), change))
    assert any(said in fault for fault in found), found
    assert all(fault[0].isupper() and not fault.endswith(" ") for fault in found)


def test_an_office_that_cannot_be_reached_is_one_fault() -> None:
    def broken(request: httpx.Request) -> httpx.Response:
        raise httpx.ConnectError("no")

    assert faults(httpx.MockTransport(broken)) == ["GET /api/sections cannot be reached (ConnectError)"]


@pytest.fixture
def served(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[str]:
    office(tmp_path)
    monkeypatch.setenv("VINEMARK_OFFICE_TOKEN", TOKEN)
    with office_on_a_port(tmp_path / "office.sqlite", Clock(date(2026, 12, 19), time(9, 30))) as port:
        yield f"http://127.0.0.1:{port}"


def test_from_the_command_line(served: str, monkeypatch: pytest.MonkeyPatch) -> None:
    command = ["check-registrar", served, "--instructor", "t@x", "--send-to", "R1"]
    done = CliRunner().invoke(main, command)
    assert (done.exit_code, done.stderr) == (0, "")
    assert "All is kept that was tried, in " in done.stdout
    monkeypatch.setenv("VINEMARK_OFFICE_TOKEN", "another secret, which the office does not know")
    refused = CliRunner().invoke(main, command)
    assert refused.exit_code == 2
    assert "must be answered 200 and is 401" in refused.stderr
    monkeypatch.setenv("VINEMARK_OFFICE_TOKEN", "")
    assert "VINEMARK_OFFICE_TOKEN" in CliRunner().invoke(main, command).stderr
