"""Files that take long: a page that waits for them, for the one who asked alone."""

import io
import re
import threading
import time
from collections.abc import Iterator

import pdfplumber
import pytest

from tests.web.conftest import PASSWORD, Site
from vinemark.demo.build import VANTERPOOL
from vinemark.exchange import apart
from vinemark.section import making
from vinemark.store.database import connect


@pytest.fixture
def in_a_hurry(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Nobody waits for a file."""
    monkeypatch.setattr(making, "WAITED_SECONDS", 0.0)
    yield


def ended(site: Site, page: str) -> str:
    """The progress of a file once it no longer moves."""
    until = time.monotonic() + 60
    while time.monotonic() < until:
        text = site.browser.get(f"{page}/progress").text
        if "every 1s" not in text:
            return text
        time.sleep(0.1)
    raise AssertionError(text)


@pytest.mark.usefixtures("in_a_hurry")
def test_a_pdf_is_made_in_the_background_and_waits_on_the_export_page(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    answer = site.browser.get(f"/s/{hydr}/papers/audit?pdf=1")
    assert answer.status_code == 302
    page = answer.headers["Location"]
    shown = site.browser.get(page).text
    assert "<h1>Audit as PDF</h1>" in shown
    assert "You can leave this page" in shown
    assert site.browser.get(f"/s/{hydr}/papers/audit?pdf=1").headers["Location"] == page
    file = re.search(r'href="([^"]+/file)"', ended(site, page))
    assert file is not None
    assert "Audit as PDF" in site.browser.get(f"/s/{hydr}/files").text
    with pdfplumber.open(io.BytesIO(site.browser.get(file[1]).data)) as read:
        assert "HYDR 230-01 Watershed" in read.pages[0].extract_text()


def test_a_workbook_that_is_soon_ready_comes_at_once(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    answer = site.browser.get(f"/s/{hydr}/files/workbook")
    assert (answer.status_code, answer.data[:2]) == (200, b"PK")
    assert answer.headers["Content-Disposition"].startswith("attachment")


def test_two_students_of_one_name_have_each_their_own_paper(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    one, other = (student.id for student in site.course(hydr).students[:2])
    with connect(site.folder / "vinemark.sqlite") as connection:
        for student in (one, other):
            values = ("田", "中", student)
            connection.execute("UPDATE student SET family_name = ?, given_name = ? WHERE id = ?", values)
    connection.close()
    site.app.extensions["vinemark.snapshots"].__init__()
    for student in (one, other):
        answer = site.browser.get(f"/s/{hydr}/papers/working/{student}?pdf=1")
        with pdfplumber.open(io.BytesIO(answer.data)) as read:
            assert student in read.pages[0].extract_text()
        assert student in answer.headers["Content-Disposition"]


def test_an_archive_that_cannot_be_made_now_is_a_sentence(site: Site, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(apart, "_makers", threading.Semaphore(0))
    monkeypatch.setattr(apart, "MAKERS_PATIENCE", 0.05)
    answer = site.browser.post(f"/s/{site.section('HYDR 230-01')}/after/archive")
    assert answer.status_code == 503
    assert "It cannot be made now, other files are being made" in answer.text


def test_it_is_nobody_elses(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    site.browser.get(f"/s/{hydr}/papers/audit?pdf=1")
    page = re.search(r'href="(/s/\d+/made/[^"]+)"', site.browser.get(f"/s/{hydr}/files").text)
    assert page is not None
    other = site.app.test_client()
    other.post("/sign-in", data={"email": VANTERPOOL[1], "password": PASSWORD})
    for address in (page[1], f"{page[1]}/progress", f"{page[1]}/file"):
        assert site.browser.get(address).status_code == 200
        assert other.get(address).status_code == 404
