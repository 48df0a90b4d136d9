"""The registrar's pages: a sign-in, and a name beside each act."""

from datetime import date, time
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask import Flask

from tests.office.test_office import RUNS, SECTION, TERM
from vinemark.cli import main
from vinemark.clock import Clock
from vinemark.office import ledger, ledger_registrars
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.pages import OF_EACH
from vinemark.office.schools import LARKMOOR
from vinemark.store.database import connect

CODE = "quince and medlar"


@pytest.fixture
def office(tmp_path: Path) -> Flask:
    path = tmp_path / "office.sqlite"
    settings = OfficeSettings(str(path), "token", Clock(date(2026, 12, 19), time(9, 30)), code=CODE)
    app = create_office(settings)
    app.config["WTF_CSRF_ENABLED"] = False
    with connect(path) as connection:
        ledger.set_school(connection, LARKMOOR)
        ledger.add_term(connection, TERM, RUNS)
        ledger.add_section(connection, SECTION, [])
    connection.close()
    return app


def test_nothing_opens_before_somebody_signed_in(office: Flask) -> None:
    browser = office.test_client()
    pages = [r for r in office.url_map.iter_rules() if r.endpoint.startswith("pages.") and "sign" not in r.endpoint]
    adapter = office.url_map.bind("localhost")
    assert len(pages) > 10
    for rule in pages:
        known = {"ref": "R1", "run": "final", "code": "T", "number": 1}
        address = adapter.build(rule.endpoint, {name: known[name] for name in rule.arguments})
        for method in (rule.methods or set()) & {"GET", "POST"}:
            assert browser.open(address, method=method).headers["Location"] == "/sign-in", address
    assert browser.get("/api/sections").status_code == 401


def test_each_act_has_a_name_beside_it_and_what_is_refused_none(office: Flask) -> None:
    browser = office.test_client()
    answer = browser.post("/sign-in", data={"name": " Ines  Quill ", "code": f"{CODE} "})
    assert answer.headers["Location"] == "/"
    assert "SameSite=Lax" in answer.headers["Set-Cookie"]
    browser.post("/weather", data={"slow_seconds": "0"})
    assert browser.post("/weather", data={"slow_seconds": "many"}).status_code == 422
    browser.post("/sections/R1/runs/final/post")
    page = browser.get("/").text
    assert page.count("Ines Quill") == 3
    assert "turned the weather" in page
    assert "posted grades R1 final" in page
    browser.post("/sign-out")
    assert browser.get("/").headers["Location"] == "/sign-in"


def test_every_act_of_the_pages_has_words(office: Flask) -> None:
    posts = {r.endpoint for r in office.url_map.iter_rules() if "POST" in (r.methods or set())}
    acts = {name.removeprefix("pages.") for name in posts if name.startswith("pages.")}
    assert acts - {"try_sign_in", "sign_out"} == set(OF_EACH)


@pytest.mark.parametrize(
    ("name", "code", "said"), [("Ines", "wrong", "not the registrar"), (" ", CODE, "Type your name")]
)
def test_a_wrong_code_and_no_name_are_refused(office: Flask, name: str, code: str, said: str) -> None:
    answer = office.test_client().post("/sign-in", data={"name": name, "code": code})
    assert (answer.status_code, said in answer.text) == (422, True)


def test_wrong_codes_are_slowed_down(office: Flask) -> None:
    browser = office.test_client()
    tried = [browser.post("/sign-in", data={"name": "Ines", "code": "wrong"}).status_code for _ in range(11)]
    assert tried == [422] * ledger_registrars.WRONG_CODES + [429]
    assert browser.post("/sign-in", data={"name": "Ines", "code": CODE}).status_code == 429


def test_without_a_code_the_demos_registrar_is_there(tmp_path: Path) -> None:
    settings = OfficeSettings(str(tmp_path / "office.sqlite"), "token", Clock(date(2026, 12, 19)))
    app = create_office(settings)
    connection = connect(settings.database)
    ledger.set_school(connection, LARKMOOR)
    connection.close()
    page = app.test_client().get("/")
    assert (page.status_code, "Bronwen Achterberg" in page.text, "Sign out" in page.text) == (200, True, False)


def test_the_command_draws_a_code_and_prints_it(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    kept: list[OfficeSettings] = []
    monkeypatch.setattr("vinemark.commands.office.create_office", kept.append)
    monkeypatch.setattr("vinemark.commands.office.run_server", lambda *_: None)
    monkeypatch.setattr("vinemark.commands.office.refuse_taken", lambda *_: None)
    words = ["office", "--database", str(tmp_path / "o.sqlite")]
    drawn = CliRunner().invoke(main, words, env={"VINEMARK_OFFICE_TOKEN": "t"})
    assert len(kept[0].code) > 9
    assert drawn.stdout == f"The code for the registrar's pages: {kept[0].code}\n"
    said = CliRunner().invoke(main, words, env={"VINEMARK_OFFICE_TOKEN": "t", "VINEMARK_REGISTRAR_CODE": "set by us"})
    assert (kept[1].code, said.stdout) == ("set by us", "")
    CliRunner().invoke(main, words, env={"VINEMARK_OFFICE_TOKEN": "t", "VINEMARK_DEMO": "1"})
    assert kept[2].code == ""
