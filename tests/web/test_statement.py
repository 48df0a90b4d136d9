"""A student reads their statement and nobody else's; an instructor chooses what is in it and sees it as they do."""

import re

import pytest
from werkzeug.test import TestResponse

from tests.web.conftest import PASSWORD, Site
from vinemark.core.course.course import Student
from vinemark.store.database import connect


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


@pytest.fixture
def student(site: Site, hydr: int) -> Student:
    """The student of the demo who has an account."""
    return site.course(hydr).students[2]


def as_student(site: Site, student: Student) -> None:
    site.browser.post("/sign-out")
    assert site.sign_in(student.email or "", PASSWORD).status_code == 302


def statement(site: Site, section: int) -> str:
    answer = site.browser.get(f"/s/{section}/statement")
    assert answer.status_code == 200
    return str(answer.text)


def tried(site: Site, section: int, **typed: str) -> TestResponse:
    return site.browser.get(f"/s/{section}/statement/try", query_string=typed)


def test_a_student_finds_the_section_on_the_desk_and_reads_it(site: Site, hydr: int, student: Student) -> None:
    as_student(site, student)
    desk = site.browser.get("/").text
    assert "Where you are a student" in desk
    assert f'href="/s/{hydr}/statement"' in desk
    page = statement(site, hydr)
    assert student.plain_name in page
    for said in ("So far", "Field notebooks", "How it is worked out so far", "The rules of the course", "What if"):
        assert said in page, said
    assert "posted by the registrar" in page


def test_of_others_nothing_is_in_it(site: Site, hydr: int, student: Student) -> None:
    others = [one for one in site.course(hydr).students if one.id != student.id]
    as_student(site, student)
    page = statement(site, hydr)
    assert not [one.id for one in others if one.id in page or one.family_name in page.replace(student.family_name, "")]


def test_a_student_reaches_nothing_else_of_a_section(site: Site, hydr: int, student: Student) -> None:
    other = site.section("BOTN 105-02")
    as_student(site, student)
    for path in ("plan", "scores", "audit", "settle", "submit", "history", "class", "files", "seen",
                 f"statement/of/{student.id}", f"papers/working/{student.id}"):  # fmt: skip
        assert site.browser.get(f"/s/{hydr}/{path}").status_code == 404, path
    assert site.browser.post(f"/s/{hydr}/seen", data={"points": "1"}).status_code == 404
    assert site.browser.get(f"/s/{other}/statement").status_code == 404


def test_who_is_no_student_there_has_no_statement(site: Site, hydr: int) -> None:
    assert site.browser.get(f"/s/{hydr}/statement").status_code == 404
    site.browser.post("/sign-out")
    assert site.browser.get(f"/s/{hydr}/statement").status_code == 302


def test_set_aside_or_with_another_address_it_is_closed(site: Site, hydr: int, student: Student) -> None:
    site.post(f"/s/{hydr}/settle/aside/{student.id}", reason="Left the course", key="a")
    as_student(site, student)
    assert site.browser.get(f"/s/{hydr}/statement").status_code == 404
    assert "Where you are a student" not in site.browser.get("/").text


def test_the_preview_is_word_for_word_what_the_student_sees(site: Site, hydr: int, student: Student) -> None:
    mine = main(site.browser.get(f"/s/{hydr}/statement/of/{student.id}").text)
    as_student(site, student)
    theirs = main(statement(site, hydr))
    mine = mine.replace(f"/statement/of/{student.id}/try", "/statement/try").replace(
        "<fieldset disabled>", "<fieldset>"
    )
    keys = r'<input type="hidden"[^>]*>'
    assert re.sub(keys, "", mine) == re.sub(keys, "", theirs)


def main(page: str) -> str:
    found = re.search(r"<main.*</main>", page, re.DOTALL)
    assert found
    return found[0]


def test_an_item_that_is_hidden_is_not_shown_and_moves_no_figure(site: Site, hydr: int, student: Student) -> None:
    site.post(f"/s/{hydr}/scores/visibility/n1", access="held")
    as_student(site, student)
    before = statement(site, hydr)
    assert "to come, or not shown yet" in before
    connection = connect(site.folder / "vinemark.sqlite")
    connection.execute("UPDATE score SET cell = '1' WHERE student_id = ? AND item_id = 'n1'", (student.id,))
    connection.execute("UPDATE section SET title = title")
    connection.close()
    site.app.extensions["vinemark.snapshots"].__init__()
    keys = r'<input type="hidden"[^>]*>'
    assert re.sub(keys, "", main(statement(site, hydr))) == re.sub(keys, "", main(before))


