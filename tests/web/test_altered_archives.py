"""Archives that were altered by a seed, their digests mended: each is refused in words, or every page of it opens."""

import hashlib
import io
import json
import random
import re
import zipfile
from typing import Any

import pytest

from tests.exchange.test_archive_values import leaves, put
from tests.seeds import seed
from tests.web.conftest import Site

ALTERED = 24
STEPS = ("plan", "scores", "audit", "settle", "submit", "after", "history", "syllabus", "files")
WRONG: list[Any] = [
    None, 5, -1, True, 1.5, 10**30, "", "zzz", "x" * 30_000, "a\0b", "<script>alert(1)</script>", "{}", "[]", [], {},
    [None], [{}], {"a": 1}, "0001-01-01", "9999-12-31", "2026-12-19T10:00:00+02:00", "-3", "9" * 400, "missing",
]  # fmt: skip


def altered(data: bytes, chance: random.Random) -> bytes:
    """One value of one file is another one, and the list of digests fits again."""
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    name = chance.choice([n for n in files if n.endswith(".json") and n != "manifest.json" and not n.startswith("rec")])
    tree = json.loads(files[name] or b"null")
    paths = list(leaves(tree))
    if paths:
        put(tree, chance.choice(paths), chance.choice(WRONG))
        files[name] = json.dumps(tree).encode()
    listed = json.loads(files["manifest.json"])
    listed["files"] = {n: hashlib.sha256(d).hexdigest() for n, d in files.items() if n != "manifest.json"}
    files["manifest.json"] = json.dumps(listed).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for each, content in files.items():
            made.writestr(each, content)
    return out.getvalue()


@pytest.mark.timeout(240)
def test_an_altered_archive_is_refused_in_words_or_every_page_of_it_opens(site: Site) -> None:
    chance = random.Random(seed(16))
    section = site.section("HYDR 410-01")
    data = bytes(site.browser.post(f"/s/{section}/after/archive", data={"key": "z1"}).data)
    site.app.config["PROPAGATE_EXCEPTIONS"] = False
    refused = 0
    for number in range(ALTERED):
        sent = {"file": (io.BytesIO(altered(data, chance)), "a.zip"), "key": f"i{number}"}
        answer = site.browser.post("/sections/new", data=sent)
        if answer.status_code == 422:
            assert re.search(r"This file was not imported: \S+ \S+ \S+", answer.text)
            refused += 1
            continue
        assert answer.status_code == 302
        made = re.search(r"/s/(\d+)/", answer.headers["Location"])
        assert made is not None
        for step in STEPS:
            assert site.browser.get(f"/s/{made[1]}/{step}").status_code in {200, 403, 404}, (number, step)
        assert site.browser.get("/").status_code == 200
    assert 0 < refused < ALTERED
