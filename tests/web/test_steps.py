"""Each step of the work over HTTP: what is kept, what is refused, what can be undone."""

import io
import re
from datetime import date
from fractions import Fraction
from typing import Any

import pytest

from tests.conftest import CASES
from tests.web.conftest import CLOCK, Site
from vinemark.core.audit import audit
from vinemark.core.course.course import Settled
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.scores.last_work import last_work
from vinemark.core.settle.same_place import same_place
from vinemark.exchange import course_file
from vinemark.exchange.archive import read_archive
from vinemark.exchange.archive_values import refuse_broken
from vinemark.store.database import connect
from vinemark.web.exports.views import EXPORTS


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


@pytest.fixture
def fibr(site: Site) -> int:
    return site.section("FIBR 120-01")


def undo_address(page: str) -> str:
    found = re.search(r'action="(/s/\d+/history/undo/\d+)"', page)
    assert found is not None
    return found[1]


def codes(page: str) -> set[str]:
    return set(re.findall(r'data-code="([a-z-]+)"', page))


# --- the Desk ---------------------------------------------------------------------------------


def test_the_desk_shows_where_each_section_stands(site: Site) -> None:
    page = site.browser.get("/").text
    for text in ("HYDR 230-01", "95 of 100", "FIBR 120-01", "14 of 14", "Posted", "due Mon, Dec 21, 5:00 PM"):
        assert text in page


NEW = {"course": "MOSS 101", "number": "01", "title": "Mosses", "term": "Fall 2026", "starts": "2026-08-31"}


def test_a_section_from_a_class_list_is_made_once_for_one_key(site: Site) -> None:
    def make() -> str:
        file = (io.BytesIO("Id;Surname\n1;Åberg\n".encode("cp1252")), "list.csv")
        form = {**NEW, "ends": "2026-12-18", "file": file, "key": "k1"}
        return site.browser.post("/sections/new", data=form, follow_redirects=True).text

    assert "MOSS 101-01" in make()
    make()
    assert site.browser.get("/").text.count("MOSS 101-01</a>") == 1


def test_a_wrong_class_list_says_everything_and_keeps_what_was_typed(site: Site) -> None:
    file = (io.BytesIO(b"id,last\n1,Ode\n1,Pell\n"), "list.csv")
    form = {**NEW, "course": "", "ends": "2026-08-01", "file": file}
    answer = site.browser.post("/sections/new", data=form)
    assert answer.status_code == 422
    for text in ("Type a name.", "must end after it starts", "is in row 2 already", 'value="Mosses"'):
        assert text in answer.text
    assert "MOSS" not in site.browser.get("/").text


def test_a_section_is_pulled_from_the_office(site: Site) -> None:
    ref = "2026FA-HYDR331-01"
    assert ref in site.browser.get("/sections/new").text
    site.post("/sections/registrar", ref=ref)
    assert len(site.course(site.section("HYDR 331-01")).students) == 12
    assert ref not in site.browser.get("/sections/new").text


def test_with_the_office_down_a_section_can_still_be_made(site: Site) -> None:
    site.weather.now = "down"
    assert "did not answer" in site.browser.get("/sections/new").text
    assert site.post("/sections/registrar", ref="x").status_code == 503


@pytest.mark.parametrize("name", sorted(path.name for path in CASES.glob("*.course.json")))
def test_a_course_file_comes_in_and_goes_out_without_loss(site: Site, name: str) -> None:
    data = (CASES / name).read_bytes()
    file = (io.BytesIO(data), name)
    page = site.browser.post("/sections/new", data={"file": file}, follow_redirects=True)
    section = re.search(r"/s/(\d+)/files/course", page.text)
    assert section is not None
    out = site.browser.get(section[0])
    assert "attachment" in out.headers["Content-Disposition"]
    assert course_file.course_of_text(out.text) == course_file.read_bytes(data)


