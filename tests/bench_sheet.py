"""The score sheet of 500 students by 60 items against a bare page of the same table, in one browser.

The bare page has the same texts in a plain table: no classes, no names of cells, no script. Both are served by
the same process over the same connection; each figure is the median of several runs.
"""

import statistics
import tempfile
import time
from dataclasses import replace
from datetime import datetime
from html import escape
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.bench import DAY, make
from tests.browser.stage import DEMO_EMAIL, DEMO_PASSWORD, Stage, browser, wait
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.scores.sheet import sheet_rows
from vinemark.passwords import hasher
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act

RUNS = 5
READY = """
const done = arguments[0];
const paint = performance.getEntriesByName("first-contentful-paint")[0].startTime;
const load = performance.getEntriesByType("navigation")[0];
done([load.responseEnd, paint, load.loadEventEnd]);
"""
SCROLL = """
const [box, done] = arguments;
const started = performance.now();
let step = 0;
function next() {
  box.scrollTop += 120; box.scrollLeft += 40;
  if (++step < 60) requestAnimationFrame(next);
  else done((performance.now() - started) / 60);
}
requestAnimationFrame(next);
"""
# From the key until the frame that shows what was typed.
WATCH = """
window.keyTimes = [];
document.addEventListener("keydown", (event) => {
  const at = event.timeStamp;
  requestAnimationFrame(() => setTimeout(() => window.keyTimes.push(performance.now() - at), 0));
}, true);
"""


def bare(course: Course) -> str:
    """The table's texts and nothing else, in a box that scrolls."""
    items = [item for _, item in course.plan.items()]
    heading = "".join(f"<th>{escape(i.name)}" for i in items)
    rows = "".join(
        f"<tr><th>{escape(row.student.name)}" + "".join(f"<td>{c.text}" for cells, _ in row.groups for c in cells)
        for row in sheet_rows(course, grades_of(course, DAY))
    )
    box = '<div class="grid-box" style="overflow:auto;height:600px">'
    return f"<!doctype html><title>Bare</title>{box}<table><tr><th>{heading}{rows}</table></div>"


def prepare(folder: Path, course: Course) -> None:
    """A database with the one section."""
    connection = connect(folder / "vinemark.sqlite")
    migrate(connection)
    at = datetime(2026, 12, 18, 12)
    person = people.add_person(connection, Act(None, at), DEMO_EMAIL, "Bench", hasher().hash(DEMO_PASSWORD))
    sections.create_from_course(connection, Act(person, at), course)
    connection.close()


def figures(driver: webdriver.Chrome, address: str) -> list[float]:
    """Milliseconds: answer there, first paint, loaded, a frame of scrolling."""
    runs = []
    for _ in range(RUNS):
        driver.get(address)
        times = driver.execute_async_script(READY)
        box = driver.find_element(By.CSS_SELECTOR, ".grid-box")
        runs.append([*times, driver.execute_async_script(SCROLL, box)])
    return [statistics.median(column) for column in zip(*runs, strict=True)]


def keystrokes(driver: webdriver.Chrome, address: str) -> float:
    """Milliseconds from a key to the frame that shows it, while every cell is being sent."""
    driver.get(address)
    wait(driver, "#sheet td.cell").click()
    driver.execute_script(WATCH)
    for _ in range(15):
        ActionChains(driver, duration=0).send_keys("7", Keys.ENTER).perform()
    time.sleep(0.5)
    return float(statistics.median(driver.execute_script("return window.keyTimes")))


def main() -> None:
    """Print the figures and their ratios."""
    course = make(500)
    course = replace(course, term=replace(course.term, name="Bench term"))
    with tempfile.TemporaryDirectory() as one, tempfile.TemporaryDirectory() as two:
        folder = Path(one)
        prepare(folder, course)
        page = folder / "bare.html"
        page.write_text(bare(course), encoding="utf-8")
        with Stage.running(folder) as stage, browser(Path(two)) as driver:
            driver.set_script_timeout(60)
            stage.sign_in(driver)
            plain = figures(driver, page.as_uri())
            ours = figures(driver, f"{stage.url}/s/1/scores")
            key = keystrokes(driver, f"{stage.url}/s/1/scores")
    names = ("answer", "first paint", "loaded", "a frame of scrolling")
    print("(e) the score sheet, 500 students x 60 items, against a bare page of the same table:")
    for name, mine, other in zip(names, ours, plain, strict=True):
        print(f"    {name}: {mine:.0f} ms, bare {other:.0f} ms, ratio {mine / max(other, 1):.1f}")
    print(f"    from a key to the frame that shows it: {key:.0f} ms")


if __name__ == "__main__":
    main()
