"""Runs, the registrar's roster and hours, files, papers, changes of grade, incompletes and archives over the pages."""

import csv
import io
import json
import re
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime, time
from html import escape
from typing import Any

import pytest

from tests.web.conftest import CLOCK, Site
from tests.web.test_steps import type_cell
from vinemark.clock import Clock
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import text_digest
from vinemark.exchange.archive import read_archive
from vinemark.office import ledger, ledger_grades
from vinemark.office.schools import LAKESIDE
from vinemark.section.delivery.courier import Courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.delivery.worker import Worker
from vinemark.section.outcome import Conflict, Done
from vinemark.store import submissions as store
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act


@pytest.fixture
def fibr(site: Site) -> int:
    return site.section("FIBR 120-01")


@pytest.fixture
def posted(site: Site) -> int:
    return site.section("HYDR 410-01")


@contextmanager
def office(site: Site) -> Iterator[Connection]:
    connection = connect(site.folder / "office.sqlite")
    yield connection
    connection.close()


def page(site: Site, section: int, step: str = "submit", **query: str) -> str:
    return site.browser.get(f"/s/{section}/{step}", query_string=query).text


def sign(site: Site, section: int, run: str = "final") -> str:
    """Sign what is ready; the address that sends it."""
    shown = site.browser.post(
        f"/s/{section}/submit/sign?run={run}", data={"reason": "looked at"}, follow_redirects=True
    ).text
    found = re.search(rf'action="(/s/{section}/submit/send/\d+[^"]*)"', shown)
    assert found is not None, re.findall(r"<h2>.*?</h2>", shown)
    return found[1]


def submissions(site: Site, ref: str) -> int:
    with office(site) as connection:
        return len(ledger_grades.received(connection, ref))


# --- runs -------------------------------------------------------------------------------------


def test_midterm_and_final_are_two_runs(site: Site) -> None:
    botn = site.section("BOTN 105-02")
    before = site.course(botn)
    assert (len(before.midterm), len(before.settled)) == (72, 36)
    shown = page(site, botn, "settle", run="midterm")
    assert "72 of 72 settled" in shown
    assert "A midterm grade needs no date" in shown
    assert "36 of 72 settled" in page(site, botn, "settle")
    student = before.students[0].id
    site.browser.post(f"/s/{botn}/settle/student/{student}?run=midterm", data={"grade": "", "key": "m1"})
    after = site.course(botn)
    assert (len(after.midterm), after.settled) == (71, before.settled)


def test_a_midterm_f_is_settled_signed_and_sent_without_a_date(site: Site, fibr: int) -> None:
    with office(site) as connection:
        connection.execute("DELETE FROM posting WHERE section LIKE '%FIBR%' AND run = 'midterm'")
        ledger.set_window(connection, "2026FA", "midterm", "2026-12-01T08:00:00", "2026-12-20T17:00:00")
    site.post(f"/s/{fibr}/submit/update")
    site.browser.post(f"/s/{fibr}/submit/check?run=midterm")
    student = next(s.id for s in site.course(fibr).students if site.course(fibr).midterm[s.id].grade not in ("F", "P"))
    shown = site.browser.post(
        f"/s/{fibr}/settle/student/{student}?run=midterm", data={"grade": "F", "reason": "behind", "key": "m2"}
    ).text
    assert "last attended" not in re.search(rf'<tr id="row-{student}".*?</tr>', shown, re.DOTALL)[0]  # type: ignore[index]
    assert "Sign 1 midterm grades" in page(site, fibr, run="midterm")
    done = site.browser.post(sign(site, fibr, "midterm"), follow_redirects=True).text
    assert "1 accepted, 0 refused" in done
    with office(site) as connection:
        held = {row["id"]: row["code"] for row in ledger_grades.held(connection, "2026FA-FIBR120-01", "midterm")}
        assert ledger_grades.held(connection, "2026FA-FIBR120-01", "final") == []
    assert held[student] == "F"


def test_an_unknown_run_is_not_found(site: Site, fibr: int) -> None:
    assert site.browser.get(f"/s/{fibr}/submit?run=summer").status_code == 404