def test_a_section_begun_with_nothing_but_a_name_goes_out_in_every_way(site: Site) -> None:
    made = site.browser.post("/sections/new", data={"course": "GEOL 1"}).headers["Location"]
    section = re.search(r"/s/(\d+)/", made)
    assert section is not None
    for name in EXPORTS:
        assert site.browser.get(f"{section[0]}files/{name}", follow_redirects=True).status_code == 200, name
    archive = site.browser.post(f"{section[0]}after/archive", data={"key": "z"}).data
    refuse_broken(read_archive(archive).archive, read_archive(archive).course)
    for key in ("course", "oneroster"):
        out = site.browser.get(f"{section[0]}files/{key}").data
        again = site.browser.post("/sections/new", data={"file": (io.BytesIO(out), "x")})
        assert (again.status_code, key) == (302, key)
    gone = site.browser.post(f"{section[0]}delete", data={"name": "GEOL 1", "key": "d"})
    assert gone.status_code == 302


def test_a_demo_section_goes_out_and_comes_in_again(site: Site, fibr: int) -> None:
    out = site.browser.get(f"/s/{fibr}/files/course").data
    site.browser.post("/sections/new", data={"file": (io.BytesIO(out), "x.json")})
    again = max(int(n) for n in re.findall(r'href="/s/(\d+)/plan"', site.browser.get("/").text))
    assert again != fibr
    assert site.course(again) == site.course(fibr)


def test_a_wrong_course_file_names_the_place(site: Site) -> None:
    answer = site.browser.post("/sections/new", data={"file": (io.BytesIO(b'{"format": 1}'), "x.json")})
    assert (answer.status_code, "format: must be a text" in answer.text) == (422, True)
    assert site.browser.post("/sections/new").status_code == 422


# --- Plan -------------------------------------------------------------------------------------


def test_a_weight_is_kept_and_the_ribbon_follows(site: Site, hydr: int) -> None:
    preview = site.post(f"/s/{hydr}/plan/ribbon", htmx=True, **{"weight-c5": "30"}).text
    assert "100 of 100" in preview
    assert site.course(hydr).plan.categories[4].weight == 25
    page = site.post(f"/s/{hydr}/plan/weight", htmx=True, category="c5", **{"weight-c5": "30"}).text
    assert "100 of 100" in page
    assert site.course(hydr).plan.categories[4].weight == 25
    page = put_in_force(site, hydr)
    assert site.course(hydr).plan.categories[4].weight == 30
    site.browser.post(undo_address(page), data={"step": "plan"})
    assert site.course(hydr).plan.categories[4].weight == 25


def test_a_refused_weight_keeps_what_was_typed_and_changes_nothing(site: Site, hydr: int) -> None:
    answer = site.post(f"/s/{hydr}/plan/weight", htmx=True, category="c5", **{"weight-c5": "thirty"})
    assert answer.status_code == 422
    assert 'value="thirty"' in answer.text
    assert "must be a number" in answer.text
    assert site.course(hydr).plan.categories[4].weight == 25


