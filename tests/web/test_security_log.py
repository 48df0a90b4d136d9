"""What requests leave in the log of security events, and that no score does."""

import pytest
from click.testing import CliRunner

from tests.web.conftest import PASSWORD, Site
from tests.web.test_people_and_privacy import give_role
from vinemark.cli import main
from vinemark.demo.build import OSTRANDER
from vinemark.store.database import connect


def log(site: Site) -> list[tuple[str, str, str]]:
    connection = connect(site.folder / "vinemark.sqlite")
    rows = connection.execute("SELECT kind, email, what FROM security_event ORDER BY id").fetchall()
    connection.close()
    return [tuple(row) for row in rows]


def test_coming_in_being_kept_out_and_going(site: Site) -> None:
    stranger = site.app.test_client()
    for _ in range(6):
        stranger.post(
            "/sign-in", data={"email": OSTRANDER[1], "password": "wrong"}, environ_base={"REMOTE_ADDR": "10.1.1.1"}
        )
    site.browser.post("/sign-out")
    kinds = [(kind, email) for kind, email, _ in log(site)]
    expected = ["signed in", *["wrong password"] * 5, "kept waiting", "signed out"]
    assert kinds == [(kind, OSTRANDER[1]) for kind in expected]


def test_a_password_never_stands_in_it(site: Site) -> None:
    site.app.test_client().post("/sign-in", data={"email": PASSWORD, "password": "the wrong one"})
    assert "the wrong one" not in str(log(site))


def test_refusals_and_what_is_taken_out(site: Site) -> None:
    section = site.section("HYDR 230-01")
    site.browser.get(f"/s/{section}/files/scores-csv")
    site.browser.post(f"/s/{section}/after/archive", data={"key": "z"})
    other = site.section("SOIL 210-01")
    give_role(site, other, "grader")
    site.browser.get(f"/s/{other}/settle")
    found = log(site)[1:]
    assert [(kind, what) for kind, _, what in found] == [
        ("file taken out", f"/s/{section}/files/scores-csv"),
        ("file taken out", f"/s/{section}/after/archive"),
        ("refused", f"GET /s/{other}/settle"),
    ]


@pytest.mark.parametrize(("role", "seen"), [("reviewer", True), ("grader", True), (None, False)])
def test_a_students_record_seen_by_others_than_the_instructor(site: Site, role: str | None, seen: bool) -> None:
    section = site.section("SOIL 210-01" if role else "HYDR 230-01")
    if role:
        give_role(site, section, role)
    connection = connect(site.folder / "vinemark.sqlite")
    student = connection.execute("SELECT id FROM student WHERE section_id = ?", (section,)).fetchone()["id"]
    connection.close()
    assert site.browser.get(f"/s/{section}/scores/working/{student}").status_code == 200
    assert (("record seen", OSTRANDER[1], f"/s/{section}/scores/working/{student}") in log(site)) == seen


def test_what_a_stranger_typed_is_no_formula_in_it(site: Site) -> None:
    site.app.test_client().post("/sign-in", data={"email": "=1+1", "password": "x"})
    database = {"VINEMARK_DATABASE": str(site.folder / "vinemark.sqlite"), "VINEMARK_DAY": "2026-12-19"}
    said = CliRunner().invoke(main, ["security-log"], env=database)
    assert said.stdout.splitlines()[-1].split(",")[2] == "'=1+1"


def test_an_administrator_reads_it_from_the_command_line(site: Site) -> None:
    database = {"VINEMARK_DATABASE": str(site.folder / "vinemark.sqlite"), "VINEMARK_DAY": "2026-12-19"}
    said = CliRunner().invoke(main, ["security-log", "--days", "2"], env=database)
    heading, first = said.stdout.splitlines()[:2]
    assert heading == "at,event,email,address,what"
    assert first.split(",")[1:] == ["signed in", OSTRANDER[1], "127.0.0.1", "a new device"]
