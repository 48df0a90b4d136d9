"""A file brought in: seen, chosen, taken, undone; and what is refused."""

import io
import re
from typing import Any

import pytest
from werkzeug.test import TestResponse

from tests.core.bring.files import GRADEBOOK
from tests.web.conftest import Site
from tests.web.test_class_list import FALL, begin
from vinemark.core.grade.class_columns import grades_of
from vinemark.store.database import connect


def put_in(site: Site, text: str | bytes = GRADEBOOK, name: str = "loom.csv", **form: str) -> tuple[int, str]:
    """A section from a file: its id, and the address of the page on which the file is looked at."""
    data = text.encode() if isinstance(text, str) else text
    answer = site.browser.post("/sections/new", data={**form, "file": (io.BytesIO(data), name)})
    found = re.search(r"/s/(\d+)/bring/\d+", answer.headers.get("Location", ""))
    assert found is not None, answer.text
    return int(found[1]), found[0]


def fields(page: TestResponse) -> dict[str, Any]:
    """What the form on the page would send."""
    text = page.text
    found: dict[str, Any] = dict(
        re.findall(r'<input[^>]*? name="((?:seen|name|points|category|weight)[^"]*)"[^>]*? value="([^"]*)"', text)
    )
    for name, options in re.findall(r'<select[^>]*? name="((?:target|row)-\d+)".*?>(.*?)</select>', text):
        chosen = re.search(r'<option value="([^"]*)"\s*selected', options)
        found[name] = chosen[1] if chosen else ""
    return found


