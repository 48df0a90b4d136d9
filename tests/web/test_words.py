"""What stands on every page: the words of the trade and ours, dates as the college writes them, labels that agree.

The list is what instructors and registrars say (common practice, no source); each entry names the word to use.
"""

import re
from collections.abc import Iterator

import pytest
from bs4 import BeautifulSoup, Tag
from flask.testing import FlaskClient

from tests.web.conftest import CLOCK, Site
from vinemark.core.audit import CODES
from vinemark.office.app import OfficeSettings, create_office

INSTEAD_OF = {
    r"\brehears": "preview",
    r"\bin force\b": "weight now; the plan that counts; apply",
    r"\bceiling": "cap",
    r"\bonly planned\b": "does not count yet",
    r"\bby own shares\b": "by percentages you set",
    r"\blet stand\b|\blet it stand\b": "accept as is",
    r"\bmend": "fix",
    r"\bpull(s|ed|ing)?\b": "update from the registrar",
    r"\bread back\b": "check what the registrar has",
    r"\bthe office\b": "the registrar",
    r"\bsendings?\b": "submission",
    r"\bheld back\b": "hidden",
    r"\bclauses?\b": "sentence",
    r"\bdigests?\b": "checksum",
    r"\be-mail": "email",
    r"\bbeside it\b": "name what it is",
    r"\btake it\b|\btake the file\b|\btake back\b": "import, put back",
    r"\bwhere it stands\b": "status",
    r"\b\d+ (stop|look)\b": "must fix, to check",
    r"\bevery write\b|\bstands here\b": "is listed",
    r"\bgive your word\b": "confirm",
}
DAY_FIRST = r"\b\d{1,2} (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)[a-z]*\b(?! \d{1,2}\b)"
TWENTY_FOUR = r"(?<![\d:.])([01]?\d|2[0-3]):[0-5]\d(?! ?[AP]M|[:\d])"
ISO_DAY = r"(?<![\w/.-])\d{4}-\d\d-\d\d(?![\w-]|\.\w)"
JSON_TEXT = r'[{\[]\s*"[^"]*"\s*[:,\]]'
ONE_OF_MANY = r"(?:^|[.,;:·(] ?)1 (items|students|scores|grades|findings|notes|blanks|days|rows|changes|categories)\b"
LABELS = ("aria-label", "title", "placeholder", "alt")
PAGES = (
    "plan", "plan/versions", "plan/copy", "syllabus", "scores", "scores/file", "audit", "audit/outside", "settle",
    "submit", "submit/proof", "submit/codes", "after", "history", "files", "papers/audit", "delete",
)  # fmt: skip
SECTIONS = ("HYDR 230-01", "HYDR 410-01", "FIBR 120-01")


def pages(site: Site) -> Iterator[tuple[str, BeautifulSoup]]:
    """Every main page of three sections, and those of no section."""
    addresses = ["/", "/sections/new", "/account"]
    for short in SECTIONS:
        section = site.section(short)
        addresses += [f"/s/{section}/{page}" for page in PAGES]
        addresses += [f"/s/{section}/{page}?run=midterm" for page in ("settle", "submit")]
        student = site.course(section).students[0].id
        addresses += [f"/s/{section}/papers/working/{student}", f"/s/{section}/scores/working/{student}"]
    for address in addresses:
        answer = site.browser.get(address)
        if answer.status_code == 200:
            yield address, BeautifulSoup(answer.get_data(as_text=True), "lxml")


def texts(page: BeautifulSoup) -> Iterator[str]:
    """What is read on a page, block by block, and every label; what people typed is theirs."""
    for gone in page.select("script, style, textarea, .syllabus-text, pre, .clause, blockquote, [data-sealed]"):
        gone.decompose()
    for element in page.find_all(True):
        for name in LABELS:
            if element.get(name):
                yield str(element[name])
    for text in page.body.get_text("\n").split("\n") if page.body else []:
        if text.strip():
            yield re.sub(r"\s+", " ", text).strip()


@pytest.fixture
def shown(site: Site) -> list[tuple[str, list[str]]]:
    """Every page with its texts."""
    return [(address, list(texts(page))) for address, page in pages(site)]


def test_every_page_speaks_our_words(shown: list[tuple[str, list[str]]]) -> None:
    found = [
        (address, text[:90], instead)
        for address, said in shown
        for text in said
        for word, instead in INSTEAD_OF.items()
        if re.search(word, text, re.IGNORECASE)
    ]
    assert len(shown) > 45
    assert not found


@pytest.mark.parametrize("pattern", [DAY_FIRST, TWENTY_FOUR, ISO_DAY, JSON_TEXT, ONE_OF_MANY])
def test_dates_counts_and_values_read_as_sentences(shown: list[tuple[str, list[str]]], pattern: str) -> None:
    assert not [(a, text[:90]) for a, said in shown for text in said if re.search(pattern, text)]


def test_no_finding_is_shown_by_its_code_alone(shown: list[tuple[str, list[str]]]) -> None:
    codes = {code for code in CODES if "-" in code and code != "same-name"}
    assert not [(a, text[:90]) for a, said in shown for text in said for code in codes if text == code]


def test_a_title_is_the_pages_heading_and_a_buttons_name_has_its_words(site: Site) -> None:
    for address, page in pages(site):
        heading, title = page.find("h1"), page.title
        if title is None and "/scores/working/" in address:
            continue
        assert isinstance(heading, Tag), address
        assert title is not None
        if "/papers/" not in address and "/submit/" not in address and "/delete" not in address:
            assert plain(title.get_text()).startswith(plain(heading.get_text())), address
        for button in page.select("button[aria-label], a[aria-label]"):
            words, name = plain(button.get_text()), plain(str(button["aria-label"]))
            assert not words or not words.isascii() or words in name, (address, words, name)


def plain(text: str) -> str:
    return re.sub(r"[\s\u00ad]+", " ", text).replace("\u00ad", "").strip().lower().strip("×?…/ ")


def test_the_registrars_pages_speak_them_too(site: Site) -> None:
    office = create_office(OfficeSettings(str(site.folder / "office.sqlite"), "token", CLOCK))
    browser: FlaskClient = office.test_client()
    for address in ("/", "/sections/2026FA-HYDR230-01", "/sections/2026FA-FIBR120-01"):
        answer = browser.get(address)
        assert answer.status_code == 200, address
        said = list(texts(BeautifulSoup(answer.get_data(as_text=True), "lxml")))
        assert not [text for text in said for word in INSTEAD_OF if re.search(word, text, re.IGNORECASE)]
        assert not [text for text in said if re.search(f"{DAY_FIRST}|{ISO_DAY}|{JSON_TEXT}", text)]
