"""A page that lies open shows what the registrar did meanwhile, without a key or a button being pressed."""

import signal
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

import pytest
from selenium import webdriver

from tests.browser.stage import Stage, copy_demo, inside, wait
from vinemark.office import ledger_grades
from vinemark.store.database import Connection, connect

pytestmark = pytest.mark.browser
SECTION, REF = 4, "2026FA-HYDR410-01"
ASKED_FOR = "L03691"
"""The demo's student whose grade is asked to be changed."""
LATER = datetime(2026, 12, 19, 10, 30)


@pytest.fixture
def demo(folder: Path) -> Path:
    """The demo's databases before anything runs on them, with a section that was received and not posted."""
    copy_demo(folder / "demo")
    with closing(office(folder / "demo")) as there:
        there.execute("DELETE FROM posting WHERE section = ? AND run = 'final'", (REF,))
    with closing(connect(folder / "demo" / "vinemark.sqlite")) as here:
        here.execute("UPDATE read_back SET posted_at = NULL WHERE section_id = ? AND run = 'final'", (SECTION,))
    return folder / "demo"


def office(folder: Path) -> Connection:
    """The registrar's own records."""
    return connect(folder / "office.sqlite")


def time_passes(stage: Stage, day: str = "2026-12-19") -> None:
    """Some minutes later, with what asks in the background running: the browser's page stays as it is."""
    for name in ("app", "office"):
        stage.stop(name, signal.SIGKILL)
    stage.day, stage.time, stage.deliver_seconds = day, "10:40", 1
    # One after the other: an application that finds no office asks again after two minutes only.
    stage.start_office()
    stage.start("app", "serve", "--port", str(stage.port))


def test_a_posting_shows_on_an_open_page(driver: webdriver.Chrome, demo: Path) -> None:
    with on_page(driver, demo, "submit", "Not posted\nyet") as stage:
        ledger_grades.post(office(demo), REF, "final", LATER)
        time_passes(stage)
        wait(driver, "#work", "Sat, Dec 19, 10:30 AM")


def test_the_answer_to_a_change_shows_on_an_open_page(driver: webdriver.Chrome, demo: Path) -> None:
    not_answered_yet(demo)
    with on_page(driver, demo, "after", "awaits an answer") as stage:
        ledger_grades.answer_change(office(demo), REF, 1, False, "the committee met without it", LATER)
        time_passes(stage)
        wait(driver, "#work", "the committee met without it")


def not_answered_yet(demo: Path) -> None:
    """The demo's change of grade as it was before the registrar granted it."""
    there, here = office(demo), connect(demo / "vinemark.sqlite")
    ledger_grades.post(there, REF, "final", LATER)
    there.execute("UPDATE grade_change SET state = 'pending', word = '', answered_at = NULL")
    there.execute("UPDATE grade SET code = 'B+' WHERE section = ? AND run = 'final' AND student = ?", (REF, ASKED_FOR))
    here.execute("UPDATE grade_change SET state = 'sent', word = NULL, answered_at = NULL")
    here.execute(
        "UPDATE read_back SET posted_at = :at, rows = replace(rows, :was, :now) WHERE section_id = 4 AND run = 'final'",
        {"at": LATER.isoformat(), "was": f'"{ASKED_FOR}", "code": "A-"', "now": f'"{ASKED_FOR}", "code": "B+"'},
    )
    there.close()
    here.close()


def test_a_fallback_shows_on_an_open_page(driver: webdriver.Chrome, demo: Path) -> None:
    ledger_grades.post(office(demo), REF, "final", LATER)
    with on_page(driver, demo, "after", "133 days") as stage:
        time_passes(stage, "2027-05-03")
        wait(driver, "#work", "the registrar let it fall back to C")


@contextmanager
def on_page(driver: webdriver.Chrome, demo: Path, step: str, text: str) -> Iterator[Stage]:
    """A page of the section that is looked at, and is still the same one at the end."""
    with Stage.running(demo) as stage:
        stage.sign_in(driver)
        driver.get(f"{stage.url}/s/{SECTION}/{step}")
        wait(driver, "#work", text)
        driver.execute_script("window.sameAsBefore = true")
        yield stage
        assert inside(driver, "return window.sameAsBefore === true") is True


WATCHED = """
window.asked = 0;
const asking = window.fetch;
window.fetch = (address, ...rest) => {
  if (String(address).includes("/since/")) window.asked += 1;
  return asking(address, ...rest);
};
"""
IN_THE_TAB = """
Object.defineProperty(document, "hidden", { configurable: true, value: arguments[0] });
document.dispatchEvent(new Event("visibilitychange"));
return window.asked;
"""
LOOKED_LATELY_SECONDS = 3.5


@pytest.mark.usefixtures("stage")
def test_a_hidden_tab_asks_for_nothing_and_a_shown_one_at_once(driver: webdriver.Chrome) -> None:
    driver.execute_script(WATCHED)
    assert driver.execute_script(IN_THE_TAB, True) == 0
    time.sleep(LOOKED_LATELY_SECONDS)
    asked = driver.execute_script(IN_THE_TAB, True)
    time.sleep(LOOKED_LATELY_SECONDS)
    assert driver.execute_script(IN_THE_TAB, True) == asked == 0
    assert driver.execute_script(IN_THE_TAB, False) == 1