def test_grades_are_opened_to_students_and_held_back_again_by_undo(site: Site, fibr: int) -> None:
    assert "Students do not see these final grades yet" in page(site, fibr, "settle")
    shown = site.post(f"/s/{fibr}/settle/visible", visible="settled").text
    assert "Students see the final grade that is settled here" in shown
    follows = site.post(f"/s/{fibr}/settle/visible", visible="computed").text
    assert "Students see the computed grade as it follows each score" in follows
    shown = site.post(f"/s/{fibr}/settle/visible", visible="").text
    shown = site.post(f"/s/{fibr}/settle/visible", visible="settled").text
    undo = re.search(rf'action="(/s/{fibr}/history/undo/\d+)"', shown)
    assert undo is not None
    assert "Students do not see these final grades yet" in site.post(undo[1], step="settle").text


# --- the Desk ---------------------------------------------------------------------------------


def test_the_desk_shows_each_run_its_marks_what_is_left_and_by_when(site: Site) -> None:
    shown = site.browser.get("/").text
    due = r"due Mon, Dec 21, 5:00 PM</span><span>2 days left</span>"
    assert re.search(due + r'<a class="next" href="/s/\d+/submit">14 to send', shown)
    assert "36 to settle, 36 to send" in shown
    assert "midterm posted Oct 19" in shown
    assert "1 changed after submitting" in shown
    assert shown.count('class="small-stem"') == 4


