"""Texts and days beyond the limits are refused at their place on the pages, and change nothing."""

import io

import pytest

from tests.web.conftest import Site

LONG = "x" * 2_001
LIST = "id,name\n"
FORM = {
    "course": "BRYO 110",
    "number": "01",
    "title": "Mosses",
    "term": "Fall 2026",
    "starts": "2026-08-31",
    "ends": "2026-12-18",
}


def made(site: Site, classlist: str, **form: str) -> tuple[int, str]:
    sent = {**FORM, **form, "file": (io.BytesIO(classlist.encode()), "class.csv"), "key": "k"}
    answer = site.browser.post("/sections/new", data=sent)
    return answer.status_code, answer.text


@pytest.mark.parametrize(
    ("classlist", "form", "said"),
    [
        (LIST + "1," + "n" * 300, {}, "200 at most (signs in a name, an ID or a heading)"),
        (LIST + "9" * 300 + ",a", {}, "200 at most"),
        (LIST + "".join(f"{n},a\n" for n in range(5_050)), {}, "5,000 at most (students in a section)"),
        (LIST + "".join(f"{n},a\n" for n in range(6_000)), {}, "has more than 5,100 rows"),
        (LIST + "1,a", {"title": "t" * 300}, "200 at most"),
        (LIST + "1,a", {"starts": "1066-10-14"}, "from 1900 to 2200"),
    ],
)
def test_a_class_list_beyond_the_limits_makes_no_section(
    site: Site, classlist: str, form: dict[str, str], said: str
) -> None:
    before = site.browser.get("/").text.count("<article")
    status, text = made(site, classlist, **form)
    assert (status, said in text) == (422, True)
    assert site.browser.get("/").text.count("<article") == before


@pytest.mark.parametrize(
    ("form", "said"),
    [
        ({"grade": "F", "reason": LONG}, "2,000 at most (signs in a reason or a remark)"),
        ({"grade": "I", "reason": "ill", "finish_by": "9999-12-31", "fallback_grade": "C"}, "from 1900 to 2200"),
    ],
)
def test_a_settled_grade_beyond_the_limits_is_refused_at_its_place(site: Site, form: dict[str, str], said: str) -> None:
    section = site.section("HYDR 230-01")
    course = site.course(section)
    student = course.enrolled()[0].id
    answer = site.browser.post(f"/s/{section}/settle/student/{student}", data={**form, "key": "s1"})
    assert said in answer.text
    assert site.course(section).settled == course.settled


def test_a_reason_to_set_aside_beyond_the_limits_is_refused(site: Site) -> None:
    section = site.section("HYDR 230-01")
    course = site.course(section)
    answer = site.browser.post(f"/s/{section}/settle/aside/{course.students[0].id}", data={"reason": LONG, "key": "s1"})
    assert "2,000 at most" in answer.text
    assert site.course(section).students == course.students