def test_a_gradebook_becomes_a_section_whose_totals_agree(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120", **FALL)
    page = site.browser.get(address)
    assert "4 students, 3 columns of scores, a row of points possible" in page.text
    assert "<strong>4 of 4</strong> agree with the file’s own “Total”" in page.text
    done = site.post(f"{address}/take", **fields(page))
    assert "4 students, 3 items, 10 scores imported from loom.csv" in done.text
    course = site.course(section)
    assert [c.name for c in course.plan.categories] == ["Sketches", "Model"]
    grades = grades_of(course, course.term.ends)
    assert grades["L1"].percent == pytest.approx(100 * 52 / 60)
    undo = re.search(rf"/s/{section}/history/\d+/undo|/s/{section}/history/undo/\d+", done.text)
    assert undo is not None
    site.post(undo[0], step="scores")
    assert (site.course(section).students, site.course(section).plan.categories) == ((), ())


def test_the_name_and_term_come_from_the_title(site: Site) -> None:
    text = GRADEBOOK.replace("Loom Studio, Fall 2026", '"FIBR 120-02 Loom Studio, Spring 2026"')
    section, _ = put_in(site, text)
    course = site.course(section)
    assert (course.section.short, course.section.title, course.term.name) == (
        "FIBR 120-02",
        "Loom Studio",
        "Spring 2026",
    )


def test_columns_are_chosen_otherwise_and_the_page_follows(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120")
    sent = fields(site.browser.get(address))
    sent |= {"target-4": "leave", "name-3": "Drawing", "category-3": "Drawings", "weight-Model": "60", "points-5": "50"}
    page = site.post(f"{address}/look", htmx=True, **sent)
    assert "4 of 4" not in page.text
    assert 'value="Drawing"' in page.text
    sent = {**fields(page), "weight-Drawings": "40", "weight-Model": "60"}
    page = site.post(f"{address}/look", htmx=True, **sent)
    assert "The grade goes by weights" in page.text
    site.post(f"{address}/take", **{**sent, **fields(page)})
    plan = site.course(section).plan
    assert [(c.name, c.weight, [i.name for i in c.items]) for c in plan.categories] == [
        ("Drawings", 40, ["Drawing"]), ("Model", 60, ["Model"])
    ]  # fmt: skip


def test_a_rule_that_explains_the_totals_is_used(site: Site) -> None:
    percents = (("35,52,B", "35,86.7,B"), ("40,60,A", "40,100,A"), ("30,35,D", "30,58.3,F"), ("note,15,F", "note,25,F"))
    text = GRADEBOOK
    for points, percent in percents:
        text = text.replace(points, percent)
    section, address = put_in(site, text, course="FIBR 120")
    page = site.browser.get(address)
    assert "agree if blanks count as 0" in page.text
    used = site.post(f"{address}/look", **{**fields(page), "rule": "blanks count as 0"})
    assert "<strong>4 of 4</strong>" in used.text
    site.post(f"{address}/take", **{**fields(used), "rule": "blanks count as 0"})
    assert {c.blanks for c in site.course(section).plan.categories} == {"zero"}


def test_what_is_refused_stands_at_its_place_and_nothing_comes_in(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120")
    page = site.browser.get(address)
    wrong = site.post(f"{address}/take", **{**fields(page), "points-3": "none"})
    assert wrong.status_code == 422
    assert 'id="why-points-3"' in wrong.text
    assert 'value="none"' in wrong.text
    kept = site.post(f"{address}/look", **{**fields(page), "points-3": "0", "name-4": "Drawing", "weight-Model": "x"})
    assert (kept.status_code, 'value="Drawing"' in kept.text) == (422, True)
    other = site.post(f"{address}/take", **{**fields(page), "target-3": "leave"})
    assert "would change other things than this page showed" in other.text
    assert site.course(section).students == ()


def test_a_request_that_is_repeated_leads_to_the_same_section(site: Site) -> None:
    def begun() -> list[str]:
        sent = {"course": "FIBR 120", "file": (io.BytesIO(GRADEBOOK.encode()), "g.csv"), "key": "same"}
        answer = site.browser.post("/sections/new", data=sent)
        return re.findall(r"/s/(\d+)/bring/\d+", answer.headers["Location"])

    first = begun()
    assert first == begun()
    practice = [site.browser.post("/sections/practice", data={"key": "p"}).headers["Location"] for _ in range(2)]
    assert practice[0] == practice[1]
    assert site.browser.get(practice[0]).status_code == 200


def test_people_typed_beside_a_gradebook_are_in_the_section_and_found_in_it(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120", people="L1 Marit Ode\nNot There")
    assert [s.plain_name for s in site.course(section).students] == ["Marit Ode", "Not There"]
    assert "3 rows of nobody here" in site.browser.get(address).text


def test_it_is_taken_once_and_then_gone(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120")
    sent = {**fields(site.browser.get(address)), "key": "once"}
    site.post(f"{address}/take", **sent)
    site.post(f"{address}/take", **sent)
    assert len(site.course(section).students) == 4
    assert site.browser.get(address).status_code == 404


def test_a_file_on_a_section_that_is_there_adds_a_column_and_finds_its_people(site: Site) -> None:
    section = begin(site, "L1 Marit Ode\nJonas Pell")
    answer = site.browser.post(f"/s/{section}/scores/files", data={"file": (io.BytesIO(GRADEBOOK.encode()), "g.csv")})
    address = answer.headers["Location"]
    page = site.browser.get(address)
    assert "2 rows of nobody here" in page.text
    chosen = {name: "add" for name in fields(page) if name.startswith("row-")}
    page = site.post(f"{address}/look", **{**fields(page), **chosen})
    site.post(f"{address}/take", **{**fields(page), **chosen})
    assert [s.id for s in site.course(section).students] == ["L1", "L2", "L3", "L4"]
    again = site.browser.post(f"/s/{section}/scores/files", data={"file": (io.BytesIO(GRADEBOOK.encode()), "g.csv")})
    look = site.browser.get(again.headers["Location"])
    assert "Read it as a whole gradebook" in look.text


def test_a_list_of_names_without_headings_is_a_class_list(site: Site) -> None:
    data = b"Ode, Marit\nPell, Jonas\nQuist, Ana\n"
    answer = site.browser.post("/sections/new", data={"course": "MOSS 101", "file": (io.BytesIO(data), "names.txt")})
    section = int(re.findall(r"/s/(\d+)/", answer.headers["Location"])[0])
    assert [s.name for s in site.course(section).students] == ["Ode, Marit", "Pell, Jonas", "Quist, Ana"]


@pytest.mark.parametrize(
    ("data", "said"),
    [(b"", "holds no students"), (b"\x00\x01\x02", "is not a text file"), (b"PK\x03\x04broken", "damaged")],
)
def test_a_file_that_holds_nothing_is_said_and_makes_no_section(site: Site, data: bytes, said: str) -> None:
    answer = site.browser.post("/sections/new", data={"course": "MOSS 101", "file": (io.BytesIO(data), "x.csv")})
    assert (answer.status_code, said in answer.text, 'value="MOSS 101"' in answer.text) == (422, True, True)
    assert "MOSS" not in site.browser.get("/").text


def test_what_is_no_score_is_kept_as_a_remark_at_its_cell(site: Site) -> None:
    section, address = put_in(site, course="FIBR 120", **FALL)
    page = site.browser.get(address)
    assert "1 cell not taken" in page.text
    site.post(f"{address}/take", **fields(page))
    kept = site.browser.get(f"/s/{section}/scores").text
    assert kept.count('data-remark="see note"') == 1


def test_the_desk_names_sections_of_the_registrar_that_nobody_added(site: Site) -> None:
    assert 'hx-get="/sections/unadded"' in site.browser.get("/").text
    before = site.browser.get("/sections/unadded").text
    assert "HYDR 410-01" not in before
    connection = connect(site.folder / "vinemark.sqlite")
    left = site.section("HYDR 410-01")
    connection.execute("UPDATE office_records SET office_ref = NULL WHERE section_id = ?", (left,))
    connection.close()
    after = site.browser.get("/sections/unadded").text
    assert "At the registrar, and not added here" in after
    assert 'aria-label="Add HYDR 410-01"' in after
    site.weather.now = "down"
    assert site.browser.get("/sections/unadded").text.strip() == ""
