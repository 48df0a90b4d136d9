"""The office over its real interface, and what its client makes of trouble."""

from collections.abc import Iterator
from datetime import date, datetime, time
from pathlib import Path
from typing import Any

import httpx
import pytest
from flask import Flask

from vinemark.clock import Clock
from vinemark.core.submission import HeldRow, digest
from vinemark.demo.build import SCHOOL
from vinemark.office import ledger
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.client import OfficeClient, OfficeDownError, OfficeRefusedError
from vinemark.store.database import Connection, connect

TERM = {"code": "T", "name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"}
SECTION = {"ref": "R1", "term": "T", "course": "BRYO 110", "title": "Mosses", "number": "01", "instructor": "t@x"}
PEOPLE = [("L1", "enrolled", "letter"), ("L2", "enrolled", "pass"), ("L3", "withdrawn", "letter")]
KEY = "0123456789abcdef"


@pytest.fixture
def office(tmp_path: Path) -> Flask:
    path = tmp_path / "office.sqlite"
    app = create_office(OfficeSettings(str(path), "token", Clock(date(2026, 12, 19), time(9, 30))))
    connection = connect(path)
    ledger.set_school(connection, "Larkmoor College", SCHOOL)
    ledger.add_term(connection, {**TERM, "opens": "2026-12-14T08:00:00", "due": "2026-12-21T17:00:00"})
    names = {"family_name": "Ode", "given_name": "Marit", "email": None}
    ledger.add_section(connection, SECTION, [{"id": i, "status": s, "basis": b, **names} for i, s, b in PEOPLE])
    connection.close()
    return app


@pytest.fixture
def ledger_of(tmp_path: Path, office: Flask) -> Iterator[Connection]:
    connection = connect(tmp_path / "office.sqlite")
    yield connection
    connection.close()


def client(office: Flask, token: str = "token") -> OfficeClient:
    return OfficeClient("http://office", token, httpx.WSGITransport(app=office))


def send(office: Flask, *rows: HeldRow, key: str = KEY, by: str = "t@x") -> Any:
    return client(office).send("R1", "final", key, by, digest(rows), rows)


def reasons(receipt: Any) -> dict[str, str | None]:
    return {row["id"]: row["reason"] for row in receipt["rows"]}


def test_sections_rosters_and_rules_are_pulled(office: Flask) -> None:
    assert [s.name.short for s in client(office).sections("T@X")] == ["BRYO 110-01"]
    assert client(office).sections("other@x") == []
    found = client(office).roster("R1")
    assert [(r.id, r.status, r.basis) for r in found.records.roster] == PEOPLE
    assert found.records.incomplete_limit_days == 365
    assert found.section.due == datetime(2026, 12, 21, 17)


def test_each_row_is_accepted_or_refused_with_its_reason(office: Flask) -> None:
    rows = [
        HeldRow("L1", "A"),
        HeldRow("L2", "A"),
        HeldRow("L3", "A"),
        HeldRow("L9", "A"),
    ]
    receipt = send(office, *rows)
    assert (receipt["accepted"], receipt["refused"]) == (1, 3)
    assert reasons(receipt) == {
        "L1": None,
        "L2": "A is not for the pass basis",
        "L3": "has withdrawn; the office sets the code",
        "L9": "not on the roster of this section",
    }
    assert client(office).held("R1", "final").rows == [HeldRow("L1", "A")]


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        (HeldRow("L1", "F"), "F needs the last date of attendance"),
        (HeldRow("L1", "F", "2026-08-30"), "the last date of attendance must lie between"),
        (HeldRow("L1", "F", "2026-11-02", never_attended=True), "never attended is said beside"),
        (HeldRow("L1", "F", "2026-11-02"), None),
        (HeldRow("L1", "F", never_attended=True), None),
        (HeldRow("L1", "W"), "W is set by the office alone"),
        (HeldRow("L1", "E"), "E is not a code of this school"),
        (HeldRow("L1", "I", finish_by="2027-05-01"), "I needs a fallback grade"),
        (HeldRow("L1", "I", fallback_grade="C"), "I needs a finish-by date"),
        (HeldRow("L1", "I", fallback_grade="C", finish_by="2027-12-19"), "I needs a finish-by date"),
        (HeldRow("L1", "I", fallback_grade="C", finish_by="2027-12-18"), None),
    ],
)
def test_the_offices_rules(office: Flask, row: HeldRow, reason: str | None) -> None:
    """Common practice, no source: what the registrar of this made-up school asks for."""
    found = reasons(send(office, row))["L1"]
    assert found is None if reason is None else (found or "").startswith(reason)


