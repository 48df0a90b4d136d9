"""Every main page in a real browser: whole at every width and at 400% zoom, nothing found by axe-core, the focus seen.

axe-core checks rules of WCAG 2.2 A and AA (W3C) and its own best practices; it lies in tests/browser/vendor.
"""

import base64
import functools
import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pdfplumber
import pytest
from selenium import webdriver

from tests.browser.stage import DEMO_EMAIL, Stage, inside, keys, until, wait
from vinemark.store.database import connect

pytestmark = pytest.mark.browser

AXE = Path(__file__).parent / "vendor" / "axe.min.js"
SIZES = ((320, 800), (390, 800), (768, 800), (900, 800), (1024, 800), (1280, 800), (1920, 800), (320, 200))
PAGES = (
    "/", "/sections/new", "/account", "/s/1/plan", "/s/1/plan/versions", "/s/1/syllabus", "/s/1/scores",
    "/s/1/scores/files", "/s/1/audit", "/s/1/elsewhere", "/s/1/class", "/s/1/class?student=L01644", "/s/1/groups/n1",
    "/s/1/papers/class", "/s/1/settle", "/s/1/settle?run=midterm", "/s/1/submit",
    "/s/1/after", "/s/1/history", "/s/1/files", "/s/1/papers/audit", "/s/1/papers/working/L01644",
    "/s/1/submit/proof", "/s/4/submit", "/s/4/after", "/s/4/papers/record/L03691",
    "/s/1/seen", "/s/1/people", "/s/1/questions", "/s/1/statement/of/L01644",
    "/college", "/board", "/s/1/looked", "/s/1/rosters", "/s/1/move?student=L01644&to=2",
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
        with connect(stage.folder / "vinemark.sqlite") as connection:
            for part in (("administrator", ""), ("chair", "Earth and Water")):
                connection.execute("INSERT INTO college_role VALUES (?, ?, ?)", (DEMO_EMAIL, *part))
        connection.close()
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
        # The page goes to the focus in its own time.
        until(lambda: (driver.execute_script(FOCUS) or (True, True, ""))[1], "the focus is out of sight")
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


@pytest.mark.parametrize(
    ("blocked", "said"), [("*/sheet/queue.js", "sheet-missing"), ("*/ui/app.js", "scripts-missing")]
)
def test_a_page_whose_scripts_do_not_come_says_so(
    driver: webdriver.Chrome, here: Stage, blocked: str, said: str
) -> None:
    resize(driver, 1280, 800)
    driver.execute_cdp_cmd("Network.enable", {})
    driver.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": True})
    driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": [blocked]})
    try:
        driver.get(f"{here.url}/s/1/scores")
        until(functools.partial(becomes_visible, driver, said), f"{said} is not said")
        assert "All changes saved" not in driver.find_element("css selector", "body").text
    finally:
        driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
        driver.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": False})
    driver.get(f"{here.url}/s/1/scores")
    wait(driver, "#saved", "All changes saved")
    assert not driver.find_elements("css selector", ".scripts-missing")


def becomes_visible(driver: webdriver.Chrome, element: str) -> bool:
    script = "return getComputedStyle(document.getElementById(arguments[0])).visibility"
    return bool(driver.execute_script(script, element) == "visible")


def test_one_tap_opens_a_cell_and_a_finger_moves_a_cutoff(driver: webdriver.Chrome, here: Stage) -> None:
    resize(driver, 1024, 768)
    driver.get(f"{here.url}/s/1/scores")
    wait(driver, "#sheet")
    tap(driver, "#sheet tbody td.cell", up=True)
    until(lambda: driver.find_elements("css selector", "#sheet td.editing input, #sheet td.cell input"), "no keyboard")
    keys(driver, "\ue00c")
    driver.get(f"{here.url}/s/1/audit")
    grip = ".strip-handle[data-letter='A'] .strip-grip"
    before = wait(driver, "#from-A").get_attribute("value")
    x, y = tap(driver, grip, up=False)
    touch(driver, "touchMove", x + 20, y)
    touch(driver, "touchEnd")
    until(lambda: driver.find_element("id", "from-A").get_attribute("value") != before, "the cutoff did not move")


def tap(driver: webdriver.Chrome, selector: str, up: bool) -> tuple[float, float]:
    """A finger put on the middle of an element, and taken away where it is a tap."""
    middle = "const b = document.querySelector(arguments[0]).getBoundingClientRect();"
    x, y = driver.execute_script(f"{middle} return [b.left + b.width / 2, b.top + b.height / 2]", selector)
    touch(driver, "touchStart", x, y)
    if up:
        touch(driver, "touchEnd")
    return x, y


def touch(driver: webdriver.Chrome, kind: str, *place: float) -> None:
    points = [dict(zip("xy", place, strict=True))] if place else []
    driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})


def test_where_the_system_sets_the_colors_what_is_chosen_keeps_a_mark(driver: webdriver.Chrome, here: Stage) -> None:
    forced = [{"name": "forced-colors", "value": "active"}]
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": forced})
    try:
        resize(driver, 1280, 800)
        driver.get(f"{here.url}/s/1/audit")
        for chosen in (".finding.chosen", ".stem a[aria-current] .node-text"):
            style = f"return getComputedStyle(document.querySelector('{chosen}')).outlineStyle"
            assert driver.execute_script(style) == "solid", chosen
    finally:
        driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def focus(driver: webdriver.Chrome) -> str:
    """The id of what has the focus."""
    return str(driver.execute_script("return document.activeElement.id"))


def test_the_focus_goes_on_where_it_was(driver: webdriver.Chrome, tmp_path: Path) -> None:
    """After deleting, after a refusal, after a preview in the margin, after a page that answers a form."""
    resize(driver, 1280, 800)
    with Stage.demo(tmp_path) as stage:
        driver.delete_all_cookies()
        stage.sign_in(driver)
        driver.get(f"{stage.url}/s/1/plan")
        driver.find_element("id", "delete-c4").send_keys("\ue007")
        until(lambda: not driver.find_elements("id", "category-c4"), "it is still there")
        assert driver.execute_script("return document.activeElement.closest('.category')?.id") == "category-c5"
        driver.find_element("id", "weight-c5").send_keys("lots\ue004")
        wait(driver, "#weight-c5-reason")
        until(lambda: focus(driver) == "weight-c5", "the refused field has not the focus")
        driver.get(f"{stage.url}/s/1/settle")
        driver.find_element("css selector", "button[id='open-grades']").send_keys("\ue007")
        wait(driver, ".notice", "Visible to students")
        assert focus(driver) == "open-grades"
        driver.get(f"{stage.url}/s/1/scores")
        driver.find_element("css selector", "[data-heading='n1']").click()
        wait(driver, "#column-preview").send_keys("\ue007")
        wait(driver, "#margin [role=status], #margin [role=alert]")
        until(
            lambda: driver.execute_script("return document.activeElement.closest('#margin') !== null"),
            "left the margin",
        )
