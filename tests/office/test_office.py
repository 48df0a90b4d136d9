"""The registrar over its real interface, and what its client makes of trouble."""

import io
import json
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, datetime, time
from pathlib import Path
from typing import Any

import httpx
import pytest
from flask import Flask

from vinemark.clock import Clock
from vinemark.core.after.grade_change import evidence_values, request_values
from vinemark.core.base.moments import stamp
from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt, read_receipt
from vinemark.core.submit.submission import Submission
from vinemark.exchange import office_file
from vinemark.office import ledger, ledger_grades
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.client import OfficeBusyError, OfficeClient, OfficeDownError, OfficeRefusedError
from vinemark.office.ledger import Weather
from vinemark.office.schools import LAKESIDE, LARKMOOR
from vinemark.store.database import Connection, connect

TERM = {"code": "T", "name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"}
RUNS = {
    "midterm": ("2026-10-12T08:00:00", "2026-10-19T17:00:00"),
    "final": ("2026-12-14T08:00:00", "2026-12-21T17:00:00"),
}
SECTION = {"ref": "R1", "term": "T", "course": "BRYO 110", "title": "Mosses", "number": "01", "instructor": "t@x"}
PEOPLE = [("L1", "enrolled", "letter"), ("L2", "enrolled", "pass"), ("L3", "withdrawn", "letter")]
PERSON = {"family_name": "Ode", "given_name": "", "email": None, "status": "enrolled", "basis": "letter"}
KEY = "0123456789abcdef"


@pytest.fixture
def office(tmp_path: Path) -> Flask:
    path = tmp_path / "office.sqlite"
    app = create_office(OfficeSettings(str(path), "token", Clock(date(2026, 12, 19), time(9, 30))))
    connection = connect(path)
    ledger.set_school(connection, LARKMOOR)
    ledger.add_term(connection, TERM, RUNS)
    names = {"family_name": "Ode", "given_name": "Marit", "email": None}
    ledger.add_section(connection, SECTION, [{"id": i, "status": s, "basis": b, **names} for i, s, b in PEOPLE])
    connection.close()
    return app


@pytest.fixture
def ledger_of(tmp_path: Path, office: Flask) -> Iterator[Connection]:
    connection = connect(tmp_path / "office.sqlite")
    yield connection
    connection.close()


def client(office: Flask, secret: str = "token", instructor: str = "T@X") -> OfficeClient:
    return OfficeClient("http://office", secret, httpx.WSGITransport(app=office)).for_instructor(instructor)


def send(office: Flask, *rows: GradeRow, key: str = KEY, by: str = "t@x") -> Receipt:
    return client(office).submit("R1", submission(*rows, key=key, by=by))


def submission(*rows: GradeRow, key: str = KEY, by: str = "t@x", run: Run = "final", seal: str = "") -> Submission:
    return Submission(
        1, 1, key, run, rows, digest(rows), "signed", None, None, datetime(2026, 12, 19), "T", by, "", None, False,
        history_seal=seal,
    )  # fmt: skip


def reasons(receipt: Receipt) -> dict[str, str | None]:
    return {row.id: row.reason for row in receipt.rows}


def test_sections_rosters_and_rules_are_pulled(office: Flask) -> None:
    assert [s.name.short for s in client(office).sections()] == ["BRYO 110-01"]
    assert client(office, instructor="other@x").sections() == []
    found = client(office).roster("R1")
    assert [(r.id, r.status, r.basis) for r in found.records.roster] == PEOPLE
    assert found.records.incomplete_limit_days == 365
    assert found.section.windows["final"].due == datetime(2026, 12, 21, 17)
    assert [str(transfer) for transfer in found.hours.transfers] == ["12:00 to 12:20", "23:30 to 00:15"]
    assert found.layout is not None
    assert found.layout.headings[:3] == ["Batch", "Section", "Student Id"]


