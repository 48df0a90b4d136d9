"""With a full or failing disk pages are read, nothing is saved by halves, and what to do is said; then all goes on."""

from collections.abc import Iterator

import pytest

from tests.faults.disk import FULL, IO_WRITE, Disk, below_sqlite
from tests.web.conftest import Site
from vinemark.store.database import Connections

PAGES = ("plan", "scores", "audit", "settle", "submit", "after", "history", "class", "files", "papers/class")


@pytest.fixture
def disk(site: Site) -> Iterator[Disk]:
    """The disk below all connections of the site from here on."""
    with below_sqlite(Disk()) as disk:
        site.app.extensions["vinemark.connections"][0] = Connections(site.folder / "vinemark.sqlite")
        site.sign_in()
        yield disk


@pytest.mark.parametrize("code", [FULL, IO_WRITE])
def test_pages_are_read_and_a_save_says_that_nothing_was_saved(site: Site, disk: Disk, code: int) -> None:
    section = site.section("HYDR 230-01")
    before = site.course(section)
    disk.plan(1, code, stays=True)
    assert site.browser.get("/").status_code == 200
    for page in PAGES:
        assert site.browser.get(f"/s/{section}/{page}").status_code == 200, page
    answer = site.browser.post(f"/s/{section}/plan/rename-category", data={"category": "c1", "name": "Labs"})
    assert answer.status_code == 507
    assert "Nothing was changed" in answer.text
    assert disk.failed
    disk.plan(None)
    assert site.course(section) == before
    site.post(f"/s/{section}/plan/rename-category", category="c1", name="Labs")
    assert site.course(section).plan.categories[0].name == "Labs"


def test_a_score_is_not_refused_so_that_the_browser_keeps_it_and_sends_it_again(site: Site, disk: Disk) -> None:
    section = site.section("HYDR 230-01")
    student = site.course(section).students[0].id
    sent = {"cells": [{"student": student, "item": "q1", "typed": "3"}], "key": "one"}
    disk.plan(1, FULL, stays=True)
    for headers in ({}, {"HX-Request": "true"}):
        answer = site.browser.post(f"/s/{section}/scores/cells", json=sent, headers=headers)
        assert (answer.status_code, answer.headers["X-Vine-Mark"]) == (507, "answer")
        assert "Nothing was changed" in answer.text
    disk.plan(None)
    assert site.browser.post(f"/s/{section}/scores/cells", json=sent).status_code == 200
    assert site.course(section).cell(student, "q1") == 3


def test_nobody_signs_in_where_it_cannot_be_kept_and_the_reason_is_said(site: Site, disk: Disk) -> None:
    site.browser.post("/sign-out")
    disk.plan(1, FULL, stays=True)
    answer = site.sign_in()
    assert answer.status_code == 507
    assert "The disk is full" in answer.text
    disk.plan(None)
    assert site.sign_in().status_code == 302


def test_what_is_damaged_is_said_with_what_to_do_in_the_log(
    site: Site, disk: Disk, caplog: pytest.LogCaptureFixture
) -> None:
    disk.plan(None)
    path = site.folder / "vinemark.sqlite"
    path.write_bytes(path.read_bytes()[:4096] + b"\xff" * 400_000)
    for ending in ("-wal", "-shm"):
        path.with_name(path.name + ending).unlink(missing_ok=True)
    site.app.extensions["vinemark.connections"][0] = Connections(path)
    answer = site.browser.get("/")
    assert answer.status_code == 500
    assert "there are backups" in answer.text
    assert "vinemark restore" in caplog.text
    assert site.browser.get("/health").status_code == 503
