"""No statement of a page, an act or the work in the background reads through a table that grows."""

import re
from collections.abc import Iterator
from datetime import datetime

import pytest

from tests.browser.stage import free_port
from tests.web.conftest import CLOCK, Site
from tests.web.test_roles import endpoints
from vinemark.clock import Clock
from vinemark.mail.sending import MailServer
from vinemark.section.delivery.postman import Postman
from vinemark.section.delivery.worker import Worker
from vinemark.store import database, outbox
from vinemark.store.database import Connection, connect
from vinemark.store.outbox import Letter

# Tables that have a row for each section, student, cell, act or sign-in.
GROWING = {
    "history", "score", "student", "settled", "section", "section_person", "plan_version", "signing", "sending",
    "read_back", "cell_remark", "item_access", "finding_stand", "grade_change", "grades_opened", "syllabus_version",
    "syllabus_note", "match_signing", "office_records", "roster_taken", "file_looked_at", "file_matching",
    "file_taken", "rehearsal", "person", "signed_in", "sign_in_failure", "security_event", "saved_scale",
    "notice", "waiting_role", "students_see", "question", "letter", "looked",
}  # fmt: skip
# Each with the reason why reading all of it is right.
READ_WHOLE = {
    "SELECT 1 FROM person": "ends at the first row",
    "FROM person WHERE password_hash": "the demo's list of people, and whether there is anybody: the first row",
    "DELETE FROM signed_in WHERE began": "once at a sign-in; there are as many as people are signed in",
}


def scans(connection: Connection, statement: str) -> set[str]:
    """The growing tables that a statement reads through."""
    plan = [row["detail"] for row in connection.execute(f"EXPLAIN QUERY PLAN {statement}")]
    names = re.findall(r"\b(?:FROM|JOIN|UPDATE|INTO)\s+(\w+)(?:\s+(?:AS\s+)?(\w+))?", statement)
    tables = {alias or table: table for table, alias in names} | {table: table for table, _ in names}
    found = {str(match[1]) for line in plan if (match := re.match(r"SCAN (\w+)(?! USING (?:COVERING )?INDEX)", line))}
    return {tables.get(name, name) for name in found} & GROWING


@pytest.fixture
def asked(site: Site, monkeypatch: pytest.MonkeyPatch) -> Iterator[set[str]]:
    """Every statement that is asked, by whatever connection."""
    found: set[str] = set()
    plain = database.connect

    def tracing(path: str) -> Connection:
        made = plain(path)
        made.set_trace_callback(found.add)
        return made

    site.app.extensions["vinemark.connections"][0]._idle.clear()
    monkeypatch.setattr(database, "connect", tracing)
    monkeypatch.setattr("vinemark.section.delivery.rounds.connect", tracing)
    yield found


def test_nothing_that_grows_is_read_through(site: Site, asked: set[str]) -> None:
    section = site.section("HYDR 410-01")
    course = site.course(section)
    cell = {"student": course.students[0].id, "item": next(i.id for _, i in course.plan.items()), "typed": "3"}
    site.sign_in()
    for name, addresses in endpoints(site).items():
        for method, address in addresses:
            if method == "GET":
                assert site.browser.get(address).status_code < 500, name
    site.browser.get("/")
    site.browser.get("/account")
    for number in range(2):
        site.browser.post(f"/s/{section}/scores/cells", json={"key": f"k{number}", "cells": [cell]})
    site.browser.post(f"/s/{section}/settle/student/{course.students[0].id}", data={"grade": "A", "key": "s"})
    Worker(
        str(site.folder / "vinemark.sqlite"),
        Clock(datetime(2026, 12, 19).date(), datetime(2026, 12, 19, 10).time()),
        20,
        site.app.extensions["vinemark.gateway"],
    ).go_round()
    connection = connect(site.folder / "vinemark.sqlite")
    outbox.put_letters(connection, datetime(2026, 12, 19, 10), [Letter("a@b", "x", "y")], section)
    nowhere = MailServer("127.0.0.1", free_port(), "none", "", "", "a@b")
    Postman(str(site.folder / "vinemark.sqlite"), CLOCK, 20, nowhere).go_round()
    statements = {s for s in asked if re.match(r"\s*(SELECT|UPDATE|DELETE|INSERT|WITH)\b", s)}
    assert len(statements) > 60
    wrong = {}
    for statement in statements:
        if any(known in statement for known in READ_WHOLE):
            continue
        through = scans(connection, statement)
        if through:
            wrong[" ".join(statement.split())[:300]] = through
    connection.close()
    assert not wrong, "\n".join(f"{tables}: {statement}" for statement, tables in wrong.items())
