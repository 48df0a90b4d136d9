"""Who reaches what: every route, asked by everybody who has a part. `python -m tests.web.permissions` writes the table.

A route counts as reached where it is not answered by 403, 404 or the way to the sign-in page; what is wrong with a
request that has nothing in it is another matter.
"""

import json
import shutil
import tempfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx
from flask import Flask

from tests.web.conftest import CLOCK, PASSWORD
from vinemark.core.scores.part_limit import PartLimit
from vinemark.demo import prepare
from vinemark.demo.build import ASHDOWN, BRIGHTWATER, FENWICK, GARRICK, HARTWELL, OSTRANDER, VANTERPOOL
from vinemark.settings import Settings
from vinemark.store.database import Connection, connect
from vinemark.web import create_app

TABLE = Path(__file__).parent.parent.parent / "docs" / "permissions.md"
SECTION = "HYDR 410"
ROLES: Mapping[str, str] = {
    "nobody": "", "student": "", "other student": "", "grader": FENWICK[1], "limited": ASHDOWN[1],
    "reviewer": HARTWELL[1], "chair": BRIGHTWATER[1], "administrator": GARRICK[1], "other instructor": VANTERPOOL[1],
    "instructor": OSTRANDER[1],
}  # fmt: skip
NOT_ASKED = {"people.sign_out", "people.delete", "people.sign_out_others", "people.sign_out_there", "asset",
             "identity.signed_out",
             "machines.left", "machines.leave"}  # fmt: skip
"""What would end the asking, what has no person, and what machines ask one another by a signature."""
BY_JSON = {"scores.cells", "scores.undo", "scores.paste"}
HEAD = """# Who reaches what

Every route of Vine Mark, asked for by everybody who has a part, in the demo, with a request that has nothing in it.
Held by `tests/web/test_permissions.py`; `.venv/bin/python -m tests.web.permissions` writes it.

The section is one of the instructor's; the student is in it, the other student in another one; the limited one is a
grader of one item; the chair has its department, and the college lets chairs open sections; the other instructor
teaches something else. A dash stands for no (403, 404), `in` for the way to the sign-in page. That a route is reached
does not mean that all in it is theirs: a page shows what the part allows, and an act asks again.

"""


@dataclass(frozen=True)
class Asked:
    """A method with the address that is asked, and the rule that it stands for."""

    method: str
    rule: str
    endpoint: str
    address: str


def routes(app: Flask, section: int, connection: Connection) -> Iterator[Asked]:
    """Every route, at the section and at things that are there."""
    student = connection.execute("SELECT min(id) AS id FROM student WHERE section_id = ?", (section,)).fetchone()["id"]
    item = connection.execute("SELECT min(item_id) AS id FROM score WHERE section_id = ?", (section,)).fetchone()["id"]
    known = {"section_id": section, "student_id": student, "item_id": item, "number": 0, "after": 0, "name": "course"}
    adapter = app.url_map.bind("localhost")
    for rule in sorted(app.url_map.iter_rules(), key=lambda one: one.rule):
        if rule.endpoint not in NOT_ASKED:
            address = adapter.build(rule.endpoint, {name: known.get(name, 1) for name in rule.arguments})
            for method in sorted((rule.methods or set()) & {"GET", "POST"}):
                yield Asked(method, rule.rule, rule.endpoint, address)


def _set_up(folder: Path) -> tuple[Mapping[str, str], int]:
    """Give everybody their part; whose address is which role's, and the section."""
    with connect(folder / "vinemark.sqlite") as connection:
        section = connection.execute("SELECT id FROM section WHERE course = ?", (SECTION,)).fetchone()["id"]
        item = connection.execute("SELECT min(item_id) AS id FROM score WHERE section_id = ?", (section,)).fetchone()
        first = json.dumps(PartLimit(frozenset({item["id"]})).value)
        for email, limit in ((FENWICK[1], None), (ASHDOWN[1], first)):
            connection.execute(
                "INSERT INTO section_person SELECT ?, id, 'grader', ? FROM person WHERE email = ?",
                (section, limit, email),
            )
        rows = connection.execute(
            "SELECT p.email, t.section_id FROM person p JOIN student t ON t.email = p.email"
        ).fetchall()
    connection.close()
    mine = next(row["email"] for row in rows if row["section_id"] == section)
    other = next(row["email"] for row in rows if row["section_id"] != section)
    return {**ROLES, "student": mine, "other student": other}, section


def reached(demo: Path, compiled: str) -> Mapping[Asked, Sequence[str]]:
    """What each role gets of each route, each in a demo of its own."""
    found: dict[Asked, list[str]] = {}
    for role in ROLES:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            shutil.copy(demo / "vinemark.sqlite", folder / "vinemark.sqlite")
            people, section = _set_up(folder)
            app = _app(folder, compiled)
            browser = app.test_client()
            if people[role]:
                done = browser.post("/sign-in", data={"email": people[role], "password": PASSWORD})
                assert done.status_code == 302, role
            connection = connect(folder / "vinemark.sqlite")
            for one in list(routes(app, section, connection)):
                more: dict[str, Any] = {"json": {"cells": []}} if one.endpoint in BY_JSON else {}
                answer = browser.open(one.address, method=one.method, **more)
                assert answer.status_code < 500 or answer.status_code == 503, (role, one)
                found.setdefault(one, []).append(_word(answer.status_code, answer.headers.get("Location", "")))
            connection.close()
    return found


def _app(folder: Path, compiled: str) -> Flask:
    settings = Settings(
        database=str(folder / "vinemark.sqlite"), clock=CLOCK, address="http://localhost",
        secret="for tests alone, and long enough to sign with", compiled=compiled, cheap_hashes=True,
    )  # fmt: skip
    app = create_app(settings, httpx.MockTransport(_away))
    app.config["WTF_CSRF_ENABLED"] = False
    return app


def _away(request: httpx.Request) -> httpx.Response:
    raise httpx.ConnectError("the registrar is away", request=request)


def _word(status: int, location: str) -> str:
    if status == 401 or (status == 302 and location.startswith("/sign-in")):
        return "in"
    return "–" if status in {403, 404} else "yes"


def table(found: Mapping[Asked, Sequence[str]]) -> str:
    """The document."""
    lines = [f"| route | {' | '.join(ROLES)} |", "|---|" + "---|" * len(ROLES)]
    lines += [f"| {one.method} `{one.rule}` | {' | '.join(words)} |" for one, words in found.items()]
    return HEAD + "\n".join(lines) + "\n"


def main() -> None:
    """Write the table."""
    with tempfile.TemporaryDirectory() as name:
        prepare(Path(name))
        TABLE.write_text(table(reached(Path(name), "")), encoding="utf-8")


if __name__ == "__main__":
    main()
