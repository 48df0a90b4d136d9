"""Windows that are doubled, closed and opened again at once, and clocks that are set back, lose no score."""

import sqlite3
from collections.abc import Iterator

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import Stage, inside, keys, until, wait

pytestmark = pytest.mark.browser
BLOCKED = """
window.really ??= window.fetch;
window.fetch = (address, options) => options?.method === "POST"
  ? Promise.reject(new TypeError("no way")) : window.really(address, options);
"""
SLOW = """
window.really ??= window.fetch;
const later = (answer) => new Promise((resolve) => setTimeout(() => resolve(answer), 6000));
window.fetch = (address, options) => options?.method === "POST"
  ? later(null).then(() => window.really(address, options)) : window.really(address, options);
"""
FREE = "window.fetch = window.really"
A_DAY_BACK = "const now = Date.now; Date.now = () => now() - 86_400_000"
ITEM = "q1"


@pytest.fixture(scope="module")
def stage(driver: webdriver.Chrome, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stage]:
    """The demo; each walk takes students of its own."""
    with Stage.demo(tmp_path_factory.mktemp("stage")) as found:
        found.sign_in(driver)
        yield found


def student(stage: Stage, row: int) -> str:
    return str(ask(stage, "SELECT id FROM student WHERE section_id = 1 AND place = ?", row))


def kept(stage: Stage, row: int) -> object:
    query = "SELECT cell FROM score WHERE section_id = 1 AND item_id = ? AND student_id = ?"
    return ask(stage, query, ITEM, student(stage, row))


def ask(stage: Stage, query: str, *values: object) -> object:
    connection = sqlite3.connect(stage.folder / "vinemark.sqlite")
    found = connection.execute(query, values).fetchone()
    connection.close()
    return found[0] if found else None


def on_cell(driver: webdriver.Chrome, stage: Stage, row: int) -> None:
    """Choose a cell of the sheet that is open."""
    place = f"#cell-{student(stage, row)}-{ITEM}"
    wait(driver, place).click()
    wait(driver, f"{place}[tabindex='0']")


def blocked_sheet(driver: webdriver.Chrome, stage: Stage) -> None:
    """The sheet, with nothing that is sent getting through."""
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "h1", "Scores")
    driver.execute_script(BLOCKED)


def test_a_clock_set_back_between_two_values_of_a_cell(driver: webdriver.Chrome, stage: Stage) -> None:
    blocked_sheet(driver, stage)
    on_cell(driver, stage, 1)
    keys(driver, "3.125", Keys.ENTER)
    driver.execute_script(A_DAY_BACK)
    on_cell(driver, stage, 1)
    keys(driver, "4.125", Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "#saved", "All changes saved")
    assert kept(stage, 1) == "4.125"


def test_a_clock_set_back_between_two_windows(driver: webdriver.Chrome, stage: Stage) -> None:
    """The later one's entry is older by its clock: whichever goes first, neither is lost without a word."""
    blocked_sheet(driver, stage)
    on_cell(driver, stage, 2)
    keys(driver, "3.25", Keys.ENTER)
    wait(driver, "#saved", "1 not saved yet")
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    blocked_sheet(driver, stage)
    driver.execute_script(A_DAY_BACK)
    on_cell(driver, stage, 3)
    keys(driver, "3.5", Keys.ENTER)
    wait(driver, "#saved", "1 not saved yet")
    leave(driver, first)
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "#saved", "All changes saved")
    assert (kept(stage, 2), kept(stage, 3)) == ("3.25", "3.5")


def test_a_doubled_window_keeps_what_each_has(driver: webdriver.Chrome, stage: Stage) -> None:
    blocked_sheet(driver, stage)
    on_cell(driver, stage, 4)
    keys(driver, "3.75", Keys.ENTER)
    wait(driver, "#saved", "1 not saved yet")
    first = driver.current_window_handle
    # A window opened by a page begins with a copy of its session storage, as a doubled one does.
    driver.execute_script("window.open(location.href)")
    until(lambda: len(driver.window_handles) == 2)
    driver.switch_to.window(next(w for w in driver.window_handles if w != first))
    wait(driver, "#saved", "1 not saved yet, typed on Scores")
    driver.execute_script(BLOCKED)
    on_cell(driver, stage, 5)
    keys(driver, "4.25", Keys.ENTER)
    wait(driver, "#saved", "not saved yet")
    driver.execute_script(FREE)
    until(lambda: kept(stage, 5) == "4.25")
    assert kept(stage, 4) != "3.75"
    leave(driver, first)
    driver.execute_script(FREE)
    wait(driver, "#saved", "All changes saved")
    assert kept(stage, 4) == "3.75"


def test_a_window_closed_and_opened_again_at_once(driver: webdriver.Chrome, stage: Stage) -> None:
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    blocked_sheet(driver, stage)
    for row, typed in ((6, "4.5"), (7, "4.75")):
        on_cell(driver, stage, row)
        keys(driver, typed, Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    leave(driver, first)
    driver.get(f"{stage.url}/s/1/scores")
    until(lambda: (kept(stage, 6), kept(stage, 7)) == ("4.5", "4.75"))
    wait(driver, "#saved", "All changes saved")


def test_what_a_closed_window_left_is_taken_over_by_a_living_one(driver: webdriver.Chrome, stage: Stage) -> None:
    """Also while that one has a value on its way, which stays its own."""
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "h1", "Scores")
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    blocked_sheet(driver, stage)
    on_cell(driver, stage, 8)
    keys(driver, "2.5", Keys.ENTER)
    wait(driver, "#saved", "1 not saved yet")
    leave(driver, first)
    driver.execute_script(SLOW)
    on_cell(driver, stage, 9)
    keys(driver, "2.75", Keys.ENTER)
    until(lambda: (kept(stage, 8), kept(stage, 9)) == ("2.5", "2.75"))
    wait(driver, "#saved", "All changes saved")


def test_the_stem_never_goes_back(driver: webdriver.Chrome, stage: Stage) -> None:
    """An answer that was overtaken by a later one does not paint over what that one showed."""
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "#rail")
    shown = inside(driver, "return Number(document.getElementById('rail').dataset.version)")
    late = f'<div id="rail" data-version="{int(str(shown)) - 1}" hx-swap-oob="true">LATE</div>'
    fresh = f'<div id="rail" data-version="{int(str(shown)) + 1}" hx-swap-oob="true">FRESH</div>'
    swap = "htmx.swap(document.createElement('div'), arguments[0], { swapStyle: 'none' })"
    driver.execute_script(swap, late)
    assert "LATE" not in str(inside(driver, "return document.getElementById('rail').textContent"))
    driver.execute_script(swap, fresh)
    wait(driver, "#rail", "FRESH")


def leave(driver: webdriver.Chrome, first: str) -> None:
    """Close the window that is in front, and go to the first one."""
    driver.close()
    driver.switch_to.window(first)