def test_each_row_is_accepted_or_refused_with_its_reason(office: Flask) -> None:
    rows = [
        GradeRow("L1", "A"),
        GradeRow("L2", "A"),
        GradeRow("L3", "A"),
        GradeRow("L9", "A"),
    ]
    receipt = send(office, *rows)
    assert (receipt.accepted, receipt.refused) == (1, 3)
    assert reasons(receipt) == {
        "L1": None,
        "L2": "A is not for the pass basis",
        "L3": "has withdrawn; the registrar sets the code",
        "L9": "not on the roster of this section",
    }
    assert client(office).held("R1", "final").rows == [GradeRow("L1", "A")]


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        (GradeRow("L1", "F"), "F needs the last date of attendance"),
        (GradeRow("L1", "F", "2026-08-30"), "the last date of attendance must lie between"),
        (GradeRow("L1", "F", "2026-11-02", never_attended=True), "who never attended is reported with the first day"),
        (GradeRow("L1", "F", "2026-11-02"), None),
        (GradeRow("L1", "F", "2026-08-31"), None),
        (GradeRow("L1", "W"), "W is set by the registrar alone"),
        (GradeRow("L1", "E"), "E is not a code of this school"),
        (GradeRow("L1", "I", finish_by="2027-05-01"), "I needs a fallback grade"),
        (GradeRow("L1", "I", fallback_grade="C"), "I needs a finish-by date"),
        (GradeRow("L1", "I", fallback_grade="C", finish_by="2027-12-19"), "I needs a finish-by date"),
        (GradeRow("L1", "I", fallback_grade="C", finish_by="2027-12-18"), None),
    ],
)
def test_the_offices_rules(office: Flask, row: GradeRow, reason: str | None) -> None:
    """Common practice, no source: what the registrar of this made-up school asks for."""
    found = reasons(send(office, row))["L1"]
    assert found is None if reason is None else (found or "").startswith(reason)


def test_the_same_sending_twice_gives_the_same_receipt(office: Flask) -> None:
    first = send(office, GradeRow("L1", "A"))
    assert send(office, GradeRow("L1", "A")) == first
    with pytest.raises(OfficeRefusedError, match="another sending"):
        send(office, GradeRow("L1", "B"))
    assert client(office).held("R1", "final").rows == [GradeRow("L1", "A")]


def test_a_later_sending_brings_refused_and_corrected_rows_until_posted(office: Flask, ledger_of: Connection) -> None:
    send(office, GradeRow("L1", "A"))
    second = send(office, GradeRow("L1", "B"), GradeRow("L2", "P"), key=KEY + "2")
    assert second.number == "R-2026-00002"
    ledger_grades.post(ledger_of, "R1", "final", datetime(2026, 12, 19, 12))
    with pytest.raises(OfficeRefusedError, match="posted"):
        send(office, GradeRow("L1", "C"), key=KEY + "3")
    held = client(office).held("R1", "final")
    assert (held.rows, held.posted_at) == (
        [GradeRow("L1", "B"), GradeRow("L2", "P")],
        stamp(datetime(2026, 12, 19, 12)),
    )


def test_what_is_refused_as_a_whole(office: Flask) -> None:
    with pytest.raises(OfficeRefusedError, match="instructor of record"):
        send(office, GradeRow("L1", "A"), by="other@x")
    with pytest.raises(OfficeDownError, match="does not know this program"):
        client(office, "wrong").sections()
    with pytest.raises(OfficeRefusedError, match="digest"):
        client(office).submit("R1", replace(submission(GradeRow("L1", "A")), digest="0" * 64))
    with pytest.raises(OfficeRefusedError, match="seal"):
        client(office).submit("R1", submission(GradeRow("L1", "A"), seal="no digits"))
    with pytest.raises(OfficeDownError, match="no summer run"):
        client(office).held("R1", "summer")  # type: ignore[arg-type]
    with pytest.raises(OfficeDownError, match="no such section"):
        client(office).roster("R9")


def at(tmp_path: Path, day: date, hour: time) -> Flask:
    return create_office(OfficeSettings(str(tmp_path / "office.sqlite"), "token", Clock(day, hour)))


def test_outside_its_window_the_office_takes_nothing(tmp_path: Path, office: Flask) -> None:
    with pytest.raises(OfficeBusyError, match="final run opens Dec 14, 8:00 AM") as early:
        send(at(tmp_path, date(2026, 12, 13), time(9)), GradeRow("L1", "A"))
    assert early.value.until == datetime(2026, 12, 14, 8)
    with pytest.raises(OfficeRefusedError, match="closed Dec 21, 5:00 PM"):
        send(at(tmp_path, date(2026, 12, 22), time(9)), GradeRow("L1", "A"))


