"""The class list: pasted, corrected, set aside, withdrawn, joined late, removed, with numbers that come later."""

import re

import pytest
from werkzeug.test import TestResponse

from tests.web.conftest import CLOCK, Site
from vinemark.core.grade.class_columns import grades_of

FALL = {"term": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"}


def begin(site: Site, people: str = "", course: str = "MOSS 101", **more: str) -> int:
    answer = site.browser.post(
        "/sections/new", data={"course": course, "people": people, **FALL, **more, "key": course}
    )
    assert answer.status_code == 302, answer.text
    found = re.search(r"/s/(\d+)/", answer.headers["Location"])
    assert found is not None
    return int(found[1])


def names(site: Site, section: int) -> list[tuple[str, str]]:
    return [(s.id, s.name) for s in site.course(section).students]


def test_a_section_begins_with_nothing_but_a_name(site: Site) -> None:
    answer = site.browser.post("/sections/new", data={"course": "MOSS 101"}, follow_redirects=True)
    assert "Start without a syllabus" in answer.text
    section = site.section("MOSS 101-") if "MOSS 101-" in answer.text else None
    assert section is None
    assert "MOSS 101" in site.browser.get("/").text


def test_people_are_pasted_at_the_beginning_and_later(site: Site) -> None:
    section = begin(site, "Ode, Marit\nL2 Jonas Pell pell@larkmoor.example")
    assert names(site, section) == [("no-id-1", "Ode, Marit"), ("L2", "Pell, Jonas")]
    page = site.post(f"/s/{section}/class/add", people="Ana Quist\nBo Rask")
    assert "2 students added" in page.text
    assert "no ID yet" in page.text
    assert names(site, section)[2:] == [("no-id-2", "Quist, Ana"), ("no-id-3", "Rask, Bo")]


@pytest.mark.parametrize(
    ("people", "said"),
    [
        ("Ode, Marit\n12345", "names nobody"),
        ("L2 New Person", "the ID L2 is in the class already"),
        ("  ", "Type a name"),
    ],
)
def test_a_wrong_line_is_said_and_nothing_is_added(site: Site, people: str, said: str) -> None:
    section = begin(site, "L2 Jonas Pell")
    page = site.post(f"/s/{section}/class/add", people=people)
    assert (page.status_code, said in page.text) == (422, True)
    assert people.strip().partition("\n")[0] in page.text
    assert len(names(site, section)) == 1


def test_a_namesake_is_asked_about_first(site: Site) -> None:
    section = begin(site, "Jonas Pell")
    assert "in the class already. Add all the same?" in site.post(f"/s/{section}/class/add", people="Pell, Jonas").text
    site.post(f"/s/{section}/class/add", people="Pell, Jonas", twice="1")
    assert len(names(site, section)) == 2


def correct(site: Site, section: int, student: str, **typed: str) -> TestResponse:
    shown = site.browser.get(f"/s/{section}/class?student={student}").text
    was = re.search(r'name="was" value="(\w+)"', shown)
    assert was is not None
    fields = {name: re.search(rf'name="{name}" type="\w+" autocomplete="off" value="([^"]*)"', shown) for name in
              ("family_name", "given_name", "preferred", "pronunciation", "id", "email", "remark")}  # fmt: skip
    now = {name: found[1] if found else "" for name, found in fields.items()}
    return site.post(f"/s/{section}/class/{student}/correct", **{**now, "was": was[1], **typed})


def test_a_student_is_corrected_with_number_and_remark_and_it_is_undone_at_once(site: Site) -> None:
    section = begin(site, "Jonas Pell")
    page = correct(site, section, "no-id-1", id="L7", given_name="Jon", preferred="Jo", remark="front row")
    for text in ("Jon Pell corrected", "goes by Jo", "front row", "L7"):
        assert text in page.text
    assert names(site, section) == [("L7", "Pell, Jon")]
    undo = re.search(rf"/s/{section}/history/undo/\d+|/s/{section}/history/\d+/undo", page.text)
    assert undo is not None
    site.post(undo[0], step="class_list")
    assert names(site, section) == [("no-id-1", "Pell, Jonas")]


@pytest.mark.parametrize(
    ("typed", "said"),
    [({"family_name": ""}, "ype a name"), ({"email": "home"}, "is no email address"), ({"id": "L2"}, "has the ID L2")],
)
def test_a_wrong_correction_is_refused_at_its_field(site: Site, typed: dict[str, str], said: str) -> None:
    section = begin(site, "L1 Jonas Pell\nL2 Marit Ode")
    page = correct(site, section, "L1", **typed)
    assert (page.status_code, said in page.text) == (422, True)
    assert names(site, section)[0] == ("L1", "Pell, Jonas")


def test_two_windows_do_not_write_over_one_another(site: Site) -> None:
    section = begin(site, "L1 Jonas Pell")
    correct(site, section, "L1", given_name="Jon")
    page = site.post(f"/s/{section}/class/L1/correct", family_name="Pall", id="L1", was="another")
    assert "corrected meanwhile" in page.text
    assert names(site, section) == [("L1", "Pell, Jon")]


def test_somebody_withdraws_and_comes_back(site: Site) -> None:
    section = begin(site, "L1 Jonas Pell\nL2 Marit Ode")
    page = site.post(f"/s/{section}/class/L1/withdraw", day="2026-10-02", note="moved away")
    assert "withdrawn on 2026-10-02: moved away" in page.text
    assert [s.id for s in site.course(section).enrolled()] == ["L2"]
    assert "put back" in site.post(f"/s/{section}/class/L1/back").text
    site.post(f"/s/{section}/class/L1/aside", aside="sits in")
    assert site.course(section).students[0].set_aside == "sits in"
    assert site.post(f"/s/{section}/class/L2/aside", aside=" ").status_code == 422
    assert site.post(f"/s/{section}/class/L2/withdraw", day="soon").status_code == 422


def test_a_late_joiner_is_exempt_from_what_was_due_and_undated_items_are_named(site: Site) -> None:
    section = site.section("HYDR 230-01")
    course = site.course(section)
    student = course.enrolled()[0]
    dated = [item for _, item in course.plan.items() if item.due and item.due.isoformat() < "2026-09-20"]
    cells = {item.id: course.cell(student.id, item.id) for item in dated}
    page = site.post(f"/s/{section}/class/{student.id}/joined", joined="2026-09-20")
    assert "joined on 2026-09-20" in page.text
    after = site.course(section)
    for item, cell in cells.items():
        expected = "exempt" if cell in (None, "missing") else cell
        assert after.cell(student.id, item) == expected
    assert site.post(f"/s/{section}/class/{student.id}/joined", joined="").status_code == 422


def test_only_somebody_of_whom_nothing_is_kept_is_removed(site: Site) -> None:
    section = begin(site, "L1 Jonas Pell")
    assert "removed from the class" in site.post(f"/s/{section}/class/L1/remove").text
    assert names(site, section) == []
    hydr = site.section("HYDR 230-01")
    student = site.course(hydr).students[0]
    shown = site.browser.get(f"/s/{hydr}/class?student={student.id}").text
    assert "would go for good" in shown
    page = site.post(f"/s/{hydr}/class/{student.id}/remove")
    assert (page.status_code, "et aside instead" in page.text) == (422, True)
    assert site.course(hydr).students[0] == student


def test_a_number_under_which_a_grade_was_signed_stays(site: Site) -> None:
    section = site.section("HYDR 410-01")
    student = site.course(section).enrolled()[0]
    page = correct(site, section, student.id, id="L999")
    assert (page.status_code, "a grade was signed under it" in page.text) == (422, True)


def test_numbers_come_from_the_roster_by_name(site: Site) -> None:
    listed = site.course(site.section("HYDR 230-01")).records
    assert listed is not None
    ref = "HYDR 331"
    section = begin(site, "Nobody Known", course=ref, number="01", title="Snow and Ice Survey")
    roster = site.course(section).records
    assert roster is not None
    known = roster.roster[0]
    site.post(f"/s/{section}/class/add", people=f"{known.family_name}, {known.given_name}")
    assert "1 student without an ID is on the registrar" in site.browser.get(f"/s/{section}/class").text
    assert "1 ID taken from the registrar" in site.post(f"/s/{section}/class/ids").text
    assert known.id in {s.id for s in site.course(section).students}
    assert "No name on the registrar" in site.post(f"/s/{section}/class/ids").text


def test_the_list_is_printed(site: Site) -> None:
    section = begin(site, "L1 Jonas Pell\nMarit Ode")
    correct(site, section, "L1", preferred="Jo", pronunciation="YO-nas")
    page = site.browser.get(f"/s/{section}/papers/class").text
    for text in ("Pell, Jonas", "Jo", "YO-nas", "no ID yet"):
        assert text in page
    pdf = site.browser.get(f"/s/{section}/papers/class?pdf=1", follow_redirects=True)
    assert pdf.data.startswith(b"%PDF")


def test_a_practice_section_is_made_and_thrown_away_in_one_act(site: Site) -> None:
    page = site.post("/sections/practice", key="p")
    found = re.search(r'href="/s/(\d+)/plan"', page.text)
    assert found is not None
    section = int(found[1])
    assert len(site.course(section).students) == 18
    assert "Throw it away" in site.browser.get("/").text
    assert "is deleted" in site.post(f"/s/{section}/delete").text
    assert "PRACTICE" not in site.browser.get("/").text


def test_a_test_student_tries_the_plan_and_counts_nowhere(site: Site) -> None:
    section = site.section("HYDR 230-01")
    before = site.course(section)
    figures = site.browser.get(f"/s/{section}/scores").text
    page = site.post(f"/s/{section}/class/trial", all="80")
    assert "A test student with 80% of everything" in page.text
    course = site.course(section)
    assert grades_of(course, CLOCK.today())["test-student"].percent == 80
    assert (course.enrolled(), course.settled) == (before.enrolled(), before.settled)
    shown = site.browser.get(f"/s/{section}/scores").text
    assert 'id="row-test-student"' in shown
    feet = re.compile(r'data-foot="average".*?</tr>', re.DOTALL)
    assert feet.findall(shown) == feet.findall(figures)
    assert "test-student" not in site.browser.get(f"/s/{section}/submit").text
    assert site.post(f"/s/{section}/class/trial", all="much").status_code == 422
    assert "is gone" in site.post(f"/s/{section}/class/trial/remove").text
    assert site.course(section) == before
