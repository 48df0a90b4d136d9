"""The sheet under the hands: blocks, paste, undo, a closed connection through a reload, two tabs."""

import sqlite3
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from tests.browser.stage import Stage, wait

pytestmark = pytest.mark.browser
PASTE = """
const data = new DataTransfer();
data.setData("text/plain", arguments[0]);
const event = new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true});
document.activeElement.dispatchEvent(event);
"""
# A tab that has not looked around yet: else it may see the other's change before it types.
NO_LOOK = """
const real = window.fetch;
const never = new Promise(() => {});
window.fetch = (address, ...rest) => String(address).includes("/since/") ? never : real(address, ...rest);
"""
COPY = """
const data = new DataTransfer();
const event = new ClipboardEvent("copy", {clipboardData: data, bubbles: true, cancelable: true});
document.activeElement.dispatchEvent(event);
return data.getData("text/plain");
"""


def keys(driver: webdriver.Chrome, *typed: str, held: str = "") -> None:
    hand = ActionChains(driver, duration=0)
    if held:
        hand.key_down(held)
    hand.send_keys(*typed)
    if held:
        hand.key_up(held)
    hand.perform()


def place(driver: webdriver.Chrome, row: int, item: str) -> str:
    return str(driver.find_elements(By.CSS_SELECTOR, f"td[data-item='{item}']")[row].get_attribute("id"))


def text(driver: webdriver.Chrome, row: int, item: str) -> str:
    return driver.find_element(By.ID, place(driver, row, item)).text


def kept_cells(folder: Path, item: str) -> list[str]:
    connection = sqlite3.connect(folder / "demo" / "vinemark.sqlite")
    found = connection.execute(
        "SELECT cell FROM score s JOIN student t ON t.section_id = s.section_id AND t.id = s.student_id"
        " WHERE s.section_id = 1 AND s.item_id = ? ORDER BY t.place", (item,)
    ).fetchall()  # fmt: skip
    connection.close()
    return [row[0] for row in found]


def all_kept(driver: webdriver.Chrome) -> None:
    WebDriverWait(driver, 15).until(lambda d: not d.find_elements(By.CSS_SELECTOR, ".cell.sending"))
    wait(driver, "#kept", "All changes kept")


def paste_and_undo(driver: webdriver.Chrome, folder: Path) -> None:
    before = [[text(driver, row, item) for item in ("q1", "q2")] for row in range(3)]
    driver.find_element(By.ID, place(driver, 0, "q1")).click()
    driver.execute_script(PASTE, "1\t2\r\n3\t4\r\n5\t6\r\n")
    wait(driver, f"#{place(driver, 2, 'q2')}", "6")
    all_kept(driver)
    assert kept_cells(folder, "q1")[:3] == ["1", "3", "5"]
    keys(driver, Keys.ARROW_DOWN, Keys.ARROW_RIGHT, held=Keys.SHIFT)
    assert len(driver.find_elements(By.CSS_SELECTOR, ".cell.picked[aria-selected='true']")) == 4
    assert driver.execute_script(COPY) == "1\t2\n3\t4"
    keys(driver, "z", held=Keys.CONTROL)
    wait(driver, "#sheet-said", "Undone: 6 cells pasted")
    assert [[text(driver, row, item) for item in ("q1", "q2")] for row in range(3)] == before
    keys(driver, "y", held=Keys.CONTROL)
    wait(driver, "#sheet-said", "Done again: 6 cells pasted")
    assert text(driver, 2, "q2") == "6"


def fill_down_and_clear(driver: webdriver.Chrome, folder: Path) -> None:
    driver.find_element(By.ID, place(driver, 0, "q3")).click()
    keys(driver, "9", Keys.ENTER, Keys.ARROW_UP)
    keys(driver, Keys.ARROW_DOWN, Keys.ARROW_DOWN, held=Keys.SHIFT)
    keys(driver, "d", held=Keys.CONTROL)
    wait(driver, f"#{place(driver, 2, 'q3')}", "9")
    all_kept(driver)
    assert kept_cells(folder, "q3")[:3] == ["9", "9", "9"]
    keys(driver, Keys.DELETE)
    all_kept(driver)
    assert [text(driver, row, "q3") for row in range(3)] == ["", "", ""]
    keys(driver, "?")
    assert driver.find_element(By.ID, "sheet-help").get_attribute("open") is not None
    keys(driver, Keys.ESCAPE)


def a_lost_connection_through_a_reload(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    driver.find_element(By.ID, place(driver, 4, "q1")).click()
    stage.stop("app")
    keys(driver, "2.5", Keys.ENTER, "3.5", Keys.ENTER)
    wait(driver, "#kept", "2 not kept yet")
    driver.get("about:blank")
    stage.start("app", "serve", "--port", str(stage.port))
    driver.get(f"{stage.url}/s/1/scores")
    all_kept(driver)
    assert kept_cells(folder, "q1")[4:6] == ["2.5", "3.5"]


def two_tabs(driver: webdriver.Chrome, folder: Path) -> None:
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    driver.get(driver.execute_script("return arguments[0]", f"{_address(driver, first)}"))
    second = driver.current_window_handle
    driver.execute_script(NO_LOOK)
    driver.switch_to.window(first)
    driver.find_element(By.ID, place(driver, 6, "q1")).click()
    keys(driver, "4", Keys.ENTER)
    all_kept(driver)
    driver.switch_to.window(second)
    driver.find_element(By.ID, place(driver, 6, "q1")).click()
    keys(driver, "8", Keys.ENTER)
    wait(driver, "#sheet-said", "entered 4 meanwhile; you typed 8", 20)
    assert kept_cells(folder, "q1")[6] == "4"
    keys(driver, Keys.ARROW_UP, "8", Keys.ENTER)
    all_kept(driver)
    assert kept_cells(folder, "q1")[6] == "8"
    driver.switch_to.window(first)
    wait(driver, f"#{place(driver, 6, 'q1')}", "8", 20)


def _address(driver: webdriver.Chrome, tab: str) -> str:
    now = driver.current_window_handle
    driver.switch_to.window(tab)
    address = driver.current_url
    driver.switch_to.window(now)
    return address


def test_the_sheet(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "HYDR 230-01", "scores")
        paste_and_undo(driver, folder)
        fill_down_and_clear(driver, folder)
        a_lost_connection_through_a_reload(driver, stage, folder)
        two_tabs(driver, folder)
