"""A student asks at a score, the instructor answers there; both stay with the cell. It can be switched off."""

import io
import re

import pytest

from tests.web.conftest import Site
from tests.web.test_statement import as_student, statement
from vinemark.core.course.course import Student
from vinemark.demo.build import OSTRANDER


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


@pytest.fixture
def student(site: Site, hydr: int) -> Student:
    return site.course(hydr).students[2]


def ask(site: Site, section: int, item: str = "n1", text: str = "Why 17?", key: str = "k") -> str:
    return str(site.post(f"/s/{section}/statement/ask/{item}", question=text, key=key).text)


def as_instructor(site: Site) -> None:
    site.browser.post("/sign-out")
    site.sign_in(OSTRANDER[1])


def test_a_question_is_answered_at_the_score(site: Site, hydr: int, student: Student) -> None:
    as_student(site, student)
    page = ask(site, hydr)
    assert "Why 17?" in page
    assert "No answer yet." in page
    as_instructor(site)
    assert "1 question" in site.browser.get("/").text
    listed = site.browser.get(f"/s/{hydr}/questions").text
    assert f"{student.plain_name}, Notebook 1" in listed
    address = re.search(rf'action="(/s/{hydr}/questions/\d+)"', listed)
    assert address
    assert "Answered" in site.post(address[1], answer="Two steps were missing.", key="a").text
    assert "1 question" not in site.browser.get("/").text
    cell = site.browser.get(f"/s/{hydr}/scores/history/{student.id}/n1").text
    assert "Why 17?" in cell
    assert "Two steps were missing." in cell
    assert "asked about Notebook 1" in site.browser.get(f"/s/{hydr}/history").text
    as_student(site, student)
    page = statement(site, hydr)
    assert f"{OSTRANDER[0]}, " in page
    assert "Two steps were missing." in page


@pytest.mark.parametrize(
    ("item", "text", "said"), [("n1", "  ", "is empty"), ("n1", "x" * 2001, "2,000"), ("none", "Why?", "that you see")]
)
def test_what_cannot_be_asked_is_said_and_kept_typed(
    site: Site, hydr: int, student: Student, item: str, text: str, said: str
) -> None:
    as_student(site, student)
    answer = site.browser.post(f"/s/{hydr}/statement/ask/{item}", data={"question": text})
    assert answer.status_code == 422
    assert said in answer.text
    assert item == "none" or text.strip()[:20] in answer.text


def test_one_question_at_a_time_and_the_same_request_asks_once(site: Site, hydr: int, student: Student) -> None:
    as_student(site, student)
    ask(site, hydr)
    assert ask(site, hydr).count("Why 17?") == 1
    assert "waits for the answer" in ask(site, hydr, text="And?", key="k2")
    assert "And?" not in statement(site, hydr)


def test_about_hidden_work_nothing_is_asked(site: Site, hydr: int, student: Student) -> None:
    site.post(f"/s/{hydr}/scores/visibility/n1", access="held")
    as_student(site, student)
    assert site.browser.post(f"/s/{hydr}/statement/ask/n1", data={"question": "Why?"}).status_code == 422


def test_switched_off_nothing_can_be_asked_and_what_was_said_is_read_on(
    site: Site, hydr: int, student: Student
) -> None:
    as_student(site, student)
    ask(site, hydr)
    as_instructor(site)
    site.post(f"/s/{hydr}/seen", points="1", percent="1", key="s")
    as_student(site, student)
    page = statement(site, hydr)
    assert "Why 17?" in page
    assert "Ask about this score" not in page
    assert site.browser.post(f"/s/{hydr}/statement/ask/n2", data={"question": "Why?"}).status_code == 422


def test_nobody_asks_or_answers_for_another(site: Site, hydr: int, student: Student) -> None:
    assert site.browser.post(f"/s/{hydr}/statement/ask/n1", data={"question": "Why?"}).status_code == 404
    as_student(site, student)
    ask(site, hydr)
    assert site.browser.get(f"/s/{hydr}/questions").status_code == 404
    assert site.browser.post(f"/s/{hydr}/questions/1", data={"answer": "A"}).status_code == 404
    as_instructor(site)
    assert site.browser.post(f"/s/{hydr}/questions/999", data={"answer": "A"}).status_code == 404
    empty = site.browser.post(f"/s/{hydr}/questions/1", data={"answer": " "})
    assert (empty.status_code, "The answer is empty" in empty.text) == (422, True)


def test_questions_go_with_an_archive(site: Site, hydr: int, student: Student) -> None:
    as_student(site, student)
    ask(site, hydr)
    as_instructor(site)
    archive = site.browser.post(f"/s/{hydr}/after/archive", data={"key": "z"}).data
    made = site.browser.post("/sections/new", data={"file": (io.BytesIO(archive), "a.zip")})
    section = re.search(r"/s/(\d+)/", made.headers["Location"])
    assert section
    assert "Why 17?" in site.browser.get(f"/s/{section[1]}/scores/history/{student.id}/n1").text
