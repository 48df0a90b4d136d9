"""The sheet under the hands: blocks, paste, undo, a closed connection through a reload, two tabs."""

import os
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from openpyxl import Workbook
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, keys, until, wait

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
    until(lambda: not driver.find_elements(By.CSS_SELECTOR, ".cell.sending"), "cells are still on their way")
    wait(driver, "#saved", "All changes saved")


@pytest.mark.usefixtures("stage")
def test_paste_and_undo(driver: webdriver.Chrome, folder: Path) -> None:
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


@pytest.mark.usefixtures("stage")
def test_fill_down_and_clear(driver: webdriver.Chrome, folder: Path) -> None:
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


def test_a_lost_connection_through_a_reload(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    driver.find_element(By.ID, place(driver, 4, "q1")).click()
    stage.stop("app")
    keys(driver, "2.5", Keys.ENTER, "3.5", Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    driver.get("about:blank")
    stage.start("app", "serve", "--port", str(stage.port))
    driver.get(f"{stage.url}/s/1/scores")
    all_kept(driver)
    assert kept_cells(folder, "q1")[4:6] == ["2.5", "3.5"]


@pytest.mark.usefixtures("stage")
def test_two_tabs(driver: webdriver.Chrome, folder: Path) -> None:
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
    driver.close()
    driver.switch_to.window(first)
    wait(driver, f"#{place(driver, 6, 'q1')}", "8", 20)


def focused(driver: webdriver.Chrome) -> str:
    return str(driver.switch_to.active_element.get_attribute("aria-label"))


@pytest.mark.usefixtures("stage")
def test_what_a_screen_reader_hears(driver: webdriver.Chrome) -> None:
    first = driver.find_element(By.ID, place(driver, 0, "n6"))
    first.click()
    who = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody .who")[0].text
    assert focused(driver).startswith(f"{who}, Notebook 6, ")
    keys(driver, Keys.ARROW_RIGHT)
    assert focused(driver).startswith(f"{who}, Field notebooks percent, ")
    keys(driver, "5")
    wait(driver, "#sheet-said", "This figure is worked out")
    keys(driver, Keys.ARROW_LEFT, Keys.ARROW_UP)
    assert driver.switch_to.active_element.accessible_name == "Notebook 6: figures"
    keys(driver, Keys.ARROW_DOWN)
    assert focused(driver).startswith(f"{who}, Notebook 6, ")
    grid = driver.find_element(By.ID, "sheet")
    assert grid.get_attribute("role") == "grid"
    row = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr:first-child > *")
    roles = {cell.aria_role for cell in row if cell.is_displayed()}
    assert roles == {"rowheader", "gridcell"}
    assert len(driver.find_elements(By.CSS_SELECTOR, "#sheet [tabindex='0']")) == 1


@pytest.mark.usefixtures("stage")
def test_a_remark_from_the_keyboard(driver: webdriver.Chrome) -> None:
    cell = driver.find_element(By.ID, place(driver, 1, "q5"))
    driver.execute_script("arguments[0].scrollIntoView({ block: 'center', inline: 'center' })", cell)
    cell.click()
    wait(driver, "#cell-panel[data-item='q5']")
    keys(driver, Keys.F2, held=Keys.SHIFT)
    keys(driver, "handed in late", Keys.ENTER)
    wait(driver, f"#{cell.get_attribute('id')}.remarked")
    all_kept(driver)
    assert "remark: handed in late" in focused(driver)
    keys(driver, "z", held=Keys.CONTROL)
    until(lambda: not driver.find_elements(By.CSS_SELECTOR, ".remarked"), "the remark stays")


def hide_names(driver: webdriver.Chrome) -> None:
    """Hide the names, or show them again, from the menu of the view."""
    driver.find_element(By.ID, "view-menu").click()
    wait(driver, ".dropdown-menu.show").find_element(By.ID, "hide-names").click()
    keys(driver, Keys.ESCAPE)


def shown_rows(driver: webdriver.Chrome) -> int:
    return len(driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr:not([hidden])"))


@pytest.mark.usefixtures("stage")
def test_folding_filtering_finding(driver: webdriver.Chrome) -> None:
    whole = shown_rows(driver)
    fold = driver.find_element(By.CSS_SELECTOR, "[data-fold='0']")
    fold.send_keys(Keys.ENTER)
    assert fold.get_attribute("aria-expanded") == "false"
    assert not driver.find_element(By.ID, place(driver, 0, "n1")).is_displayed()
    Select(driver.find_element(By.ID, "show-rows")).select_by_value("blank")
    fewer = shown_rows(driver)
    assert 0 < fewer < whole
    assert driver.find_element(By.ID, "shown-count").text == f"{fewer} of {whole} shown"
    driver.find_element(By.CSS_SELECTOR, "h1").click()
    keys(driver, "/")
    keys(driver, "notebook 1")
    wait(driver, "#found [aria-selected='true']", "Notebook 1")
    keys(driver, Keys.ENTER)
    assert driver.switch_to.active_element.get_attribute("data-item") == "n1"
    assert driver.find_element(By.ID, place(driver, 0, "n1")).is_enabled()
    last = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr")[-1]
    keys(driver, "/")
    keys(driver, str(last.get_attribute("data-student")))
    wait(driver, "#found [aria-selected='true']", str(last.get_attribute("data-student")))
    keys(driver, Keys.ENTER)
    assert driver.switch_to.active_element.get_attribute("id") == f"cell-{last.get_attribute('data-student')}-n1"
    assert shown_rows(driver) == whole
    hide_names(driver)
    assert focused(driver) == "None" or "row" in focused(driver)
    driver.refresh()
    who = wait(driver, "#sheet tbody .who")
    assert who.value_of_css_property("font-size") == "0px"
    hide_names(driver)


def test_typed_twice_before_an_answer(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    driver.find_element(By.ID, place(driver, 8, "q1")).click()
    stage.stop("app")
    keys(driver, "3", Keys.ENTER, Keys.ARROW_UP, "4", Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    stage.start("app", "serve", "--port", str(stage.port))
    all_kept(driver)
    assert not driver.find_elements(By.CSS_SELECTOR, ".conflict")
    assert kept_cells(folder, "q1")[8] == "4"


def test_refused_after_one_that_was_kept(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.find_element(By.ID, place(driver, 9, "q1")).click()
    stage.stop("app")
    keys(driver, "3", Keys.ENTER, Keys.ARROW_UP, "lots", Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    stage.start("app", "serve", "--port", str(stage.port))
    wait(driver, f"#{place(driver, 9, 'q1')}.refused", "lots", 30)
    keys(driver, Keys.ARROW_UP, Keys.ESCAPE)
    assert text(driver, 9, "q1") == "3"


def test_odd_files_are_refused_or_shown(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    """Each through the form: what it says, and that nothing of it is kept."""
    before = kept_cells(folder, "q3")
    connection = sqlite3.connect(folder / "demo" / "vinemark.sqlite")
    number = connection.execute("SELECT min(id) FROM student WHERE section_id = 1").fetchone()[0]
    connection.close()
    formula, empty = Workbook(), Workbook()
    for row in (["id", "Map quiz 3"], [number, "=4+4"]):
        sheet: Any = formula.active
        sheet.append(row)
    formula.save(folder / "formula.xlsx")
    empty.save(folder / "empty.xlsx")
    texts = {
        "bars.csv": f"id|Map quiz 3\n{number}|1\n",
        "twice.csv": f"id,Map quiz 3\n{number},1\n{number},2\n",
        "one.csv": "id\nx\n",
    }
    for name, content in texts.items():
        (folder / name).write_text(content)
    for name, words in (
        ("bars.csv", "Import 1 of 1"),
        ("twice.csv", "is on line 2 already"),
        ("formula.xlsx", "is a formula without a value (=4+4)"),
        ("empty.xlsx", "empty.xlsx has nothing in it"),
        ("one.csv", "one.csv has only one column"),
    ):
        driver.get(f"{stage.url}/s/1/scores/files")
        driver.find_element(By.ID, "f-file").send_keys(str(folder / name))
        driver.find_element(By.CSS_SELECTOR, "main .btn-must").click()
        wait(driver, "main", words)
    assert kept_cells(folder, "q3") == before


def test_a_file_is_matched_and_taken(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    names = [e.text for e in driver.find_elements(By.CSS_SELECTOR, "#sheet tbody .who")[:3]]
    file = folder / "back.csv"
    file.write_text(
        "Student;Quizz 2;Remarks\n"
        + "".join(f'"{n}";{s};x\n' for n, s in zip(names, ("1,5", "2,5", "3,5"), strict=True))
    )
    junk = folder / "junk.csv"
    junk.write_bytes(os.urandom(10 * 1024 * 1024))
    driver.get(f"{stage.url}/s/1/scores/files")
    driver.find_element(By.ID, "f-file").send_keys(str(junk))
    driver.find_element(By.CSS_SELECTOR, "main .btn-must").click()
    wait(driver, "#f-file-hint", "junk.csv is larger than 5 MB")
    driver.get(f"{stage.url}/s/1/scores/files")
    driver.find_element(By.ID, "f-file").send_keys(str(file))
    driver.find_element(By.CSS_SELECTOR, "main .btn-must").click()
    wait(driver, ".near", "like Map quiz 2").click()
    driver.find_element(By.CSS_SELECTOR, "#match-form .btn-line").click()
    wait(driver, "#take-button", "Import 3 of 3")
    driver.find_elements(By.CSS_SELECTOR, "input[name='take']")[2].click()
    assert driver.find_element(By.ID, "take-button").text == "Import 2 of 3"
    driver.find_element(By.ID, "take-button").click()
    wait(driver, ".notice", "2 scores of 2 students imported from back.csv")
    assert kept_cells(folder, "q2")[:2] == ["1.5", "2.5"]


def test_all_that_are_alike_are_used_in_one_act(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    names = [e.text for e in driver.find_elements(By.CSS_SELECTOR, "#sheet tbody .who")[:2]]
    file = folder / "alike.csv"
    lines = [f'"{name}";7;3;4' for name in names]
    file.write_text("\n".join(["Student;Map quiz 1;Quizz 2;Quizz 3", *lines]))
    driver.get(f"{stage.url}/s/1/scores/files")
    driver.find_element(By.ID, "f-file").send_keys(str(file))
    driver.find_element(By.CSS_SELECTOR, "main .btn-must").click()
    wait(driver, "#left-out-alike", "Left out: Quizz 2 (like Map quiz 2), Quizz 3 (like Map quiz 3).")
    driver.find_element(By.ID, "use-all-alike").click()
    wait(driver, "#take-button", "Import 6 of 6")
    driver.find_element(By.ID, "find-change").send_keys("quiz 3")
    until(lambda: len(driver.find_elements(By.CSS_SELECTOR, "#change-list tbody tr:not([hidden])")) == 2)
    driver.find_element(By.ID, "take-button").click()
    wait(driver, ".notice", "6 scores of 2 students imported from alike.csv")


def _address(driver: webdriver.Chrome, tab: str) -> str:
    now = driver.current_window_handle
    driver.switch_to.window(tab)
    address = driver.current_url
    driver.switch_to.window(now)
    return address


def test_headings_keep_to_their_names_while_the_rows_are_scrolled(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "BOTN 105-02", "scores")
    points = driver.find_element(By.CSS_SELECTOR, "#item-q1 .item-points")
    assert points.is_displayed()
    scroll = "document.querySelector('.grid-box').scrollTop = arguments[0]"
    driver.execute_script(scroll, 400)
    until(lambda: not points.is_displayed())
    driver.execute_script(scroll, 0)
    until(points.is_displayed)
