"""Who looked at students' records is listed by student: others than the instructor, and every export and print."""

import pytest
from click.testing import CliRunner

from tests.web.conftest import Site
from vinemark.cli import main
from vinemark.demo.build import HARTWELL, OSTRANDER
from vinemark.web.events import PRINTED_OR_EXPORTED, SEEN_BY_OTHERS


@pytest.fixture
def seminar(site: Site) -> int:
    """The section that has a reviewer."""
    return site.section("HYDR 410-01")


def listed(site: Site, section: int, student: str = "") -> list[list[str]]:
    text = site.browser.get(f"/s/{section}/looked/list.csv?student={student}").get_data(as_text=True)
    return [line.split(",") for line in text.strip().splitlines()[1:]]


def test_an_instructors_own_look_is_not_in_it(site: Site, seminar: int) -> None:
    student = site.course(seminar).students[0].id
    for page in ("scores", "settle", f"scores/working/{student}", f"statement/of/{student}"):
        site.browser.get(f"/s/{seminar}/{page}")
    assert "Nobody but you looked" in site.browser.get(f"/s/{seminar}/looked").text


def test_what_a_reviewer_opens_is_listed_by_student(site: Site, seminar: int) -> None:
    first, second = (one.id for one in site.course(seminar).students[:2])
    site.become(HARTWELL[1])
    site.browser.get(f"/s/{seminar}/scores")
    site.browser.get(f"/s/{seminar}/scores/working/{first}")
    site.browser.get(f"/s/{seminar}/scores/working/{first}")
    site.browser.get(f"/s/{seminar}/scores/working/{second}")
    assert site.browser.get(f"/s/{seminar}/looked").status_code == 403
    site.become(OSTRANDER[1])
    page = site.browser.get(f"/s/{seminar}/looked?student={first}").text
    assert "how a grade was worked out" in page
    assert "2 times that day" in page
    found = {(row[0], row[1], row[3], row[4]) for row in listed(site, seminar, first)}
    assert found == {
        ("all", HARTWELL[0], "reviewer", "the score sheet"),
        (first, HARTWELL[0], "reviewer", "how a grade was worked out"),
    }
    assert site.browser.get(f"/s/{seminar}/looked?student=nobody").status_code == 404


def test_what_anybody_exports_or_prints_is_listed(site: Site, seminar: int) -> None:
    student = site.course(seminar).students[0].id
    site.browser.get(f"/s/{seminar}/files/scores-csv")
    site.browser.get(f"/s/{seminar}/papers/record/{student}")
    found = [(row[0], row[1], row[4].strip('"')) for row in listed(site, seminar)]
    assert (student, OSTRANDER[0], "record") in found
    assert ("all", OSTRANDER[0], "scores-csv") in found


def test_the_records_office_gets_it_for_a_student_of_any_section(
    site: Site, seminar: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    student = site.course(seminar).students[0].id
    site.become(HARTWELL[1])
    site.browser.get(f"/s/{seminar}/statement/of/{student}")
    monkeypatch.setenv("VINEMARK_DATABASE", str(site.folder / "vinemark.sqlite"))
    done = CliRunner().invoke(main, ["looked", student])
    assert done.exit_code == 0
    assert f"Fall 2026,HYDR 410-01,this student,{HARTWELL[0]}" in done.output
    assert "the statement" in done.output


def test_every_paper_and_export_is_noted(site: Site) -> None:
    """Whatever gives out a file or a paper of a section is in the table; what is not says nothing of a student."""
    known = set(PRINTED_OR_EXPORTED) | set(SEEN_BY_OTHERS)
    endpoints = {rule.endpoint for rule in site.app.url_map.iter_rules() if "section_id" in rule.arguments}
    assert known <= endpoints
    papers = {one for one in endpoints if one.startswith(("papers.", "submit_papers.", "exports."))}
    nothing_of_a_student = {"papers.try_score", "submit_papers.codes", "exports.choose", "exports.rename",
                            "exports.put_away"}  # fmt: skip
    assert papers - known == nothing_of_a_student
