"""Pasting what spreadsheets hold: with a heading, with names, out of order, over a filter; the order of the rows."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, keys, until, wait
from tests.browser.test_sheet import PASTE, all_kept, kept_cells, place, text

pytestmark = pytest.mark.browser


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, with the sheet open."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        found.open(driver, "HYDR 230-01", "scores")
        yield found


def names(driver: webdriver.Chrome) -> list[str]:
    return [one.text for one in driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr:not([hidden]) .who")]


def paste(driver: webdriver.Chrome, block: str) -> None:
    driver.execute_script(PASTE, block)


def at(driver: webdriver.Chrome, row: int, item: str) -> None:
    driver.find_element(By.ID, place(driver, row, item)).click()


@pytest.mark.usefixtures("stage")
def test_a_column_with_its_heading_and_names_out_of_order(driver: webdriver.Chrome, folder: Path) -> None:
    people = names(driver)
    before = kept_cells(folder, "n1")
    at(driver, 0, "n1")
    paste(driver, f"Student\tNotebook 1\n{people[2]}\t11\n{people[0]}\t12\nNobody, Known\t13")
    wait(driver, "#paste-dialog li", "The first row is a heading and is not pasted: Student, Notebook 1.")
    said = [one.text for one in driver.find_elements(By.CSS_SELECTOR, "#paste-dialog li")]
    assert "2 of 3 rows are found by name or ID." in said
    assert "Nobody here, left out: Nobody, Known." in said
    assert kept_cells(folder, "n1") == before
    wait(driver, "#paste-go", "Paste 2 cells").click()
    all_kept(driver)
    assert (text(driver, 0, "n1"), text(driver, 2, "n1")) == ("12", "11")
    at(driver, 0, "n1")
    keys(driver, "z", held=Keys.CONTROL)
    wait(driver, "#sheet-said", "Undone: 2 cells pasted")
    all_kept(driver)
    assert kept_cells(folder, "n1") == before


@pytest.mark.usefixtures("stage")
def test_leaving_it_changes_nothing_and_what_falls_outside_is_said_first(
    driver: webdriver.Chrome, folder: Path
) -> None:
    last = len(names(driver)) - 1
    before = kept_cells(folder, "n1")
    at(driver, last, "n1")
    paste(driver, "5\n6\n7")
    wait(driver, "#paste-dialog li", "2 cells would not be pasted.")
    driver.find_element(By.CSS_SELECTOR, "#paste-dialog .btn-line").click()
    wait(driver, "#sheet-said", "Nothing was pasted.")
    assert kept_cells(folder, "n1") == before
    assert driver.execute_script("return document.activeElement.id") == place(driver, last, "n1")


@pytest.mark.usefixtures("stage")
def test_over_a_filter_the_block_goes_to_those_that_are_shown(driver: webdriver.Chrome) -> None:
    Select(driver.find_element(By.ID, "show-rows")).select_by_value("missing")
    shown = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr:not([hidden])")
    assert 1 < len(shown) < len(driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr"))
    first = shown[0].find_element(By.CSS_SELECTOR, "td[data-item='n1']")
    second = str(shown[1].find_element(By.CSS_SELECTOR, "td[data-item='n1']").get_attribute("id"))
    first.click()
    paste(driver, "9\n8")
    wait(driver, "#paste-dialog li", "are hidden: the block goes to those that are shown.")
    driver.find_element(By.ID, "paste-go").click()
    all_kept(driver)
    assert driver.find_element(By.ID, second).text == "8"


@pytest.mark.usefixtures("stage")
def test_the_rows_are_put_in_another_order(driver: webdriver.Chrome) -> None:
    listed = names(driver)
    order = driver.find_element(By.ID, "sort-rows")
    driver.find_element(By.ID, "view-menu").click()
    until(order.is_displayed)
    Select(order).select_by_value("so-far")
    figures = [one.text for one in driver.find_elements(By.CSS_SELECTOR, "[data-figure='so-far']")]
    numbers = [float(one) for one in figures if one and one[0].isdigit()]
    assert numbers == sorted(numbers, reverse=True)
    Select(order).select_by_value("item n1")
    scores = [one.text for one in driver.find_elements(By.CSS_SELECTOR, "td[data-item='n1']")]
    numbers = [float(one) for one in scores if one and one[0].isdigit()]
    assert numbers == sorted(numbers, reverse=True)
    Select(order).select_by_value("")
    assert names(driver) == listed


@pytest.mark.usefixtures("stage")
def test_a_selection_says_count_sum_and_average_and_a_filter_shows_who_has_none(driver: webdriver.Chrome) -> None:
    at(driver, 0, "n1")
    numbers = [text(driver, row, "n1") for row in range(3)]
    keys(driver, Keys.ARROW_DOWN, Keys.ARROW_DOWN, held=Keys.SHIFT)
    plain = [float(one) for one in numbers if one.replace(".", "").isdigit()]
    wait(driver, "#sheet-said", f"{len(plain)} numbers: sum {sum(plain):g}")
    keys(driver, "a", held=Keys.CONTROL)
    until(lambda: len(driver.find_elements(By.CSS_SELECTOR, ".picked")) > 100)
    letter = driver.find_element(By.CSS_SELECTOR, "#show-rows option[value^='letter']")
    Select(driver.find_element(By.ID, "show-rows")).select_by_value(str(letter.get_attribute("value")))
    shown = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr:not([hidden]) [data-figure='so-far-letter']")
    assert {one.text for one in shown} <= {letter.text}
