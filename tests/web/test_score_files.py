"""Importing scores over HTTP: put in, match, look, take all or some, undo; and what comes out again."""

import csv
import io
import re
import zipfile
from fractions import Fraction
from typing import Any

import pytest
from openpyxl import load_workbook
from werkzeug.test import TestResponse

from tests.web.conftest import Site
from vinemark.store.database import connect


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


def put_in(site: Site, hydr: int, data: bytes | str, name: str = "quiz.csv") -> TestResponse:
    content = data.encode() if isinstance(data, str) else data
    upload = {"file": (io.BytesIO(content), name)}
    return site.browser.post(f"/s/{hydr}/scores/files", data=upload, follow_redirects=True)


def file_id(page: TestResponse) -> str:
    found = re.search(r"/scores/files/(\d+)/match", page.text)
    assert found
    return found[1]


def digest(page: TestResponse) -> str:
    found = re.search(r'name="digest" value="(\w+)"', page.text)
    assert found
    return found[1]


def test_looked_at_matched_taken_in_part_and_undone(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    one, two, three = before.students[:3]
    text = f"Student,Map quizz 1,Total\n{one.plain_name},1.5,9\n{two.plain_name}x,2,9\n{three.plain_name},oops,1\n"
    look = put_in(site, hydr, text)
    for shown in ("like Map quiz 1", "1</strong> unknown", f"like {two.name}", "No column is matched with an item"):
        assert shown in look.text
    address = f"/s/{hydr}/scores/files/{file_id(look)}"
    matched = site.post(f"{address}/match", **{"column-0": "name", "column-1": "q1", "column-2": "", "row-3": two.id})
    for shown in ("Import 2 of 2", "line 4, Map quiz 1", "→ 1.5", "→ 2"):
        assert shown in matched.text
    assert re.search(
        r"Map quiz 1</th><td>0</td><td>2</td></tr>\s*<tr><th scope=\"row\">All</th><td>0</td>", matched.text
    )
    assert "3 students" in site.browser.get(f"{address}/found").text
    assert site.course(hydr) == before
    place = f"{one.id} q1"
    page = site.post(f"{address}/take", digest=digest(matched), take=place, key="k").text
    assert "1 score of 1 student imported from quiz.csv" in page
    assert site.course(hydr).cell(one.id, "q1") == Fraction("1.5")
    assert site.course(hydr).cell(two.id, "q1") == before.cell(two.id, "q1")
    told = site.browser.get(f"/s/{hydr}/scores/history/{one.id}/q1").text
    assert "from quiz.csv" in told
    entry = max(int(n) for n in re.findall(r"/history/undo/(\d+)", page))
    site.post(f"/s/{hydr}/history/undo/{entry}", step="scores")
    assert site.course(hydr) == before
    again = put_in(site, hydr, text.replace("1.5", "2.5"))
    assert "Import 2 of 2" in again.text


def test_what_changed_since_the_look_is_looked_at_again(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[0].id
    look = put_in(site, hydr, f"id,Map quiz 1\n{student},1.5\n")
    address, seen = f"/s/{hydr}/scores/files/{file_id(look)}", digest(look)
    cell = {"student": student, "item": "q1", "typed": "4"}
    site.browser.post(f"/s/{hydr}/scores/cells", json={"cells": [cell], "key": "x"})
    page = site.post(f"{address}/take", digest=seen, take=f"{student} q1", key="k")
    assert "nothing was imported" in page.text
    assert "4 → 1.5" in page.text
    assert site.course(hydr).cell(student, "q1") == 4
    taken = site.post(f"{address}/take", digest=digest(page), take=f"{student} q1", key="k2")
    assert "imported from quiz.csv" in taken.text
    assert site.browser.get(address).status_code == 404


def test_another_persons_file_is_not_there(site: Site, hydr: int) -> None:
    look = put_in(site, hydr, f"id,Map quiz 1\n{site.course(hydr).students[0].id},1\n")
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE file_looked_at SET person_id = 2")
    connection.close()
    assert site.browser.get(f"/s/{hydr}/scores/files/{file_id(look)}").status_code == 404


@pytest.mark.parametrize(
    ("data", "name", "words"),
    [
        (b"", "", "Choose a file"),
        (b"id", "a.csv", "a.csv needs a row of headings"),
        (bytes(range(256)) * 1_000, "junk.xlsx", "junk.xlsx is not a text file"),
        (b"PK\x03\x04zzz", "x.ods", "x.ods is damaged"),
    ],
)
def test_an_odd_file_is_refused_at_its_field(site: Site, hydr: int, data: bytes, name: str, words: str) -> None:
    page = put_in(site, hydr, data, name)
    assert page.status_code == 422
    assert words in page.text


def test_every_export_comes_back_or_opens(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    page = site.browser.get(f"/s/{hydr}/files").text
    names = re.findall(rf'href="/s/{hydr}/files/([\w-]+)"', page)
    assert len(names) == 6
    taken = {name: site.browser.get(f"/s/{hydr}/files/{name}") for name in names}
    assert all(answer.status_code == 200 and "attachment" in answer.headers["Content-Disposition"]
               for answer in taken.values())  # fmt: skip
    rows = list(csv.DictReader(io.StringIO(taken["scores-csv"].text)))
    assert [row["id"] for row in rows] == [s.id for s in course.students]
    same = put_in(site, hydr, taken["scores-csv"].data, "back.csv").text
    assert "<strong>0</strong> new" in same
    assert "<strong>0</strong> changed" in same
    sheet: Any = load_workbook(io.BytesIO(taken["scores-xlsx"].data)).active
    assert sheet.max_row == len(course.students) + 1
    assert "There is nothing to import" in put_in(site, hydr, taken["scores-xlsx"].data, "back.xlsx").text
    assert "There is nothing to import" in put_in(site, hydr, taken["oneroster"].data, "back.zip").text
    assert "results.csv" in zipfile.ZipFile(io.BytesIO(taken["oneroster"].data)).namelist()
    assert site.browser.get(f"/s/{hydr}/files/nothing").status_code == 404


def test_a_class_from_a_oneroster_zip_becomes_a_section(site: Site, hydr: int) -> None:
    data = site.browser.get(f"/s/{hydr}/files/oneroster").data
    upload = {"file": (io.BytesIO(data), "class.zip"), "key": "z"}
    page = site.browser.post("/sections/new", data=upload, follow_redirects=True)
    assert "HYDR 230-01 imported from class.zip" in page.text
    broken = {"file": (io.BytesIO(data[:300]), "class.zip")}
    assert "is damaged" in site.browser.post("/sections/new", data=broken).text
