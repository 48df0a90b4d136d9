"""Health, request ids, and the log of requests."""

import json
import logging
from pathlib import Path

import pytest

from tests.web.conftest import Site
from vinemark.store.database import can_be_read


def test_health_is_told_to_anybody_and_says_nothing_else(site: Site) -> None:
    found = site.app.test_client().get("/health")
    assert (found.status_code, found.json) == (200, {"status": "ok"})
    assert "Set-Cookie" not in found.headers


@pytest.mark.parametrize("spoil", [lambda path: path.write_bytes(b"no database" * 500), lambda path: path.unlink()])
def test_without_a_database_that_can_be_read_it_is_not_well(site: Site, spoil: object, tmp_path: Path) -> None:
    place = tmp_path / "v.sqlite"
    place.write_bytes((site.folder / "vinemark.sqlite").read_bytes())
    assert can_be_read(place)
    spoil(place)  # type: ignore[operator]
    assert not can_be_read(place)


def test_every_answer_has_an_id_of_its_own(site: Site) -> None:
    ids = {site.browser.get(path).headers["X-Request-Id"] for path in ("/", "/", "/nowhere", "/health")}
    assert len(ids) == 4
    assert all(len(one) == 12 for one in ids)
    assert len(site.browser.post("/", data=b"x" * 40_000_000).headers["X-Request-Id"]) == 12


def test_a_request_is_one_line_without_names(site: Site, caplog: pytest.LogCaptureFixture) -> None:
    section = site.section("HYDR 230-01")
    student = site.course(section).students[0]
    with caplog.at_level(logging.INFO, "vinemark.requests"):
        answer = site.browser.get(f"/s/{section}/papers/working/{student.id}?x=secret")
    (line,) = [record.getMessage() for record in caplog.records]
    told = json.loads(line)
    assert (told["id"], told["status"], told["method"]) == (answer.headers["X-Request-Id"], 200, "GET")
    assert (told["route"], told["section"]) == ("/s/<int:section_id>/papers/working/<student_id>", section)
    assert told["person"]
    assert told["ms"] >= 0
    assert student.id not in line
    assert "secret" not in line


def test_an_error_shows_the_id_that_stands_in_the_log(
    site: Site, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def fails(*_: object) -> None:
        raise RuntimeError("of a test")

    monkeypatch.setattr("vinemark.web.desk.views.page", fails, raising=False)
    monkeypatch.setitem(site.app.view_functions, "desk.show", fails)
    site.app.config["PROPAGATE_EXCEPTIONS"] = False
    answer = site.browser.get("/")
    name = answer.headers["X-Request-Id"]
    assert answer.status_code == 500
    assert f"request {name}." in answer.text
    assert any(name in record.getMessage() and record.levelname == "ERROR" for record in caplog.records)
