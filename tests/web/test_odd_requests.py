"""Requests of another shape, drawn by a seed over all routes: none ends in an error of the server, none that is refused
changes anything."""

import io
import json
import random
import re
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from werkzeug.routing import Rule
from werkzeug.test import TestResponse

from tests.seeds import seed
from tests.web.conftest import Site
from vinemark import web
from vinemark.web import incoming

REQUESTS = 2_000
WORDS = [
    "", " ", "\0", "a\0b", "\ufeff", "\u202e", "½", "٣", "１２", "\u22125", "0", "1e9", "1E99999", "nan", "inf",
    "1/0", "1/3",
    "-1", "99999999999", str(2**63 - 1), str(2**63), "9" * 5_000, "x" * 4_000, "missing", "exempt", "A", "F", "=1+1",
    "2026-02-30", "0001-01-01", "9999-12-31", "2026-12-19", "on", "true", "[]", "{}", "{{7*7}}", "<b>", "../..", "%00",
    "midterm", "final", "percent", "points", "weighted", "lowest 2", "best 99", "😀", "\r\nX: y", "\u2028",
]  # fmt: skip
STEPS = [
    "0",
    "1",
    "-1",
    "2147483648",
    str(2**63 - 1),
    str(2**63),
    "1" + "0" * 40,
    "x" * 900,
    "..",
    "²",
    "nobody",
    "1.5",
    "a\0b",
]
KINDS = [
    "application/json",
    "text/plain",
    "multipart/form-data",
    "multipart/form-data; boundary=",
    "application/xml",
    "",
]
FILES = [b"", b"\0", b"id,a\n", b"PK\x03\x04x", b"%PDF-1.4 x", b"{", b"[1]", b"\xff\xfe\0", bytes(range(256))]
NAMES = ["a.csv", "a.xlsx", "a.ods", "a.pdf", "a.docx", "a.html", "a.json", "a.zip", "../../a", "a", ".", "é.md"]


def fields() -> list[str]:
    """Every name that a form of the application sends."""
    found: set[str] = set()
    for path in Path(web.__file__).parent.rglob("*.html"):
        found |= set(re.findall(r'\bname="([a-z][a-z_0-9-]*)"', path.read_text(encoding="utf-8")))
    return sorted(found)