def test_the_same_sending_twice_gives_the_same_receipt(office: Flask) -> None:
    first = send(office, HeldRow("L1", "A"))
    assert send(office, HeldRow("L1", "A")) == first
    with pytest.raises(OfficeRefusedError, match="another sending"):
        send(office, HeldRow("L1", "B"))
    assert client(office).held("R1", "final").rows == [HeldRow("L1", "A")]


def test_a_later_sending_brings_refused_and_corrected_rows_until_posted(office: Flask, ledger_of: Connection) -> None:
    send(office, HeldRow("L1", "A"))
    second = send(office, HeldRow("L1", "B"), HeldRow("L2", "P"), key=KEY + "2")
    assert second["number"] == "R-2026-00002"
    ledger.post(ledger_of, "R1", "final", datetime(2026, 12, 19, 12))
    with pytest.raises(OfficeRefusedError, match="posted"):
        send(office, HeldRow("L1", "C"), key=KEY + "3")
    held = client(office).held("R1", "final")
    assert (held.rows, held.posted_at) == ([HeldRow("L1", "B"), HeldRow("L2", "P")], "2026-12-19T12:00:00")


def test_what_is_refused_as_a_whole(office: Flask) -> None:
    with pytest.raises(OfficeRefusedError, match="instructor of record"):
        send(office, HeldRow("L1", "A"), by="other@x")
    with pytest.raises(OfficeRefusedError, match="does not know this program"):
        client(office, "wrong").sections("t@x")
    with pytest.raises(OfficeRefusedError, match="digest"):
        client(office).send("R1", "final", KEY, "t@x", "0" * 64, [HeldRow("L1", "A")])
    with pytest.raises(OfficeRefusedError, match="no summer run"):
        client(office).held("R1", "summer")
    with pytest.raises(OfficeRefusedError, match="no such section"):
        client(office).roster("R9")


@pytest.mark.parametrize(("day", "reason"), [(date(2026, 12, 13), "opens"), (date(2026, 12, 22), "closed")])
def test_outside_its_window_the_office_takes_nothing(tmp_path: Path, office: Flask, day: date, reason: str) -> None:
    late = create_office(OfficeSettings(str(tmp_path / "office.sqlite"), "token", Clock(day)))
    with pytest.raises(OfficeRefusedError, match=reason):
        send(late, HeldRow("L1", "A"))


def trouble(answer: Any) -> OfficeClient:
    return OfficeClient("http://office", "token", httpx.MockTransport(answer))


def raise_(error: Exception) -> Any:
    def answer(_: httpx.Request) -> httpx.Response:
        raise error

    return answer


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (raise_(httpx.ConnectError("x")), "could not be reached"),
        (raise_(httpx.ReadTimeout("x")), "did not answer within"),
        (raise_(httpx.RemoteProtocolError("x")), "broke before it answered"),
        (lambda _: httpx.Response(502), "answered with an error"),
        (lambda _: httpx.Response(200, text="<html>"), "could not be read"),
    ],
)
def test_when_the_office_is_down_the_client_says_how(answer: Any, words: str) -> None:
    with pytest.raises(OfficeDownError, match=words):
        trouble(answer).sections("t@x")


def test_its_pages_show_what_is_held_and_post(office: Flask) -> None:
    send(office, HeldRow("L1", "A"))
    office.config["WTF_CSRF_ENABLED"] = False
    browser = office.test_client()
    assert "Larkmoor College" in browser.get("/").text
    assert 'data-grade="L1">A<' in browser.get("/sections/R1").text
    browser.post("/sections/R1/roster/L2", data={"status": "withdrawn"})
    assert client(office).roster("R1").records.roster[1].status == "withdrawn"
    browser.post("/sections/R1/post")
    assert "Posted 2026-12-19 09:30:00" in browser.get("/sections/R1").text