@pytest.mark.parametrize(
    ("hour", "until"),
    [
        (time(12), datetime(2026, 12, 19, 12, 20)),
        (time(12, 19, 59), datetime(2026, 12, 19, 12, 20)),
        (time(23, 45), datetime(2026, 12, 20, 0, 15)),
        (time(0, 14), datetime(2026, 12, 19, 0, 15)),
    ],
)
def test_during_a_transfer_the_office_says_when_it_takes_again(
    tmp_path: Path, office: Flask, hour: time, until: datetime
) -> None:
    with pytest.raises(OfficeBusyError, match="transfer runs until") as busy:
        send(at(tmp_path, date(2026, 12, 19), hour), GradeRow("L1", "A"))
    assert busy.value.until == until
    assert client(office).held("R1", "final").rows == []


@pytest.mark.parametrize("hour", [time(11, 59, 59), time(12, 20), time(0, 15), time(23, 29)])
def test_right_before_and_after_a_transfer_it_takes(tmp_path: Path, office: Flask, hour: time) -> None:
    assert send(at(tmp_path, date(2026, 12, 19), hour), GradeRow("L1", "A")).accepted == 1


def test_a_sending_that_was_kept_is_answered_also_during_a_transfer(tmp_path: Path, office: Flask) -> None:
    first = send(office, GradeRow("L1", "A"))
    assert send(at(tmp_path, date(2026, 12, 19), time(12, 5)), GradeRow("L1", "A")) == first


def test_midterm_codes_need_no_dates_and_touch_nothing_of_the_final_run(tmp_path: Path, office: Flask) -> None:
    october, row = at(tmp_path, date(2026, 10, 16), time(9)), GradeRow("L1", "F")
    assert client(october).submit("R1", submission(row, run="midterm")).accepted == 1
    assert client(october).held("R1", "midterm").rows == [row]
    assert client(october).held("R1", "final").rows == []


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        (GradeRow("L1", "F"), None),
        (GradeRow("L1", "X"), "X needs the last date of attendance"),
        (GradeRow("L1", "X", never_attended=True), None),
        (GradeRow("L1", "X", "2026-11-02"), None),
        (GradeRow("L1", "X", "2026-11-02", never_attended=True), "never attended is said beside"),
        (GradeRow("L1", "INC", fallback_grade="C", finish_by="2027-03-31"), "INC falls back to F here"),
        (GradeRow("L1", "INC", fallback_grade="F", finish_by="2027-02-01"), "INC is to be finished by 2027-03-31"),
        (GradeRow("L2", "INC", fallback_grade="F", finish_by="2027-03-31"), None),
        (GradeRow("L2", "P"), "P is not a code of this school"),
    ],
)
def test_the_other_schools_rules(office: Flask, ledger_of: Connection, row: GradeRow, reason: str | None) -> None:
    """Common practice, no source: the same office with the rules of the second sample school."""
    ledger.set_school(ledger_of, LAKESIDE)
    found = reasons(send(office, row))[row.id]
    assert found is None if reason is None else (found or "").startswith(reason)


def posted(office: Flask, ledger_of: Connection, *rows: GradeRow) -> None:
    send(office, *rows)
    ledger_grades.post(ledger_of, "R1", "final", datetime(2026, 12, 19, 12))


def ask(
    office: Flask,
    old: GradeRow | None,
    new: GradeRow,
    key: str = KEY + "9",
    reason: str = "marked wrongly",
    evidence: dict[str, str] | None = None,
) -> Any:
    values = request_values(new.id, old, new, reason, evidence or {"note": "both sheets"})
    return client(office).ask_change("R1", key, "t@x", values)


def test_a_change_of_grade_is_taken_once_and_answered(office: Flask, ledger_of: Connection) -> None:
    posted(office, ledger_of, GradeRow("L1", "B"))
    first = ask(office, GradeRow("L1", "B"), GradeRow("L1", "A"))
    assert (first.number, first.state) == ("C-2026-00001", "pending")
    assert ask(office, GradeRow("L1", "B"), GradeRow("L1", "A")) == first
    ledger_grades.answer_change(ledger_of, "R1", 1, True, "on file", datetime(2026, 12, 20, 9))
    ledger_grades.answer_change(ledger_of, "R1", 1, False, "too late", datetime(2026, 12, 20, 10))
    held = client(office).held("R1", "final")
    assert held.rows == [GradeRow("L1", "A")]
    assert [(c.state, c.word) for c in held.changes] == [("granted", "on file")]