def test_what_is_chosen_is_what_students_see(site: Site, hydr: int, student: Student) -> None:
    page = site.post(f"/s/{hydr}/seen", points="1", figures="1", key="c").text
    assert "students see each score in points and the class’s average" in page
    as_student(site, student)
    shown = statement(site, hydr)
    assert "Class average" in shown
    assert "So far" not in shown
    assert "What if" not in shown
    assert tried(site, hydr).status_code == 404


def test_the_choice_is_in_the_history_and_can_be_undone(site: Site, hydr: int) -> None:
    site.post(f"/s/{hydr}/seen", points="1", key="c")
    page = site.browser.get(f"/s/{hydr}/history").text
    assert "Of work that is visible students see each score in points" in page
    undo = re.search(rf"/s/{hydr}/history/undo/(\d+)", page)
    assert undo
    site.post(undo[0], key="u")
    page = site.browser.get(f"/s/{hydr}/seen").text
    assert len(re.findall(r'type="checkbox" name="\w+" value="1" checked', page)) == 5


def test_what_if_says_what_a_score_would_do_and_keeps_nothing(site: Site, hydr: int, student: Student) -> None:
    before = site.course(hydr)
    as_student(site, student)
    items = re.findall(r'name="score-([^"]+)"', statement(site, hydr))
    assert items
    high, low = (tried(site, hydr, **{f"score-{items[0]}": score}).text for score in ("10", "0"))
    assert "With 1 score like these" in high
    assert high != low
    assert "as things stand" in tried(site, hydr, item=items[0], letter="A").text
    wrong = tried(site, hydr, **{f"score-{items[0]}": "many"})
    assert (wrong.status_code, "reason" in wrong.text) == (422, True)
    assert "With" not in tried(site, hydr, **{"score-n1": "20"}).text
    assert site.course(hydr) == before


@pytest.mark.parametrize(
    ("run", "visible", "said"),
    [
        ("final", "settled", "Not settled yet"),
        ("final", "computed", "it changes with each of them and is not settled"),
    ],
)
def test_a_grade_says_where_it_is(site: Site, hydr: int, student: Student, run: str, visible: str, said: str) -> None:
    site.post(f"/s/{hydr}/settle/visible", visible=visible, key="v")
    as_student(site, student)
    page = statement(site, hydr)
    assert "Final grade" in page
    assert said in page


def test_a_settled_grade_that_is_not_sent_is_no_posted_one(site: Site, hydr: int, student: Student) -> None:
    site.post(f"/s/{hydr}/settle/student/{student.id}", grade="B", reason="seminar", key="s")
    site.post(f"/s/{hydr}/settle/visible", visible="settled", key="v")
    as_student(site, student)
    assert "settled, not sent to the registrar" in statement(site, hydr)


def test_grades_that_are_not_settled_are_counted_where_it_is_chosen(site: Site, hydr: int) -> None:
    told = site.post(f"/s/{hydr}/settle/visible", visible="settled", key="v").text
    assert "Visible to students: the settled grade; 32 students not settled yet." in told
    page = site.browser.get(f"/s/{hydr}/seen").text
    assert re.search(r"students see the settled grade,\s+32 students not settled", page)
    look = site.browser.get(f"/s/{hydr}/seen/look?student={site.course(hydr).students[0].id}")
    assert look.headers["Location"].endswith(f"/statement/of/{site.course(hydr).students[0].id}")


def test_a_course_without_anything_visible_says_so(site: Site, student: Student) -> None:
    section = site.section("FIBR 120-01")
    connection = connect(site.folder / "vinemark.sqlite")
    connection.execute("DELETE FROM item_access WHERE section_id = ?", (section,))
    connection.execute("DELETE FROM grades_opened WHERE section_id = ?", (section,))
    connection.execute("UPDATE student SET email = ? WHERE section_id = ? AND place = 0", (student.email, section))
    connection.close()
    as_student(site, student)
    page = statement(site, section)
    assert "Nothing is visible yet" in page
    assert "The rules of the course" in page


def test_grades_are_visible_to_those_who_were_chosen(site: Site, hydr: int, student: Student) -> None:
    other = site.course(hydr).students[0]
    assert "must be chosen" in site.post(f"/s/{hydr}/seen/grades", shows="settled", whom="chosen", of="final").text
    form = {"shows": "settled", "whom": "chosen", "only": other.id, "key": "g"}
    assert "Visible to 1 of 34 students" in site.post(f"/s/{hydr}/seen/grades", **form).text
    assert "1 student see the settled grade" not in site.browser.get(f"/s/{hydr}/settle").text
    site.post(f"/s/{hydr}/settle/take-rest", key="s2")
    preview = f"/s/{hydr}/statement/of/{student.id}"
    assert "settled, not sent" not in site.browser.get(preview).text
    site.post(f"/s/{hydr}/seen/grades", shows="settled", whom="settled", key="h")
    as_student(site, student)
    assert "settled, not sent" in statement(site, hydr)
