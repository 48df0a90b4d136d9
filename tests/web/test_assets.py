"""Styles, scripts and fonts: kept by browsers for good, without a cookie, compressed; and pages, compressed."""

import gzip
import re
from pathlib import Path

import pytest

from tests.web.conftest import Site
from vinemark.web.ui import assets

WEB = Path(assets.__file__).parent.parent
GZIP = {"Accept-Encoding": "gzip, br"}


def addresses(site: Site, path: str) -> list[str]:
    found = re.findall(r'(?:href|src)="(/pages/[^"]+)"', site.browser.get(path).text)
    assert len(found) > 8
    return found


def test_every_address_of_a_page_is_answered_and_may_be_kept_for_good(site: Site) -> None:
    site.sign_in()
    section = site.section("HYDR 230-01")
    for address in addresses(site, f"/s/{section}/scores"):
        answer = site.browser.get(address)
        assert answer.status_code == 200, address
        assert answer.headers["Cache-Control"] == "public, max-age=31536000, immutable"
        assert "Set-Cookie" not in answer.headers
        assert "Cookie" not in answer.headers.get("Vary", "")
        assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_what_a_script_or_style_names_beside_it_keeps_the_digest(site: Site) -> None:
    named_there = addresses(site, f"/s/{site.section('HYDR 230-01')}/scores")
    start = next(one for one in named_there if one.endswith("ui/app.js"))
    base = start.removesuffix("ui/app.js")
    seen, waiting = set(), [one for one in named_there if one.endswith(("app.js", "sheet.js", "fonts.css"))]
    while waiting:
        address = waiting.pop()
        if address in seen:
            continue
        seen.add(address)
        answer = site.browser.get(address)
        assert answer.status_code == 200, address
        if not address.endswith((".js", ".css")):
            continue
        for named in re.findall(r'(?:from|import) "(\.[^"]+)"|url\("([^"]+)"\)', answer.get_data(as_text=True)):
            parts = [*address.split("/")[:-1]]
            for step in "".join(named).split("/"):
                parts = parts[:-1] if step == ".." else parts if step == "." else [*parts, step]
            waiting.append("/".join(parts))
    assert len(seen) > 8
    assert all(one.startswith(base) for one in seen)


def test_an_address_of_another_version_is_answered_and_not_kept(site: Site) -> None:
    answer = site.browser.get("/pages/0123456789abcdef/ui/base.css")
    assert (answer.status_code, answer.headers["Cache-Control"]) == (200, "no-cache")


@pytest.mark.parametrize(
    "name", ["ui/assets.py", "../settings.py", "ui/templates/base.html", "static/vendor/VENDORED.json", "ui/none.css"]
)
def test_nothing_else_is_served(site: Site, name: str) -> None:
    address = assets._digest()
    assert site.browser.get(f"/pages/{address}/{name}").status_code == 404
    with site.app.test_request_context(), pytest.raises(KeyError):
        assets.asset(name)


def test_texts_are_compressed_for_who_takes_it_and_fonts_are_not(site: Site) -> None:
    for name, packs in (("ui/base.css", True), ("ui/app.js", True), ("static/vendor/source-sans-3.woff2", False)):
        with site.app.test_request_context():
            address = assets.asset(name)
        plain, packed = site.browser.get(address), site.browser.get(address, headers=GZIP)
        assert plain.data == (WEB / name).read_bytes()
        assert ("Content-Encoding" in packed.headers) is packs
        assert (gzip.decompress(packed.data) if packs else packed.data) == plain.data
        assert len(packed.data) < len(plain.data) if packs else True
        assert "Accept-Encoding" in plain.headers["Vary"]


def test_a_page_is_compressed_to_a_fraction_and_is_the_same(site: Site) -> None:
    site.sign_in()
    section = site.section("HYDR 230-01")
    packed = site.browser.get(f"/s/{section}/scores", headers=GZIP)
    plain = site.browser.get(f"/s/{section}/scores")
    text = " ".join(gzip.decompress(packed.data).decode().split())
    assert re.sub(r'content="[^"]+"|value="[^"]+"', "", text) == re.sub(
        r'content="[^"]+"|value="[^"]+"', "", plain.text
    )
    assert len(packed.data) * 4 < len(plain.data)
    assert packed.headers["Cache-Control"] == "no-store"
    small = site.browser.get("/session", headers=GZIP)
    assert "Content-Encoding" not in small.headers
    refused = site.browser.get(f"/s/{section}/scores", headers={"Accept-Encoding": "gzip;q=0"})
    assert "Content-Encoding" not in refused.headers


def test_a_file_that_is_compressed_already_goes_out_as_it_is(site: Site) -> None:
    site.sign_in()
    section = site.section("HYDR 230-01")
    links = re.findall(r'href="(/s/\d+/files/[^"]+)"', site.browser.get(f"/s/{section}/files").text)
    workbook = next(link for link in links if "workbook" in link or "xlsx" in link)
    answer = site.browser.get(workbook, headers=GZIP)
    assert (answer.status_code, "Content-Encoding" in answer.headers) == (200, False)
    assert answer.data.startswith(b"PK")


def test_every_answer_says_of_which_version_its_pages_are(site: Site) -> None:
    page = site.browser.get("/")
    named = re.search(r'<meta name="version" content="([0-9a-f]{16})">', page.text)
    assert named is not None
    assert named[1] == assets.version() == page.headers["X-Vine-Mark-Version"]
    assert site.browser.get("/session").headers["X-Vine-Mark-Version"] == named[1]