class Odd:
    """Draws requests that nearly fit."""

    def __init__(self, site: Site, chance: random.Random) -> None:
        self.chance = chance
        self.rules = sorted(
            (r for r in site.app.url_map.iter_rules() if r.endpoint not in {"people.sign_out", "static"}),
            key=lambda r: (r.rule, r.endpoint),
        )
        self.fields = fields()
        self.sections = [site.section(short) for short in ("HYDR 230-01", "SOIL 210-01")]
        course = site.course(self.sections[0])
        self.known = [*(s.id for s in course.students[:5]), *(i.id for _, i in course.plan.items()), "q1", "c1"]

    def word(self) -> str:
        return self.chance.choice(self.known if self.chance.random() < 0.3 else WORDS)

    def value(self, depth: int = 0) -> Any:
        drawn = self.chance.random()
        if drawn < 0.3:
            return self.chance.choice([None, True, 0, -1, 1, 2**63, 10**40, 1.5, 1e308])
        if drawn < 0.5 and depth < 3:
            return [self.value(depth + 1) for _ in range(self.chance.randrange(4))]
        if drawn < 0.7 and depth < 3:
            return {self.chance.choice(["cells", "student", "item", "typed", "was", "key", "entry", "remark", "text"]):
                    self.value(depth + 1) for _ in range(self.chance.randrange(5))}  # fmt: skip
        return "\ud800" + self.word() if drawn < 0.75 else self.word()

    def address(self, rule: Rule) -> str:
        def step(match: re.Match[str]) -> str:
            if self.chance.random() < 0.15:
                return self.chance.choice(STEPS)
            if match[0] == "<int:section_id>":
                return str(self.chance.choice(self.sections))
            return str(self.chance.randrange(1, 9)) if match[0].startswith("<int") else self.word() or "x"

        path = re.sub(r"<[^>]+>", step, rule.rule)
        if self.chance.random() < 0.3:
            path += "?" + "&".join(f"{self.chance.choice(self.fields)}=1{self.chance.randrange(99)}" for _ in range(2))
        return path.replace("\r", "").replace("\n", "")

    def body(self) -> dict[str, Any]:
        drawn = self.chance.random()
        if drawn < 0.2:
            cells = [{"student": self.word(), "item": self.word(), "typed": self.word()}]
            sent = {"key": "k", "cells": cells, "entry": 1} if self.chance.random() < 0.5 else self.value()
            raw = json.dumps(sent).encode()
            raw = self.chance.choice([raw, raw, raw, raw[: len(raw) // 2], b"[" * 90_000, b'{"a":' * 40_000])
            return {"data": raw, "content_type": "application/json"}
        form = {self.chance.choice(self.fields): self.word() for _ in range(self.chance.randrange(6))}
        if drawn < 0.35:
            name = self.chance.choice(["file", "people", "evidence", "answer"])
            return {"data": form | {name: (io.BytesIO(self.chance.choice(FILES)), self.chance.choice(NAMES))}}
        if drawn < 0.4:
            return {"data": b"a=b", "content_type": self.chance.choice(KINDS)}
        return {"data": form}

    def requests(self) -> Iterator[tuple[str, str, dict[str, Any]]]:
        for _ in range(REQUESTS):
            rule = self.chance.choice(self.rules)
            methods = sorted(rule.methods or {"GET"})
            method = self.chance.choice([*methods, "POST", "PUT"] if self.chance.random() < 0.05 else methods)
            more = self.body() if method in {"POST", "PUT"} else {}
            if self.chance.random() < 0.3:
                more["headers"] = {"HX-Request": "true"}
            yield method, self.address(rule), more


def _kept(folder: Path) -> int:
    """What tells whether anything was written."""
    connection = sqlite3.connect(folder / "vinemark.sqlite")
    found: int = connection.execute("SELECT coalesce(max(id), 0) FROM history").fetchone()[0]
    connection.close()
    return found


def asked(site: Site, method: str, path: str, more: dict[str, Any]) -> TestResponse:
    return site.browser.open(path, method=method, **more)


@pytest.mark.timeout(300)
def test_odd_requests_are_answered_and_change_nothing_when_refused(site: Site) -> None:
    site.app.config["PROPAGATE_EXCEPTIONS"] = False
    odd = Odd(site, random.Random(seed(26)))
    wrong: list[str] = []
    statuses: set[int] = set()
    kept = _kept(site.folder)
    for number, (method, path, more) in enumerate(odd.requests()):
        answer = asked(site, method, path, more)
        statuses.add(answer.status_code)
        now = _kept(site.folder)
        if answer.status_code >= 500 and answer.status_code != 503:
            wrong.append(f"{answer.status_code} {method} {path[:90]} {str(more)[:200]}")
        if answer.status_code in {400, 404, 405, 413, 415} and now != kept:
            wrong.append(f"written by {method} {path[:90]} {str(more)[:200]}")
        kept = now
        if number % 100 == 0:
            site.sign_in()
    assert not wrong, "\n".join(wrong[:20])
    assert {200, 302, 400, 404, 422} <= statuses


@pytest.mark.parametrize(
    ("path", "size", "status"),
    [
        ("/sign-in", incoming.SMALL_BODY + 1, 413),
        ("/first-account", incoming.SMALL_BODY + 1, 413),
        ("/s/1/plan/weight", incoming.LARGEST_BODY + 1, 413),
        ("/s/1/syllabus", incoming.LARGEST_FILE + 1, 413),
        ("/sections/new", incoming.LARGEST_ARCHIVE + 1, 413),
    ],
)
def test_a_body_larger_than_its_place_takes_is_refused(site: Site, path: str, size: int, status: int) -> None:
    assert site.browser.post(path, data={"email": "x" * size}).status_code == status


def test_the_places_that_take_more_or_less_are_places(site: Site) -> None:
    assert set(site.app.view_functions) >= set(incoming.BODY_LIMITS)


def test_an_archive_may_be_larger_than_other_files(site: Site) -> None:
    head = b'--edge\r\nContent-Disposition: form-data; name="file"; filename="a.json"\r\n\r\n'
    body = head + b"{" * (incoming.LARGEST_FILE + 1) + b"\r\n--edge--\r\n"
    answer = site.browser.post("/sections/new", data=body, content_type="multipart/form-data; boundary=edge")
    assert (answer.status_code, "was not imported" in answer.text) == (422, True)
