"""Every main page in a real browser: whole at every width and at 400% zoom, nothing found by axe-core, the focus seen.

axe-core checks rules of WCAG 2.2 A and AA (W3C) and its own best practices; it lies in tests/browser/vendor.
"""

import base64
import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pdfplumber
import pytest
from selenium import webdriver

from tests.browser.stage import Stage, inside, keys, until, wait

pytestmark = pytest.mark.browser

AXE = Path(__file__).parent / "vendor" / "axe.min.js"
SIZES = ((320, 800), (390, 800), (768, 800), (900, 800), (1024, 800), (1280, 800), (1920, 800), (320, 200))
PAGES = (
    "/", "/sections/new", "/account", "/s/1/plan", "/s/1/plan/versions", "/s/1/syllabus", "/s/1/scores",
    "/s/1/scores/file", "/s/1/audit", "/s/1/audit/outside", "/s/1/settle", "/s/1/settle?run=midterm", "/s/1/submit",
    "/s/1/after", "/s/1/history", "/s/1/files", "/s/1/papers/audit", "/s/1/papers/working/L01644",
    "/s/1/submit/proof", "/s/4/submit", "/s/4/after",
)  # fmt: skip
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22a", "wcag22aa", "best-practice"]
RUN_AXE = """
const done = arguments[arguments.length - 1];
axe.run(document, { runOnly: { type: "tag", values: arguments[0] }, resultTypes: ["violations"] }).then(
  (found) => done(found.violations.map((one) => [one.id, one.nodes[0].target.join(" ")])),
  (error) => done(String(error)));
"""
# What sticks out of the window, cannot be typed into, or lies outside of what can be scrolled to.
CUT = """
const root = document.scrollingElement;
const faults = [];
if (root.scrollWidth > root.clientWidth + 1) faults.push(`page wider by ${root.scrollWidth - root.clientWidth}`);
const scrolls = (one) => /auto|scroll/.test(getComputedStyle(one).overflowX);
const inBox = (one) => { for (let at = one; at !== document.body; at = at.parentElement) if (scrolls(at)) return true;
  return false; };
for (const one of document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary")) {
  if (!one.checkVisibility({ visibilityProperty: true }) || one.matches(".skip")) continue;
  const box = one.getBoundingClientRect();
  if (box.width < 3 || inBox(one)) continue;
  const name = one.id || one.textContent.trim().slice(0, 30) || one.name;
  if (box.right > root.clientWidth + 2 || box.right < 0) faults.push(`outside: ${name}`);
  if (one.matches("textarea, input:not([type])") && one.clientWidth < 24) faults.push(`no room: ${name}`);
}
return faults;
"""
# Whether the element with the focus shows it: an outline, or a border of another color than without the focus.
FOCUS = """
const one = document.activeElement;
if (one === document.body) return null;
const style = getComputedStyle(one);
const outlined = style.outlineStyle !== "none" && parseFloat(style.outlineWidth) >= 2;
const box = one.getBoundingClientRect();
const inSight = box.bottom > 0 && box.top < innerHeight && box.right > 0 && box.left < innerWidth;
return [outlined, inSight, one.id || one.textContent.trim().slice(0, 30) || one.name || one.className];
"""


def resize(driver: webdriver.Chrome, width: int, height: int) -> None:
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


@pytest.fixture(scope="module")
def here(driver: webdriver.Chrome, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stage]:
    """The demo, signed in; the window as it was, afterwards."""
    with Stage.demo(tmp_path_factory.mktemp("windows")) as stage:
        stage.sign_in(driver)
        yield stage
        resize(driver, 1280, 800)


@pytest.mark.parametrize("page", PAGES)
def test_a_page_is_whole_at_every_width_and_axe_finds_nothing(driver: webdriver.Chrome, here: Stage, page: str) -> None:
    resize(driver, 1280, 800)
    driver.get(here.url + page)
    wait(driver, "h1")
    driver.execute_script(AXE.read_text(encoding="utf-8"))
    assert driver.execute_async_script(RUN_AXE, RULES) == []
    faults: dict[str, Any] = {}
    for width, height in SIZES:
        resize(driver, width, height)
        found = inside(driver, CUT)
        if found:
            faults[f"{width}x{height}"] = found
    assert not faults