@pytest.mark.parametrize(
    ("action", "form"),
    [
        ("rename-category", {"category": "c1", "name": "Notebooks"}),
        ("rule", {"category": "c1", "rule": "blanks", "value": "zero"}),
        ("rule", {"category": "c1", "rule": "split", "value": "own_shares"}),
        ("rule", {"category": "c1", "rule": "drops", "value": "best 4"}),
        ("rule", {"category": "c1", "rule": "ceiling", "value": "100"}),
        ("rule", {"category": "c1", "rule": "extra", "value": "yes"}),
        ("ceiling", {"value": "104"}),
        ("change-item", {"item": "n1", "name": "Notebook 1", "points": "20", "planned": "1"}),
        ("move-category", {"category": "c1", "by": "1"}),
        ("delete-category", {"category": "c1"}),
        ("add-item", {"category": "c1", "name": "Notebook 7", "points": "20", "due": "2026-12-11"}),
        ("change-item", {"item": "n1", "name": "First", "points": "25", "due": ""}),
        ("move-item", {"item": "n1", "by": "1"}),
        ("file-item", {"item": "n1", "category": "c2"}),
        ("delete-item", {"item": "n1"}),
        ("basis", {"basis": "points"}),
        ("rounding", {"decimals": "1", "letter_uses": "exact"}),
        ("scale", {"letter-0": "P", "from-0": "50", "letter-1": "N", "from-1": "0"}),
        ("paste-scale", {"pasted": "A 91-100, B 81-90, C 71-80, F 0-70"}),
        ("add-category", {"name": "Clean-up days", "weight": "5"}),
    ],
)
def test_every_edit_is_kept_and_can_be_undone(site: Site, hydr: int, action: str, form: dict[str, str]) -> None:
    before = site.course(hydr)
    page = site.post(f"/s/{hydr}/plan/{action}", htmx=True, **form)
    assert page.status_code == 200
    text = page.text
    if "Preview</strong>" in text:
        assert site.course(hydr) == before
        text = put_in_force(site, hydr)
    assert site.course(hydr).plan != before.plan
    site.browser.post(undo_address(text), data={"step": "plan"})
    assert site.course(hydr) == before


def put_in_force(site: Site, section: int) -> str:
    return site.post(f"/s/{section}/plan/apply", reason="the syllabus says so").text


def test_a_pasted_scale_that_is_not_understood_is_kept_and_said(site: Site, hydr: int) -> None:
    answer = site.post(f"/s/{hydr}/plan/paste-scale", htmx=True, pasted="A is for effort")
    assert (answer.status_code, "not understood: “A is for effort”" in answer.text) == (422, True)
    assert ">A is for effort</textarea>" in answer.text


@pytest.mark.parametrize(
    ("typed", "said"),
    [("89.995", "rounded 90,</span>"), ("89.99", "<strong>B+</strong>"), ("x", "must be a number"), ("", "")],
)
def test_a_percent_can_be_tried(site: Site, hydr: int, typed: str, said: str) -> None:
    page = site.browser.get(f"/s/{hydr}/plan/try", query_string={"percent": typed}).text
    assert said.replace("</span>", "") in page
    assert ("<strong>A−</strong>" in page) == (typed == "89.995")


def test_versions_are_compared_and_an_older_one_brought_back_through_a_rehearsal(site: Site, hydr: int) -> None:
    first = site.course(hydr)
    site.post(f"/s/{hydr}/plan/rename-category", htmx=True, category="c1", name="Notebooks")
    site.post(f"/s/{hydr}/plan/weight", htmx=True, category="c5", **{"weight-c5": "30"})
    put_in_force(site, hydr)
    page = site.browser.get(f"/s/{hydr}/plan/versions", query_string={"first": "1", "second": "3"}).text
    for text in (
        "Survey report (25%)",
        "Survey report (30%)",
        "applied: the syllabus says so",
        "version 3 is the one that counts",
    ):
        assert text in page
    assert "Lab practicals (25%)" not in page.split('id="margin"')[0]
    assert "say the same" in site.browser.get(f"/s/{hydr}/plan/versions?first=2&second=2").text
    page = site.post(f"/s/{hydr}/plan/bring-back", version="1").text
    assert "Version 1 is in preview" in page
    assert site.course(hydr).plan != first.plan
    put_in_force(site, hydr)
    assert site.course(hydr) == first


def test_what_touches_nobodys_grade_is_in_force_at_once(site: Site, hydr: int) -> None:
    page = site.post(f"/s/{hydr}/plan/rename-category", htmx=True, category="c1", name="Notebooks").text
    assert "Preview</strong>" not in page
    assert site.course(hydr).plan.categories[0].name == "Notebooks"