def test_the_registrar_sees_the_name_and_reads_the_evidence(office: Flask, ledger_of: Connection) -> None:
    posted(office, ledger_of, GradeRow("L1", "B"))
    sheet = b"%PDF-" + bytes(5_000_000)
    evidence = evidence_values("both sheets", "sheets<1>.pdf", sheet)
    first = ask(office, GradeRow("L1", "B"), GradeRow("L1", "A"), evidence=evidence)
    assert ask(office, GradeRow("L1", "B"), GradeRow("L1", "A"), evidence=evidence) == first
    browser = office.test_client()
    page = browser.get("/sections/R1").text
    assert "Marit Ode<br>L1" in page
    assert "sheets&lt;1&gt;.pdf" in page
    given = browser.get("/sections/R1/changes/1/evidence")
    assert (given.data, given.mimetype) == (sheet, "application/octet-stream")
    assert given.headers["Content-Disposition"].startswith("attachment")
    assert browser.get("/sections/R1/changes/2/evidence").status_code == 404


@pytest.mark.parametrize(
    ("evidence", "said"),
    [
        ({"file": "x", "sha256": "0" * 64, "content": "eA=="}, "not that of its digest"),
        ({"file": "x", "sha256": "0" * 64, "content": "no base64!"}, "not base64"),
        ({"note": 5}, "a note, or a file"),
    ],
)
def test_evidence_that_is_none_is_refused(
    office: Flask, ledger_of: Connection, evidence: dict[str, str], said: str
) -> None:
    posted(office, ledger_of, GradeRow("L1", "B"))
    with pytest.raises(OfficeRefusedError, match=said):
        ask(office, GradeRow("L1", "B"), GradeRow("L1", "A"), evidence=evidence)


def test_a_refused_change_leaves_the_grade(office: Flask, ledger_of: Connection) -> None:
    posted(office, ledger_of, GradeRow("L1", "B"))
    ask(office, GradeRow("L1", "B"), GradeRow("L1", "A"))
    ledger_grades.answer_change(ledger_of, "R1", 1, False, "after the deadline", datetime(2026, 12, 20, 9))
    held = client(office).held("R1", "final")
    assert (held.rows, held.changes[0].state) == ([GradeRow("L1", "B")], "refused")


def test_which_changes_are_not_taken(office: Flask, ledger_of: Connection) -> None:
    old = GradeRow("L1", "B")
    with pytest.raises(OfficeRefusedError, match="not posted yet"):
        ask(office, old, GradeRow("L1", "A"))
    posted(office, ledger_of, old)
    with pytest.raises(OfficeRefusedError, match="has B and not what is to be changed"):
        ask(office, GradeRow("L1", "C"), GradeRow("L1", "A"))
    with pytest.raises(OfficeRefusedError, match="needs a reason"):
        ask(office, old, GradeRow("L1", "A"), reason=" ")
    with pytest.raises(OfficeRefusedError, match="F needs the last date"):
        ask(office, old, GradeRow("L1", "F"))
    ask(office, old, GradeRow("L1", "A"))
    with pytest.raises(OfficeRefusedError, match="waits for an answer"):
        ask(office, old, GradeRow("L1", "C"), key=KEY + "8")
    with pytest.raises(OfficeRefusedError, match="another change of grade"):
        ask(office, old, GradeRow("L1", "C"))


def test_an_incomplete_falls_back_on_the_day_after_its_date_once_posted(
    tmp_path: Path, office: Flask, ledger_of: Connection
) -> None:
    left = GradeRow("L1", "I", fallback_grade="C", finish_by="2027-05-01", owed="the report")
    send(office, left)
    assert client(at(tmp_path, date(2027, 5, 2), time(9))).held("R1", "final").rows == [left]
    ledger_grades.post(ledger_of, "R1", "final", datetime(2026, 12, 19, 12))
    assert client(at(tmp_path, date(2027, 5, 1), time(9))).held("R1", "final").rows == [left]
    after = client(at(tmp_path, date(2027, 5, 2), time(9))).held("R1", "final")
    assert after.rows == [GradeRow("L1", "C")]
    assert after.fell_back == [(left, "2027-05-02")]