@pytest.mark.parametrize("page", ["/", "/s/1/plan", "/s/1/audit", "/s/1/settle", "/s/1/submit", "/s/1/history"])
@pytest.mark.parametrize("size", [(1280, 800), (320, 200)])
def test_the_focus_is_seen_wherever_tab_goes(
    driver: webdriver.Chrome, here: Stage, page: str, size: tuple[int, int]
) -> None:
    resize(driver, *size)
    driver.get(here.url + page)
    wait(driver, "h1")
    for _ in range(25):
        keys(driver, "\ue004")
        found = driver.execute_script(FOCUS)
        if found is None:
            break
        outlined, in_sight, name = found
        assert outlined, f"no outline on {name}"
        assert in_sight, f"out of sight: {name}"


def test_the_sheet_shows_a_class_and_a_month_of_work(driver: webdriver.Chrome, here: Stage) -> None:
    whole = """
    const box = document.querySelector(".grid-box").getBoundingClientRect();
    const top = sheet.tHead.getBoundingClientRect().bottom, bottom = Math.min(box.bottom, innerHeight);
    const left = sheet.tBodies[0].rows[0].cells[0].getBoundingClientRect().right;
    const right = document.querySelector("thead .so-far.own").getBoundingClientRect().left;
    const within = (one, low, high, from, to) => one[from] >= low - 1 && one[to] <= high + 1;
    const rows = [...sheet.tBodies[0].rows].map((row) => row.getBoundingClientRect());
    const heads = [...sheet.querySelectorAll(".item-head")].map((head) => head.getBoundingClientRect());
    return [rows.filter((row) => within(row, top, bottom, "top", "bottom")).length,
      heads.filter((head) => within(head, left, right, "left", "right")).length];
    """
    for size, least_rows, least_columns in (((1280, 800), 22, 9), ((1024, 768), 20, 6), ((640, 400), 8, 4)):
        resize(driver, *size)
        driver.get(f"{here.url}/s/1/scores")
        wait(driver, "#sheet")
        driver.execute_script("document.querySelector('.grid-box').scrollIntoView({ block: 'end' })")
        rows, columns = driver.execute_script(f"const sheet = document.getElementById('sheet'); {whole}")
        assert (rows >= least_rows, columns >= least_columns) == (True, True), (size, rows, columns)


def test_the_margin_folds_where_there_is_room_and_opens_as_a_drawer_where_there_is_not(
    driver: webdriver.Chrome, here: Stage
) -> None:
    shown = "return document.getElementById('margin').checkVisibility()"
    resize(driver, 1280, 800)
    driver.get(f"{here.url}/s/1/scores")
    assert driver.execute_script(shown)
    driver.find_element("id", "toggle-margin").click()
    assert not driver.execute_script(shown)
    driver.refresh()
    assert not driver.execute_script(shown)
    driver.find_element("id", "toggle-margin").click()
    resize(driver, 900, 800)
    driver.get(f"{here.url}/s/1/audit")
    assert not driver.execute_script(shown)
    driver.find_element("css selector", ".finding-text").click()
    until(lambda: driver.execute_script(shown), "the evidence did not open")
    keys(driver, "\ue00c")
    until(lambda: not driver.execute_script(shown), "Escape did not close it")
    assert driver.execute_script("return document.activeElement.id") == "toggle-margin"


def printed(driver: webdriver.Chrome) -> list[str]:
    """The text of each page as the browser prints it."""
    answer = driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True})
    with pdfplumber.open(io.BytesIO(base64.b64decode(answer["data"]))) as document:
        return [page.extract_text() for page in document.pages]


def test_the_sheet_prints_whole_with_names_totals_and_where_it_is_from(driver: webdriver.Chrome, here: Stage) -> None:
    resize(driver, 1280, 800)
    driver.get(f"{here.url}/s/1/scores")
    wait(driver, "#sheet")
    names = driver.execute_script(
        "return [...document.querySelectorAll('#sheet .who')].map((one) => one.textContent.trim())"
    )
    pages = printed(driver)
    text = "\n".join(pages)
    assert all(page.strip() for page in pages)
    for name in names:
        assert text.count(name.split(",")[0]) >= 2, name
    for heading in ("Notebook 1", "Map quiz 8", "Survey report", "So far", "Blanks as 0"):
        assert heading.split()[0] in text
    assert all("HYDR 230-01" in page for page in pages)
    assert not driver.execute_script("return document.querySelector('.printed-sheet')")


def test_the_plan_prints_in_words(driver: webdriver.Chrome, here: Stage) -> None:
    driver.get(f"{here.url}/s/1/plan")
    wait(driver, "h1", "Grading plan")
    text = "\n".join(printed(driver))
    assert "The grade is the weighted average of the categories." in text
    assert "Letters: A from 93" in text
    assert "Add a category" not in text