def test_several_changes_are_rehearsed_together_and_nothing_leaks(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    looks = re.search(r"\d+ to check", site.browser.get(f"/s/{hydr}/audit").text)
    assert looks
    site.post(f"/s/{hydr}/plan/rule", htmx=True, category="c2", rule="blanks", value="zero")
    page = site.post(f"/s/{hydr}/plan/rename-category", htmx=True, category="c2", name="Maps").text
    assert "0 gain, 3 lose. Letters: 0 up, 0 down." in page
    assert site.course(hydr) == before
    assert looks[0] in site.browser.get(f"/s/{hydr}/audit").text
    site.browser.post(undo_address(page), data={"step": "plan"})
    assert 'value="Map quizzes"' in site.browser.get(f"/s/{hydr}/plan").text
    refused = site.post(f"/s/{hydr}/plan/apply", reason=" ")
    assert (refused.status_code, "type a reason" in refused.text) == (422, True)
    put_in_force(site, hydr)
    assert site.course(hydr).plan.categories[1].blanks == "zero"


def test_a_dropped_rehearsal_changes_nothing_and_can_be_taken_up_again(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    site.post(f"/s/{hydr}/plan/basis", htmx=True, basis="points")
    page = site.post(f"/s/{hydr}/plan/discard").text
    assert "Preview</strong>" not in page
    assert site.course(hydr) == before
    page = site.post(undo_address(page), step="plan").text
    assert "Preview</strong>" in page


def test_a_rehearsal_of_a_plan_that_changed_since_is_not_put_in_force(site: Site, hydr: int) -> None:
    site.post(f"/s/{hydr}/plan/rename-category", htmx=True, category="c1", name="Notebooks")
    undo = undo_address(site.browser.get(f"/s/{hydr}/history").text)
    site.post(f"/s/{hydr}/plan/basis", htmx=True, basis="points")
    site.post(undo, step="history")
    assert "was changed since" in put_in_force(site, hydr)
    assert site.course(hydr).plan.basis == "weighted"


def test_an_unknown_edit_is_refused(site: Site, hydr: int) -> None:
    assert site.post(f"/s/{hydr}/plan/explode", htmx=True).status_code == 422


# --- Scores -----------------------------------------------------------------------------------


def type_cell(site: Site, section: int, student: str, item: str, typed: str, key: str = "") -> tuple[int, Any]:
    sent = {"cells": [{"student": student, "item": item, "typed": typed}], "key": key or f"{student}{item}{typed}"}
    answer = site.browser.post(f"/s/{section}/scores/cells", json=sent)
    return answer.status_code, answer.get_json()


def test_a_cell_is_kept_and_answers_with_the_students_row(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[0]
    status, answer = type_cell(site, hydr, student.id, "q1", "9,5")
    assert status == 200
    assert f'id="cell-{student.id}-q1"' in answer["rows"][student.id]
    assert site.course(hydr).cell(student.id, "q1") == Fraction("9.5")


def test_a_refused_cell_says_why_and_changes_nothing(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[0]
    before = site.course(hydr)
    for typed, reason in (("abc", "must be a number"), ("-1", "must not be negative")):
        status, answer = type_cell(site, hydr, student.id, "q1", typed)
        assert (status, reason in answer["refused"][0]["reason"]) == (200, True)
    assert "no longer in the section" in type_cell(site, hydr, "nobody", "q1", "1")[1]["refused"][0]["reason"]
    assert site.course(hydr) == before


def test_a_cell_sent_again_does_not_undo_what_came_after(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[0].id
    type_cell(site, hydr, student, "q1", "5", "k1")
    type_cell(site, hydr, student, "q1", "6", "k2")
    assert type_cell(site, hydr, student, "q1", "5", "k1")[0] == 200
    assert site.course(hydr).cell(student, "q1") == 6


def test_the_working_of_a_student(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[2]
    page = site.browser.get(f"/s/{hydr}/scores/working/{student.id}").text
    for text in (student.name, "How it was worked out", "Blanks as 0", "Map quizzes", "dropped"):
        assert text in page


# --- Audit ------------------------------------------------------------------------------------


def test_the_demos_mistakes_are_found_and_lead_to_their_place(site: Site, hydr: int) -> None:
    page = site.browser.get(f"/s/{hydr}/audit").text
    assert codes(page) == {
        "weights-off", "slipped-key", "blank-waits", "not-enrolled", "not-in-section", "plan-differs",
        "near-cutoff", "stopped", "no-work", "twin", "name-differs", "column-same",
    }  # fmt: skip
    assert re.search(rf'href="/s/{hydr}/scores#cell-L\d+-q4"', page)
    assert page.count('class="strip-dot') == len(site.course(hydr).enrolled())


def test_the_evidence_of_a_finding_stands_in_the_margin(site: Site, hydr: int) -> None:
    page = site.browser.get(f"/s/{hydr}/audit", query_string={"place": "weights-off|||"}).text
    assert "Survey report: 25%" in page
    assert "Sum: 95%" in page


# --- Settle -----------------------------------------------------------------------------------


def test_take_the_rest_and_undo_it(site: Site, hydr: int) -> None:
    page = site.post(f"/s/{hydr}/settle/take-rest", key="k").text
    assert "32 grades settled as computed" in page
    assert len(site.course(hydr).settled) == 32
    site.browser.post(undo_address(page), data={"step": "settle"})
    assert site.course(hydr).settled == {}


def test_one_grade_is_replaced_with_a_reason_only(site: Site, fibr: int) -> None:
    student = next(s.id for s in site.course(fibr).students if site.course(fibr).settled[s.id].grade == "C")
    address = f"/s/{fibr}/settle/student/{student}"
    refused = site.post(address, htmx=True, grade="B", reason="")
    assert refused.status_code == 422
    assert "type why it is B instead of C" in refused.text
    assert site.course(fibr).settled[student] == Settled("C")
    site.post(address, htmx=True, grade="B", reason="late report counted")
    assert site.course(fibr).settled[student] == Settled("B", "late report counted")
    site.post(address, htmx=True, grade="")
    assert student not in site.course(fibr).settled


def test_an_incomplete_brings_its_fields(site: Site, fibr: int) -> None:
    student = site.course(fibr).students[0].id
    page = site.post(f"/s/{fibr}/settle/student/{student}", htmx=True, grade="I", fallback_grade="D",
                     finish_by="2027-05-01", owed="the sample book").text  # fmt: skip
    settled = site.course(fibr).settled[student]
    assert (settled.fallback_grade, str(settled.finish_by), settled.owed) == ("D", "2027-05-01", "the sample book")
    assert f'id="finish-{student}"' in page


def test_a_student_who_is_not_on_the_roster_is_set_aside_with_a_reason(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    assert course.records is not None
    student = next(s for s in course.students if course.status(s) is None)
    address = f"/s/{hydr}/settle/aside/{student.id}"
    assert site.post(address, reason=" ").status_code == 422
    page = site.post(address, reason="sits in").text
    assert "sits in" in page
    assert "not-enrolled" not in codes(site.browser.get(f"/s/{hydr}/audit").text)
    site.post(address, back="1")
    assert "not-enrolled" in codes(site.browser.get(f"/s/{hydr}/audit").text)


def test_a_student_of_the_roster_is_added(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    assert course.records is not None
    here = {s.id for s in course.students}
    missing = next(r.id for r in course.records.roster if r.id not in here)
    site.post(f"/s/{hydr}/settle/add/{missing}")
    site.post(f"/s/{hydr}/settle/add/{missing}")
    assert [s.id for s in site.course(hydr).students].count(missing) == 1
    assert site.post(f"/s/{hydr}/settle/add/nobody").status_code == 404


# --- Submit -----------------------------------------------------------------------------------


def sign_and_send(site: Site, section: int) -> str:
    page = site.post(f"/s/{section}/submit/sign", reason="looked at").text
    found = re.search(rf'action="(/s/{section}/submit/send/\d+)"', page)
    assert found is not None
    return found[1]


def count(site: Site, name: str, query: str) -> int:
    connection = connect(site.folder / f"{name}.sqlite")
    found = int(connection.execute(query).fetchone()[0])
    connection.close()
    return found


def test_a_stop_about_the_plan_stops_the_section(site: Site, hydr: int) -> None:
    site.post(f"/s/{hydr}/settle/take-rest")
    page = site.browser.get(f"/s/{hydr}/submit").text
    assert "Nothing can be submitted until" in page
    assert 'id="sign"' not in page
    assert "nothing to sign" in site.post(f"/s/{hydr}/submit/sign").text


def test_sign_send_and_read_back(site: Site, fibr: int) -> None:
    page = site.post(sign_and_send(site, fibr)).text
    assert "14 accepted, 0 refused" in page
    assert "14 of 14 lines agree" in page
    assert "Everything is received" in page
    receipt = re.search(rf"/s/{fibr}/submit/receipt/\d+", page)
    assert receipt is not None
    shown = site.browser.get(receipt[0]).text
    assert "Checksum of the section as signed" in shown
    assert "(the registrar keeps it too)" in shown
    seal = re.search(r"up to the signature</th>\s*<td>\s*<code>([0-9a-f]{64})<", shown)
    assert seal is not None
    assert (site.browser.get(f"{receipt[0]}?json=1").json or {})["history_seal"] == seal[1]
    assert re.search(r"Now it is <code class=.digest.>[0-9a-f]{64}<", site.browser.get(f"/s/{fibr}/history").text)


def test_a_lost_answer_and_a_second_try_give_one_receipt(site: Site, fibr: int) -> None:
    address = sign_and_send(site, fibr)
    site.weather.now = "lost"
    assert "did not confirm" in site.post(address).text
    site.weather.now = "down"
    assert "could not be reached" in site.post(address).text
    site.weather.now = "fine"
    assert "14 accepted" in site.post(address).text
    site.post(address)
    assert count(site, "office", "SELECT count(*) FROM sending WHERE section LIKE '%FIBR%' AND run = 'final'") == 1
    assert "Signed, not sent" not in site.browser.get(f"/s/{fibr}/submit").text


def test_a_signature_can_be_taken_back_before_it_goes_out_only(site: Site, fibr: int) -> None:
    address = sign_and_send(site, fibr)
    back = address.replace("send", "withdraw")
    assert "Sign 14 grades" in site.post(back).text
    address = sign_and_send(site, fibr)
    site.weather.now = "lost"
    site.post(address)
    assert "Submitted, not confirmed" in site.post(address.replace("send", "withdraw")).text


def test_a_refused_row_shows_its_reason_and_goes_out_again(site: Site, fibr: int) -> None:
    student = site.course(fibr).students[0].id
    connection = connect(site.folder / "office.sqlite")
    connection.execute("UPDATE roster SET basis = 'pass' WHERE id = ?", (student,))
    connection.close()
    page = site.post(sign_and_send(site, fibr)).text
    assert "13 accepted, 1 refused" in page
    assert "The registrar refused it: D is not for the pass basis." in page
    site.post(f"/s/{fibr}/submit/update")
    site.post(f"/s/{fibr}/settle/student/{student}", htmx=True, grade="NP", last_attended="2026-11-20", reason="x")
    assert "Sign 1 grades" in site.browser.get(f"/s/{fibr}/submit").text
    assert "1 accepted, 0 refused" in site.post(sign_and_send(site, fibr)).text


def test_a_changed_grade_is_sent_as_a_correction_until_posted(site: Site, fibr: int) -> None:
    site.post(sign_and_send(site, fibr))
    course = site.course(fibr)
    grades = grades_of(course, date(2026, 12, 19))
    student = next(s.id for s in course.enrolled() if same_place(course, grades, s.id, "A"))
    shown = site.post(f"/s/{fibr}/settle/student/{student}", htmx=True, grade="A", reason="found a piece")
    seen = re.search(r'name="seen" id="seen-\w+" value="(\d+)"', shown.text)
    assert seen
    site.post(f"/s/{fibr}/settle/student/{student}", htmx=True, grade="A", reason="found a piece", seen=seen[1])
    assert "to correct" in site.browser.get(f"/s/{fibr}/submit").text
    assert "1 accepted" in site.post(sign_and_send(site, fibr)).text
    posted = site.browser.get(f"/s/{site.section('HYDR 410-01')}/submit").text
    assert "only a change of grade alters them" in posted
    assert 'id="sign"' not in posted


def test_pulling_again_shows_a_withdrawal_and_keeps_everything_when_down(site: Site, fibr: int) -> None:
    student = site.course(fibr).students[0].id
    site.weather.now = "down"
    assert "Nothing was changed" in site.post(f"/s/{fibr}/submit/update").text
    site.weather.now = "fine"
    connection = connect(site.folder / "office.sqlite")
    connection.execute("UPDATE roster SET status = 'withdrawn' WHERE id = ?", (student,))
    connection.close()
    page = site.post(f"/s/{fibr}/submit/update").text
    assert 'class="state-withdrawn"' in page
    assert "Sign 13 grades" in page


def test_the_proof_sheet_stands_in_the_rosters_order(site: Site, fibr: int) -> None:
    page = site.browser.get(f"/s/{fibr}/submit/proof").text
    records = site.course(fibr).records
    assert records is not None
    ids = re.findall(r"<td>(L\d+)</td>", page)
    assert ids == [entry.id for entry in records.roster]


def test_the_demos_watershed_can_be_brought_to_its_receipt(site: Site, hydr: int) -> None:
    """Every planted mistake is mended where the audit leads, and nothing is left to do."""
    course = site.course(hydr)
    assert course.records is not None
    over = next(s.id for s in course.students if course.cell(s.id, "q4") == 85)
    type_cell(site, hydr, over, "q4", "8.5")
    site.post(f"/s/{hydr}/plan/weight", htmx=True, category="c5", **{"weight-c5": "30"})
    for category in ("c1", "c2", "c3", "c5"):
        site.post(f"/s/{hydr}/plan/rule", htmx=True, category=category, rule="blanks", value="zero")
    put_in_force(site, hydr)
    guest = next(s.id for s in course.students if course.status(s) is None)
    site.post(f"/s/{hydr}/settle/aside/{guest}", reason="sits in")
    newcomer = next(r.id for r in course.records.roster if course.student(r.id) is None)
    site.post(f"/s/{hydr}/settle/add/{newcomer}")
    left = audit(site.course(hydr), CLOCK.today())
    assert {f.code for f in left if f.level == "stop"} == set()
    assert {f.code for f in left if f.level == "look"} == {"no-work", "twin"}
    site.post(f"/s/{hydr}/settle/take-rest")
    settled_course = site.course(hydr)
    for student, settled in settled_course.settled.items():
        if settled.grade == "F":
            work = last_work(settled_course, student, CLOCK.today())
            beside = {"last_attended": str(work.due)} if work else {"never_attended": "1"}
            site.post(f"/s/{hydr}/settle/student/{student}", htmx=True, grade="F", **beside)
    page = site.post(sign_and_send(site, hydr)).text
    assert "33 accepted, 0 refused" in page
    assert "Everything is received" in page


# --- History ----------------------------------------------------------------------------------


def test_history_tells_who_and_what_and_offers_undo(site: Site, hydr: int) -> None:
    type_cell(site, hydr, site.course(hydr).students[0].id, "q1", "4")
    page = site.browser.get(f"/s/{hydr}/history").text
    assert "Map quiz 1: 4" in page
    assert "Maren Ostrander" in page
    before = site.course(hydr).cell(site.course(hydr).students[0].id, "q1")
    site.browser.post(undo_address(page), data={"step": "history"})
    assert before == 4
    assert site.course(hydr).cell(site.course(hydr).students[0].id, "q1") != 4
    assert "cannot be undone" in site.post(undo_address(page), step="history").text