def test_withdrawn_students_are_nothing_left_to_do(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    rows = re.findall(r'class="state-(\w+)', page(site, hydr))
    assert rows.count("withdrawn") == 1
    counted = re.search(r"<strong>(\d+)</strong> left to do", page(site, hydr))
    assert counted is not None
    # All rows but the withdrawn one: also the one who is not registered is still to be dealt with.
    assert int(counted[1]) == len(rows) - 1


# --- the registrar's roster ----------------------------------------------------------------------


def edit_roster(site: Site, ref: str, student: str, **changes: str) -> None:
    with office(site) as connection:
        person = next(p for p in ledger.roster(connection, ref) if p["id"] == student)
        ledger.enrol(connection, ref, {**person, **changes})


def test_roster_changes_are_shown_and_followed_in_one_act_with_one_undo(site: Site, fibr: int) -> None:
    ref, before = "2026FA-FIBR120-01", site.course(fibr)
    first, second, third = (s.id for s in before.students[:3])
    edit_roster(site, ref, first, status="withdrawn")
    edit_roster(site, ref, second, basis="letter", family_name="Björk-Ask")
    with office(site) as connection:
        new = {"id": "L09999", "family_name": "Zuber", "given_name": "Ana", "email": None}
        ledger.enrol(connection, ref, {**new, "status": "enrolled", "basis": "letter"})
        connection.execute("DELETE FROM grade WHERE student = ?", (third,))
        connection.execute("DELETE FROM roster WHERE id = ?", (third,))
    shown = site.post(f"/s/{fibr}/submit/update").text
    assert "5 changes since are shown below" in shown
    for words in ("withdrawn", "renamed, was Björk, Emeka", "changed basis, pass to letter", "added", "gone"):
        assert words in shown
    assert "roster: 5 changed" in site.browser.get("/").text
    shown = site.post(f"/s/{fibr}/submit/follow").text
    assert "1 added, 1 renamed, 2 settled grades opened again, 1 set aside" in shown
    after = site.course(fibr)
    assert after.student("L09999") is not None
    assert {first, second} & set(after.settled) == set()
    assert [after.student(s).family_name for s in (second,)] == ["Björk-Ask"]  # type: ignore[union-attr]
    assert (after.student(third) or before.students[0]).set_aside == "no longer on the registrar’s roster"
    assert 'id="roster-news"' not in page(site, fibr)
    undo = re.search(rf'action="(/s/{fibr}/history/undo/\d+)"', shown)
    assert undo is not None
    assert 'id="roster-news"' in site.post(undo[1], step="submit").text
    back = site.course(fibr)
    assert (back.students, back.settled) == (before.students, before.settled)


def test_following_is_not_undone_over_the_head_of_a_new_students_scores(site: Site, fibr: int) -> None:
    with office(site) as connection:
        new = {"id": "L09999", "family_name": "Zuber", "given_name": "Ana", "email": None}
        ledger.enrol(connection, "2026FA-FIBR120-01", {**new, "status": "enrolled", "basis": "letter"})
    site.post(f"/s/{fibr}/submit/update")
    shown = site.post(f"/s/{fibr}/submit/follow").text
    item = next(item.id for _, item in site.course(fibr).plan.items())
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("INSERT INTO score VALUES (?, 'L09999', ?, '1')", (fibr, item))
    connection.close()
    undo = re.search(rf'action="(/s/{fibr}/history/undo/\d+)"', shown)
    assert undo is not None
    assert "has scores or a settled grade by now" in site.post(undo[1], step="submit").text
    assert site.course(fibr).student("L09999") is not None


def test_on_opening_the_office_is_asked_quietly_and_nothing_new_writes_no_history(site: Site, fibr: int) -> None:
    assert f'hx-post="/s/{fibr}/submit/refresh"' in page(site, fibr)
    before = page(site, fibr, "history").count("<tr>")
    site.post(f"/s/{fibr}/submit/refresh", htmx=True)
    assert "refresh" not in page(site, fibr)
    assert page(site, fibr, "history").count("<tr>") == before
    assert "Updated Sat, Dec 19, 10:20 AM" in page(site, fibr)


def test_what_was_just_said_is_not_wiped_away_by_asking_the_office(site: Site, fibr: int) -> None:
    at_time(site, 10, 30)
    shown = site.post(f"/s/{fibr}/submit/sign", reason="looked at").text
    assert "refresh" in shown
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE office_records SET pulled_at = '2026-12-19T09:00:00'")
    connection.close()
    address = re.search(rf'action="(/s/{fibr}/submit/send/\d+)"', shown)
    assert address is not None
    shown = site.post(address[1]).text
    assert "14 accepted" in shown
    assert "refresh" not in shown


def test_when_the_office_is_down_on_opening_the_page_stays_and_says_so(site: Site, fibr: int) -> None:
    site.weather.now = "down"
    shown = site.post(f"/s/{fibr}/submit/refresh", htmx=True).text
    assert "could not be asked again: it could not be reached" in shown
    assert "Sign 14 final grades" in shown


# --- the clock --------------------------------------------------------------------------------


def at_time(site: Site, hour: int, minute: int, day: date = date(2026, 12, 19)) -> None:
    clock = Clock(day, time(hour, minute))
    settings = site.app.extensions["vinemark"]
    object.__setattr__(settings, "clock", clock)
    office_settings: Any = site.weather.office.app
    object.__setattr__(office_settings.extensions["office"], "clock", clock)


def test_what_is_sent_inside_a_transfer_waits_and_goes_out_after_it_by_itself(site: Site, fibr: int) -> None:
    at_time(site, 12, 5)
    shown = page(site, fibr)
    assert "Waits: the registrar’s transfer runs until 12:20 PM" in shown
    assert "It can be signed now and goes out when the registrar takes it" in shown
    shown = site.post(sign(site, fibr)).text
    assert "submitted automatically, Dec 19, 12:20 PM" in shown
    assert "will be submitted automatically at <strong>Sat, Dec 19, 12:20 PM" in shown
    assert submissions(site, "2026FA-FIBR120-01") == 1  # the midterm one
    client = site.app.extensions["vinemark.gateway"].client
    early = Worker(str(site.folder / "vinemark.sqlite"), Clock(date(2026, 12, 19), time(12, 19)), 20, Gateway(client))
    assert early.go_round() == []
    at_time(site, 12, 20)
    later = Worker(str(site.folder / "vinemark.sqlite"), Clock(date(2026, 12, 19), time(12, 20)), 20, Gateway(client))
    assert later.go_round() == [Done("Receipt R-2026-00006: 14 accepted, 0 refused.")]
    assert later.go_round() == []
    assert "Everything is received" in page(site, fibr)


def test_the_postman_brings_the_news_that_the_office_posted_and_what_fell_back(site: Site, fibr: int) -> None:
    site.post(sign(site, fibr))
    with office(site) as connection:
        ledger_grades.post(connection, "2026FA-FIBR120-01", "final", datetime(2026, 12, 19, 11))

    def go_round(now: datetime) -> None:
        client = site.app.extensions["vinemark.gateway"].client
        Worker(str(site.folder / "vinemark.sqlite"), Clock(now.date(), now.time()), 20, Gateway(client)).go_round()

    go_round(datetime(2026, 12, 19, 10, 21))
    assert "Not posted" in page(site, fibr)
    go_round(datetime(2026, 12, 19, 10, 31))
    assert "Posted</strong> Sat, Dec 19, 11:00 AM" in page(site, fibr)
    posted = site.section("HYDR 410-01")
    at_time(site, 9, 0, date(2027, 5, 2))
    assert "the registrar still has I" in page(site, posted, "after")
    go_round(datetime(2027, 5, 2, 9, 0))
    assert "the registrar let it fall back to <strong>C</strong>" in page(site, posted, "after")


def test_a_transfer_that_was_set_since_the_last_pull_makes_it_wait_too(site: Site, fibr: int) -> None:
    address = sign(site, fibr)
    with office(site) as connection:
        school = ledger.school(connection)
        arrangements = {**school["arrangements"], "transfers": [["10:00", "10:45"]]}
        ledger.set_school(connection, {**school, "arrangements": arrangements})
    assert "submitted automatically, Dec 19, 10:45 AM" in site.post(address).text


def test_after_closing_nothing_can_be_signed_and_the_page_says_why(site: Site, fibr: int) -> None:
    at_time(site, 17, 1, date(2026, 12, 21))
    shown = page(site, fibr)
    assert "It is too late to submit" in shown
    assert "The final run closed Dec 21, 5:00 PM. 14 grades did not reach the registrar" in shown
    assert "nothing to sign" in site.post(f"/s/{fibr}/submit/sign", reason="looked at").text


def test_two_windows_sign_once(site: Site, fibr: int) -> None:
    first = sign(site, fibr)
    assert "nothing to sign" in site.post(f"/s/{fibr}/submit/sign", reason="looked at").text
    site.post(first)
    assert "nothing to sign" in site.post(f"/s/{fibr}/submit/sign", reason="looked at").text
    assert submissions(site, "2026FA-FIBR120-01") == 2


def test_what_waits_for_a_transfer_can_still_be_taken_back(site: Site, fibr: int) -> None:
    at_time(site, 12, 5)
    address = sign(site, fibr)
    assert "Withdraw the signature" in site.post(address).text
    assert "Sign 14 final grades" in site.post(address.replace("/send/", "/withdraw/")).text
    assert site.post(address).status_code == 404
    assert submissions(site, "2026FA-FIBR120-01") == 1


def test_a_sending_whose_signature_was_taken_back_in_another_window_does_not_go_out(site: Site, fibr: int) -> None:
    """Both windows had looked before either wrote."""
    address = sign(site, fibr)
    connection = connect(site.folder / "vinemark.sqlite")
    number = int(address.rsplit("/", 1)[1])
    seen = store.submission_of(connection, fibr, number)
    assert seen is not None
    act = Act(1, CLOCK.now(), fibr)
    store.write_withdrawal(connection, act, number)
    client = site.app.extensions["vinemark.gateway"].client
    outcome = Courier(connection, Gateway(client), act, "2026FA-FIBR120-01").deliver(seen)
    connection.close()
    assert isinstance(outcome, Conflict | Done)
    assert "withdrawn in another window" in outcome.text
    assert submissions(site, "2026FA-FIBR120-01") == 1


def test_signing_freezes_the_course_and_the_findings_under_one_digest(site: Site, fibr: int) -> None:
    sign(site, fibr)
    connection = connect(site.folder / "vinemark.sqlite")
    row = connection.execute("SELECT * FROM signing WHERE section_id = ? AND run = 'final'", (fibr,)).fetchone()
    connection.close()
    frozen, found = json.loads(row["course"]), json.loads(row["findings"])
    assert len(frozen["settled"]) == 14
    assert found["format"] == "vine-mark-findings/1"
    assert text_digest(row["course"] + row["findings"]) == row["course_digest"]


# --- papers and files -------------------------------------------------------------------------


def test_the_proof_sheet_as_page_pdf_table_and_column(site: Site, fibr: int) -> None:
    records = site.course(fibr).records
    assert records is not None
    ids = [entry.id for entry in records.roster]
    rows = list(csv.DictReader(io.StringIO(site.browser.get(f"/s/{fibr}/submit/proof.csv").text)))
    assert [row["id"] for row in rows] == ids
    failed = next(row for row in rows if row["settled"] == "F")
    assert failed["beside"].startswith("last attended 2026-")
    pdf = site.browser.get(f"/s/{fibr}/submit/proof?pdf=1")
    assert (pdf.mimetype, pdf.data[:5]) == ("application/pdf", b"%PDF-")
    column = re.search(r'<pre id="code-column"[^>]*>(.*?)</pre>', page(site, fibr, "submit/codes"), re.DOTALL)
    assert column is not None
    assert column[1].split("\n") == [row["settled"] for row in rows]


def test_the_receipt_as_the_office_gave_it_and_the_comparison_as_a_table(site: Site, fibr: int) -> None:
    shown = site.post(sign(site, fibr)).text
    address = re.search(rf"/s/{fibr}/submit/receipt/\d+", shown)
    assert address is not None
    kept = json.loads(site.browser.get(f"{address[0]}?json=1").text)
    assert (kept["accepted"], len(kept["rows"])) == (14, 14)
    rows = list(csv.DictReader(io.StringIO(site.browser.get(f"/s/{fibr}/submit/comparison.csv").text)))
    assert {row["agrees"] for row in rows} == {"yes"}
    with office(site) as connection:
        connection.execute("UPDATE grade SET code = 'A-' WHERE run = 'final' AND student = ?", (rows[0]["id"],))
    assert "13 of 14 lines agree" in site.post(f"/s/{fibr}/submit/check").text
    rows = list(csv.DictReader(io.StringIO(site.browser.get(f"/s/{fibr}/submit/comparison.csv").text)))
    assert [(row["agrees"], row["sent_code"], row["held_code"]) for row in rows if row["agrees"] == "no"] == [
        ("no", "D", "A-")
    ]


def test_the_file_way_and_the_same_key_over_the_connection(site: Site, fibr: int) -> None:
    out = sign(site, fibr).replace("/send/", "/file/")
    file = site.browser.post(out, data={"key": "f1"})
    assert file.headers["Content-Disposition"].endswith('-2026-12-19.csv"')
    shown = page(site, fibr)
    assert "Downloaded as a file" in shown
    assert "Withdraw the signature" not in shown
    registrar: Any = site.weather.office.app
    registrar.config["WTF_CSRF_ENABLED"] = False
    desk = registrar.test_client()
    desk.post("/sections/2026FA-FIBR120-01/runs/final/file", data={"file": (io.BytesIO(file.data), "g.csv")})
    answer = desk.get("/sections/2026FA-FIBR120-01/sendings/6/answer.csv").data
    wrong = answer.replace(b"taken", b"maybe", 1)
    take = out.replace("/file/", "/answer/")
    refused = site.browser.post(take, data={"answer": (io.BytesIO(wrong), "a.csv"), "key": "a1"})
    assert refused.status_code == 422
    assert "Line 2: has the result maybe and not taken or refused. Nothing was imported." in refused.text
    none = site.browser.post(take, data={"key": "a2"})
    assert "choose the registrar’s answer file" in none.text
    done = site.browser.post(take, data={"answer": (io.BytesIO(answer), "a.csv"), "key": "a3"}, follow_redirects=True)
    assert "Receipt R-2026-00006: 14 accepted, 0 refused" in done.text
    assert "by file" in done.text
    site.post(out.replace("/file/", "/send/"))
    assert submissions(site, "2026FA-FIBR120-01") == 2


# --- after ------------------------------------------------------------------------------------


def ask(site: Site, section: int, student: str, **form: Any) -> str:
    shown: str = site.browser.post(f"/s/{section}/after/changes/{student}", data=form, follow_redirects=True).text
    return shown


def drifting(site: Site, section: int) -> str:
    """The demo's student whose settled grade was changed after posting."""
    found = re.search(rf"/s/{section}/after\?student=(L\d+)", page(site, section, "after"))
    assert found is not None
    return found[1]


def test_a_drift_raises_the_alarm_and_leads_to_a_change_that_is_granted(site: Site, posted: int) -> None:
    words = "1 settled grade changed since Dec 18; the registrar still has the old one."
    assert words in page(site, posted)
    assert words in page(site, posted, "after")
    student = drifting(site, posted)
    form = page(site, posted, "after", student=student)
    assert 'value="a late paper was taken in"' in form
    grade = site.course(posted).settled[student].grade
    shown = ask(site, posted, student, grade=grade, why="a late paper was taken in", evidence_note="mail of 17 Dec",
                evidence=(io.BytesIO(b"the paper"), "../paper.txt"), key="c1")  # fmt: skip
    assert "Asked for as C-2026-00002" in shown
    assert "awaits an answer" in shown
    assert words not in shown
    with office(site) as connection:
        ledger_grades.answer_change(connection, "2026FA-HYDR410-01", 2, True, "on file", datetime(2026, 12, 20, 9))
    shown = site.post(f"/s/{posted}/after/check").text
    assert "“on file”" in shown
    assert re.search(rf"the registrar has {grade}, read", shown)
    assert "changed after submitting" not in page(site, posted)
    kept = re.findall(rf"/s/{posted}/after/changes/evidence/\d+", shown)
    file = site.browser.get(kept[0])
    assert (file.data, file.mimetype) == (b"the paper", "application/octet-stream")
    assert 'filename=".._paper.txt"' in file.headers["Content-Disposition"]


def test_a_refused_change_is_kept_with_its_word_and_the_alarm_comes_back(site: Site, posted: int) -> None:
    student = drifting(site, posted)
    ask(site, posted, student, grade=site.course(posted).settled[student].grade, why="late paper", key="c1")
    with office(site) as connection:
        ledger_grades.answer_change(connection, "2026FA-HYDR410-01", 2, False, "too late", datetime(2026, 12, 20, 9))
    shown = site.post(f"/s/{posted}/after/check").text
    assert "“too late”" in shown
    assert "the registrar still has the old one" in shown


def test_a_change_that_cannot_be_asked_keeps_what_was_typed_and_sends_nothing(site: Site, posted: int) -> None:
    student = site.course(posted).students[0].id
    shown = ask(site, posted, student, grade="F", why="stopped coming", key="c1")
    assert "F needs the last date of attendance. Nothing was sent." in shown
    assert 'value="stopped coming"' in shown
    assert "type the new grade" in ask(site, posted, student, grade=" ", why="x", key="c2")
    with office(site) as connection:
        assert len(ledger_grades.changes(connection, "2026FA-HYDR410-01")) == 1


def test_a_lost_answer_to_a_change_is_asked_again_under_one_key(site: Site, posted: int) -> None:
    student = drifting(site, posted)
    grade = site.course(posted).settled[student].grade
    site.weather.now = "lost"
    shown = ask(site, posted, student, grade=grade, why="late paper", key="c1")
    assert "did not confirm" in shown
    site.weather.now = "fine"
    again = re.search(rf'action="(/s/{posted}/after/changes/again/\d+)"', shown)
    assert again is not None
    assert "Asked for as C-2026-00002" in site.post(again[1]).text
    site.post(again[1])
    with office(site) as connection:
        assert len(ledger_grades.changes(connection, "2026FA-HYDR410-01")) == 2
    assert "on its way already" in ask(site, posted, student, grade="C", why="again", key="c9")


def test_before_posting_there_is_no_change_of_grade(site: Site, fibr: int) -> None:
    assert "Until the registrar posts" in page(site, fibr, "after")
    student = site.course(fibr).students[0].id
    assert "has not posted yet" in ask(site, fibr, student, grade="A", why="x", key="c1")


def test_the_diary_leads_from_an_incomplete_into_a_change_of_grade(site: Site, posted: int) -> None:
    shown = page(site, posted, "after")
    assert "the well log report and its figures" in shown
    assert "133 days" in shown
    student = next(s for s, settled in site.course(posted).settled.items() if settled.grade == "I")
    ask(site, posted, student, grade="B", why="the report came", key="c1")
    assert "a change of grade is on its way" in page(site, posted, "after")
    with office(site) as connection:
        ledger_grades.answer_change(connection, "2026FA-HYDR410-01", 2, True, "", datetime(2026, 12, 20, 9))
    shown = site.post(f"/s/{posted}/after/check").text
    assert "finished</span>, now B" in shown
    assert site.course(posted).settled[student] == Settled("B", "the report came")


def test_at_its_date_the_office_applies_the_fallback_and_the_diary_shows_it(site: Site, posted: int) -> None:
    student = next(s for s, settled in site.course(posted).settled.items() if settled.grade == "I")
    at_time(site, 9, 0, date(2027, 5, 2))
    assert "its date is past; the registrar still has I" in page(site, posted, "after")
    shown = site.post(f"/s/{posted}/after/check").text
    assert "the registrar let it fall back to <strong>C</strong>" in shown
    assert f"student={student}" in shown
    assert "2 settled grades changed" not in shown


def test_a_moved_sheet_is_said_on_settle_and_raises_no_alarm(site: Site, fibr: int) -> None:
    site.post(sign(site, fibr))
    course = site.course(fibr)
    student = next(s for s in course.students if course.settled[s.id].grade == "D")
    for _, item in course.plan.items():
        type_cell(site, fibr, student.id, item.id, str(item.points))
    shown = page(site, fibr, "settle")
    assert 'id="moved"' in shown
    assert "Scores changed after you signed; the settled grade did not" in shown
    assert "changed after submitting" not in page(site, fibr)


# --- the other school -------------------------------------------------------------------------


def test_the_second_schools_rules_are_followed_once_they_are_pulled(site: Site, fibr: int) -> None:
    with office(site) as connection:
        ledger.set_school(connection, LAKESIDE)
    shown = site.post(f"/s/{fibr}/submit/update").text
    assert "the code X is new" in shown
    shown = site.post(f"/s/{fibr}/submit/follow").text
    assert "Roster changes applied" in shown
    records = site.course(fibr).records
    assert records is not None
    assert (records.never_attended, records.incomplete_fallback) == ("zero_hours", "F")
    student = next(s for s in site.course(fibr).students if records.entry(s.id).basis == "letter")  # type: ignore[union-attr]
    form = {"grade": "X", "reason": "never came", "never_attended": "1", "key": "x1"}
    assert "as zero hours" in site.browser.post(f"/s/{fibr}/settle/student/{student.id}", data=form).text


# --- archives ---------------------------------------------------------------------------------


def take_archive(site: Site, section: int) -> bytes:
    return bytes(site.browser.post(f"/s/{section}/after/archive", data={"key": "z1"}).data)


def test_an_archive_holds_everything_and_is_looked_at_again(site: Site, posted: int) -> None:
    data = take_archive(site, posted)
    found = read_archive(data)
    assert found.course == site.course(posted)
    assert [s["run"] for s in found.archive.submissions] == ["midterm", "final"]
    assert "archive downloaded, SHA-256" in page(site, posted, "history")
    made = site.browser.post(
        "/sections/new", data={"file": (io.BytesIO(data), "a.zip"), "key": "i1"}, follow_redirects=True
    )
    assert "for reading: all checksums agree" in made.text
    section = int(re.search(r"/s/(\d+)/", made.request.path)[1])  # type: ignore[index]
    assert section != posted
    assert site.course(section).settled == site.course(posted).settled
    shown = page(site, section)
    assert "R-2026-00005" in shown
    assert "9 of 9 lines agree" in shown
    assert "on file" in page(site, section, "after")
    assert "granted: on file" in page(site, section, "history")
    assert site.post(f"/s/{section}/submit/update").status_code == 403
    assert site.post(f"/s/{section}/after/changes/{site.course(section).students[0].id}", grade="A").status_code == 403
    assert "archive, read only" in site.browser.get("/").text
    again = read_archive(take_archive(site, section))
    assert again.archive.submissions == found.archive.submissions
    assert again.archive.changes == found.archive.changes


def repacked(data: bytes, change: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, change.get(name, old.read(name)))
    return out.getvalue()


def test_archive_and_evidence_are_not_for_graders(site: Site, posted: int) -> None:
    student = drifting(site, posted)
    grade = site.course(posted).settled[student].grade
    ask(site, posted, student, grade=grade, why="late", evidence=(io.BytesIO(b"x"), "x.txt"), key="c1")
    kept = re.findall(rf"/s/{posted}/after/changes/evidence/\d+", page(site, posted, "after"))
    assert site.browser.get(kept[0]).status_code == 200
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE section_person SET role = 'grader' WHERE section_id = ?", (posted,))
    connection.close()
    assert site.browser.get(kept[0]).status_code == 403
    assert site.browser.post(f"/s/{posted}/after/archive", data={"key": "z"}).status_code == 403
    assert "Download the archive" not in page(site, posted, "after")


def test_a_changed_archive_is_refused_with_the_place(site: Site, posted: int) -> None:
    data = take_archive(site, posted)
    spoilt = repacked(data, {"receipts/2.json": b"{}"})
    shown = site.browser.post("/sections/new", data={"file": (io.BytesIO(spoilt), "a.zip"), "key": "i1"})
    assert shown.status_code == 422
    assert "receipts/2.json: was changed: its checksum is not the manifest" in shown.text
    assert CLOCK.today() == date(2026, 12, 19)


@pytest.mark.parametrize("damage", ["{", '{"number": 7}', "[]", '{"number": "R-1", "rows": [{}]}'])
def test_a_damaged_receipt_is_shown_as_what_it_is_and_mended_from_the_page(site: Site, fibr: int, damage: str) -> None:
    site.post(sign(site, fibr))
    assert "Everything is received" in page(site, fibr)
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE sending SET receipt = ? WHERE id = (SELECT max(id) FROM sending)", (damage,))
    connection.close()
    site.app.extensions["vinemark.snapshots"].__init__()
    assert "FIBR 120-01" in site.browser.get("/").text
    shown = page(site, fibr)
    assert "the receipt that was saved cannot be read" in shown
    assert "Everything is received" not in shown
    again = re.search(r'action="([^"]*/submit/send/\d+)[^"]*"', shown)
    assert again
    site.post(again[1])
    assert "Everything is received" in page(site, fibr)


def test_a_grade_edited_after_posting_says_what_the_registrar_still_has(site: Site, fibr: int) -> None:
    site.post(sign(site, fibr))
    with office(site) as connection:
        ledger_grades.post(connection, "2026FA-FIBR120-01", "final", datetime(2026, 12, 19, 11))
    site.post(f"/s/{fibr}/submit/check")
    course = site.course(fibr)
    student, settled = next((s, g) for s, g in course.settled.items() if g.grade == "C")
    typed = {"grade": "D", "reason": "a sum was wrong"}
    answer = site.post(f"/s/{fibr}/settle/student/{student}", htmx=True, **typed)
    assert f"The registrar still has <strong>{settled.grade}</strong>." in answer.text


def test_the_grade_records_of_a_whole_section_stand_one_after_the_other(site: Site) -> None:
    botn = site.section("BOTN 105-02")
    page = site.browser.get(f"/s/{botn}/papers/records").text
    names = [student.name for student in site.course(botn).students if student.set_aside is None]
    assert re.findall(r"<h1>Grade record: (.*?) <", page) == [escape(name) for name in names]
    assert page.count("What the syllabus said") == len(names)
    assert f'href="/s/{botn}/papers/records"' in site.browser.get(f"/s/{botn}/after").text
    one = site.course(botn).students[0]
    assert f'href="/s/{botn}/scores#row-{one.id}"' in site.browser.get(f"/s/{botn}/papers/record/{one.id}").text
    assert site.browser.get(f"/s/{botn}/papers/record/nobody").status_code == 404


def test_a_receipt_stands_in_the_rosters_order_with_all_that_was_sent(site: Site) -> None:
    hydr = site.section("HYDR 410-01")
    connection = connect(site.folder / "vinemark.sqlite")
    sent = connection.execute("SELECT max(d.id) AS id FROM sending d JOIN signing g ON g.id = d.signing_id"
                              " WHERE g.section_id = ?", (hydr,)).fetchone()["id"]  # fmt: skip
    connection.close()
    page = site.browser.get(f"/s/{hydr}/submit/receipt/{sent}").text
    records = site.course(hydr).records
    assert records is not None
    assert re.findall(r"<td>(L\d+)</td>", page) == [entry.id for entry in records.roster]
    assert "falls back to C, by May 1, 2027, owes the well log report and its figures" in page
    assert "Dec 18, 2026, 4:20 PM" in page