def test_the_weather(tmp_path: Path, office: Flask, ledger_of: Connection) -> None:
    ledger.set_weather(ledger_of, Weather(down=True))
    with pytest.raises(OfficeDownError, match="503"):
        client(office).sections()
    ledger.set_weather(ledger_of, Weather(refuse_at_random=True))
    rows = [GradeRow(f"N{n}", "A") for n in range(40)]
    for row in rows:
        ledger.enrol(ledger_of, "R1", {**PERSON, "id": row.id})
    receipt = send(office, *rows)
    assert 2 <= receipt.refused <= 20
    assert send(office, *rows) == receipt


def test_a_file_of_grades_is_taken_and_answered(office: Flask, ledger_of: Connection) -> None:
    office.config["WTF_CSRF_ENABLED"] = False
    rows = [GradeRow("L1", "F", "2026-11-02"), GradeRow("L2", "A")]
    layout = client(office).roster("R1").layout
    assert layout is not None
    text = office_file.grade_file(layout, KEY, "R1", {"L1": "Ode, Marit"}, rows)
    browser = office.test_client()
    for _ in range(2):
        browser.post("/sections/R1/runs/final/file", data={"file": (io.BytesIO(text.encode()), "grades.csv")})
    assert len(ledger_grades.received(ledger_of, "R1")) == 1
    answer = browser.get("/sections/R1/sendings/1/answer.csv").data
    receipt = office_file.read_answer(answer, KEY, digest(rows), rows)
    assert reasons(receipt) == {"L1": None, "L2": "A is not for the pass basis"}
    assert receipt == read_receipt(json.loads(ledger_grades.received(ledger_of, "R1")[0]["receipt"]))


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda text: text.replace("Final Grade", "Grade", 1), "the first line must be"),
        (lambda text: text.replace("2026-11-02", "11/02/2026"), "line 2: 11/02/2026 is not a date as YYYY-MM-DD"),
        (lambda text: text.replace("R1,L2", "R7,L2"), "line 3 is for the section R7"),
        (lambda text: text.replace("L2,", "L2"), "line 3 has 9 columns"),
        (lambda text: text.replace(f"{KEY},R1,L2", "another,R1,L2"), "one batch"),
    ],
)
def test_a_file_that_is_not_in_the_layout_is_not_taken(
    office: Flask, ledger_of: Connection, spoil: Any, words: str
) -> None:
    office.config["WTF_CSRF_ENABLED"] = False
    layout = client(office).roster("R1").layout
    assert layout is not None
    rows = [GradeRow("L1", "F", "2026-11-02"), GradeRow("L2", "P")]
    text = spoil(office_file.grade_file(layout, KEY, "R1", {}, rows))
    upload = {"file": (io.BytesIO(text.encode()), "grades.csv")}
    page = office.test_client().post("/sections/R1/runs/final/file", data=upload)
    assert (page.status_code, words in page.text) == (422, True)
    assert ledger_grades.received(ledger_of, "R1") == []


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
        (lambda _: httpx.Response(502), "it answered 502"),
        (lambda _: httpx.Response(200, text="<html>"), "could not be read"),
    ],
)
def test_when_the_office_is_down_the_client_says_how(answer: Any, words: str) -> None:
    with pytest.raises(OfficeDownError, match=words):
        trouble(answer).sections()


def test_its_pages_show_what_is_held_and_post(office: Flask) -> None:
    send(office, GradeRow("L1", "A"))
    office.config["WTF_CSRF_ENABLED"] = False
    browser = office.test_client()
    assert "Larkmoor College" in browser.get("/").text
    assert 'data-grade="L1">A<' in browser.get("/sections/R1").text
    changed = {"id": "L2", "family_name": "Ode", "given_name": "", "status": "withdrawn", "basis": "pass"}
    browser.post("/sections/R1/roster", data=changed)
    assert client(office).roster("R1").records.roster[1].status == "withdrawn"
    browser.post("/sections/R1/runs/final/post")
    assert "Posted Sat, Dec 19, 9:30 AM." in browser.get("/sections/R1").text


def test_the_seal_of_the_history_is_kept_repeated_and_listed(office: Flask) -> None:
    seal = "ab" * 32
    assert client(office).submit("R1", submission(GradeRow("L1", "A"), seal=seal)).history_seal == seal
    send(office, GradeRow("L1", "B"), key=KEY + "2")
    listed = office.test_client().get("/sections/R1/receipts.csv").text.splitlines()
    assert [line.split(",")[0] for line in listed] == ["Receipt", "R-2026-00001", "R-2026-00002"]
    assert listed[1].endswith(f",{seal}")
    assert listed[2].endswith(",")
