"""Sections are kept for so many terms, then archived and removed; what is open keeps one, and receipts stay."""

import zipfile
from datetime import date
from pathlib import Path

import pytest
from click.testing import CliRunner

from tests.web.conftest import PASSWORD, Site
from vinemark.cli import main
from vinemark.core.college.college import CollegeChoices
from vinemark.core.course.course import Term
from vinemark.demo.build import VANTERPOOL
from vinemark.exchange.archive import read_archive
from vinemark.store import college
from vinemark.store.database import connect
from vinemark.store.history import Act


@pytest.fixture
def old(site: Site, monkeypatch: pytest.MonkeyPatch) -> Site:
    """The demo two terms later, where a section is kept for two."""
    monkeypatch.setenv("VINEMARK_DATABASE", str(site.folder / "vinemark.sqlite"))
    monkeypatch.setenv("VINEMARK_DAY", "2027-09-01")
    act = Act(None, site.app.extensions["vinemark"].clock.now())
    with connect(site.folder / "vinemark.sqlite") as connection:
        college.write_college_choices(connection, act, CollegeChoices(kept_terms=2))
        summer = Term("Summer 2027", date(2027, 6, 1), date(2027, 8, 1))
        college.write_college_term(connection, act, "", summer)
    connection.close()
    return site


def run(*arguments: str) -> tuple[int, str]:
    done = CliRunner().invoke(main, ["remove-old", *arguments])
    return done.exit_code, done.output


def test_without_a_yes_nothing_is_removed(old: Site, tmp_path: Path) -> None:
    code, said = run(str(tmp_path))
    assert code == 0
    assert "HYDR 410-01, Fall 2026 stays: incompletes are open: 1" in said
    assert "to be removed with --yes" in said
    assert not list(tmp_path.glob("*.zip"))
    assert "HYDR 230-01" in old.browser.get("/").text


def test_what_is_open_keeps_a_section_and_the_rest_leaves_its_receipt(old: Site, tmp_path: Path) -> None:
    place = tmp_path / "archives"
    place.mkdir()
    soil = old.section("SOIL 210-01")
    code, said = run(str(place), "--yes")
    assert code == 0
    kept = [line for line in said.splitlines() if " stays: " in line]
    gone = [line for line in said.splitlines() if line.endswith("Fall 2026")]
    assert len(kept) + len(gone) == 5
    assert "SOIL 210-01, Fall 2026" in gone
    (archive,) = place.glob("*SOIL-210-01.zip")
    assert zipfile.ZipFile(archive).testzip() is None
    assert read_archive(archive.read_bytes()).course.section.short == "SOIL 210-01"
    assert len(list(place.iterdir())) == len(gone)
    # Done once more it does nothing.
    assert "0 sections removed." in run(str(place), "--yes")[1]
    old.browser.post("/sign-out")
    old.sign_in(VANTERPOOL[1], PASSWORD)
    desk = old.browser.get("/").text
    assert "Removed sections (1)" in desk
    assert old.browser.get(f"/s/{soil}/scores").status_code == 404


def test_receipts_are_read_by_who_taught_it_alone(old: Site, tmp_path: Path) -> None:
    assert "HYDR 230-01, Fall 2026\n" in run(str(tmp_path), "--yes")[1]
    numbers = range(1, 6)
    pages = {n: old.browser.get(f"/at/0/removed/{n}") for n in numbers}
    mine = [n for n, page in pages.items() if page.status_code == 200 and "HYDR 230-01" in page.text]
    assert len(mine) == 1
    page = pages[mine[0]]
    assert "accepted" in page.text
    assert "SHA-256" in page.text
    assert old.browser.get(f"/at/0/removed/{mine[0]}?json=1").get_json()[0]["accepted"] > 0
    old.browser.post("/sign-out")
    old.sign_in(VANTERPOOL[1], PASSWORD)
    assert old.browser.get(f"/at/0/removed/{mine[0]}").status_code == 404


def test_nothing_goes_where_the_college_keeps_everything(old: Site, tmp_path: Path) -> None:
    with connect(old.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE college_choice SET value = '0' WHERE name = 'kept_terms'")
    connection.close()
    code, said = run(str(tmp_path), "--yes")
    assert code == 2
    assert "keeps sections until somebody deletes them" in said
    assert run(str(tmp_path / "none"), "--yes")[0] == 2
    assert "set VINEMARK_MAIL" in run(str(tmp_path), "--tell")[1]


def test_who_teaches_is_told_before(old: Site, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("VINEMARK_MAIL", "smtp://127.0.0.1:1")
    monkeypatch.setenv("VINEMARK_MAIL_FROM", "a@b.example")
    monkeypatch.setenv("VINEMARK_ADDRESS", "http://localhost")
    assert "told of." in run(str(tmp_path), "--tell")[1]
    with connect(old.folder / "vinemark.sqlite") as connection:
        found = {tuple(row) for row in connection.execute("SELECT recipient, subject FROM letter")}
    connection.close()
    assert (VANTERPOOL[1], "SOIL 210-01 of Fall 2026 will be archived and removed") in found


def test_an_archive_that_cannot_be_written_leaves_the_section(old: Site, tmp_path: Path) -> None:
    place = tmp_path / "full"
    place.mkdir()
    for record in ("SOIL-210-01", "HYDR-230-01", "BOTN-105-02", "FIBR-120-01", "HYDR-410-01"):
        for number in range(1, 10):
            (place / f"{number:05}-Fall-2026-{record}.zip.unfinished").mkdir(exist_ok=True)
    code, said = run(str(place), "--yes")
    assert code == 2, said
    assert "HYDR 230-01" in old.browser.get("/").text
