"""An instructor makes a column visible; its student sees it and nothing hidden; what-if; the preview is the same."""

import re

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, wait
from tests.browser.test_columns import at, heading

pytestmark = pytest.mark.browser

STUDENT = "emeka.cato@larkmoor.example"


def choose(driver: webdriver.Chrome, item: str, rule: str) -> None:
    """Show or hide a column in its margin."""
    driver.find_element(By.CSS_SELECTOR, heading(driver, item)).click()
    chosen = wait(driver, "#access")
    Select(chosen).select_by_value(rule)
    chosen.submit()
    wait(driver, ".notice", "students" if rule == "open" else "hidden")


def change_places(driver: webdriver.Chrome, stage: Stage, email: str) -> None:
    driver.find_element(By.CSS_SELECTOR, "[data-sign-out] button").click()
    wait(driver, "#f-email")
    stage.sign_in(driver, email)


def statement(driver: webdriver.Chrome) -> str:
    driver.find_element(By.CSS_SELECTOR, ".studied a").click()
    wait(driver, "h2", "The rules of the course")
    return str(driver.find_element(By.CSS_SELECTOR, "main").text)


def test_a_student_sees_what_is_visible_and_nothing_hidden(driver: webdriver.Chrome, stage: Stage) -> None:
    choose(driver, "n1", "held")
    change_places(driver, stage, STUDENT)
    hidden = statement(driver)
    row = re.search(r"Notebook 1\n.*\n?.*", hidden)
    assert row
    assert "to come, or not shown yet" in row[0]
    so_far = re.search(r"So far\n(\S+)", hidden)
    assert so_far
    change_places(driver, stage, "maren.ostrander@larkmoor.example")
    stage.open(driver, "HYDR 230-01", "scores")
    choose(driver, "n1", "open")
    change_places(driver, stage, STUDENT)
    shown = statement(driver)
    assert re.search(r"Notebook 1\n.*worth.*\n?17 of 20", shown)
    assert f"So far\n{so_far[1]}" not in shown


def test_what_if_answers_while_one_types_and_keeps_nothing(driver: webdriver.Chrome, stage: Stage) -> None:
    change_places(driver, stage, STUDENT)
    statement(driver)
    first = driver.find_element(By.ID, "try-1")
    first.send_keys("9")
    wait(driver, "#tried", "With 1 score like these")
    Select(driver.find_element(By.ID, "need-letter")).select_by_value("B")
    wait(driver, "#tried", "as things stand")
    first.send_keys(Keys.BACKSPACE + "lots")
    wait(driver, "#tried .reason")
    driver.refresh()
    wait(driver, "h2", "What if")
    assert driver.find_element(By.ID, "try-1").get_attribute("value") == ""


def test_an_instructor_sees_exactly_that_from_the_sheet(driver: webdriver.Chrome, stage: Stage) -> None:
    at(driver, 2, "n1")
    wait(driver, "#margin a", "What the student sees")
    driver.find_element(By.LINK_TEXT, "What the student sees").click()
    wait(driver, ".preview-line", "exactly what Emeka Cato sees now")
    mine = driver.find_element(By.CSS_SELECTOR, "main").text
    driver.find_element(By.LINK_TEXT, "What students see").click()
    wait(driver, "h1", "What students see")
    change_places(driver, stage, STUDENT)
    assert statement(driver) == mine
