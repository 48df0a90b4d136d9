"""Everybody who has a part: invited by a letter, signed in by the college, a chair, an administrator."""

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.browser.stage import DEMO_EMAIL, Stage, keys, wait

pytestmark = pytest.mark.browser

NEW_PASSWORD = "three ferns in a wet wood"
GRADER = "ines.albright@larkmoor.example"


def sign_out(driver: webdriver.Chrome) -> None:
    driver.find_element(By.CSS_SELECTOR, "[data-sign-out] button").click()


def test_who_is_invited_enters_a_first_score(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.start_mail()
    section = driver.current_url.partition("/s/")[2].partition("/")[0]
    driver.get(f"{stage.url}/s/{section}/people")
    wait(driver, "#f-email").send_keys(GRADER)
    Select(driver.find_element(By.ID, "f-role")).select_by_value("grader")
    driver.find_element(By.XPATH, "//button[text()='Give this part']").click()
    wait(driver, ".notice", "A letter is on its way.")
    sign_out(driver)
    wait(driver, "#f-email")
    driver.get(stage.letter_link(driver, GRADER))
    wait(driver, "#f-name").send_keys("Ines Albright")
    driver.find_element(By.ID, "f-new").send_keys(NEW_PASSWORD)
    driver.find_element(By.ID, "f-again").send_keys(NEW_PASSWORD + "\n")
    wait(driver, "h1", "Scores")
    driver.find_elements(By.CSS_SELECTOR, "td[data-item='n1']")[0].click()
    wait(driver, "#margin h3", "How it was worked out")
    keys(driver, "12", "\n")
    wait(driver, "#saved", "All changes saved")
    driver.refresh()
    wait(driver, "td[data-item='n1']", "12")
    assert not driver.find_elements(By.CSS_SELECTOR, ".stem a[href$='/settle']")


def test_a_forgotten_password_is_replaced_by_a_letter(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.start_mail()
    driver.get(stage.url)
    sign_out(driver)
    wait(driver, "a[href='/password']").click()
    wait(driver, "#f-email").send_keys(DEMO_EMAIL + "\n")
    wait(driver, "main", "a link is on its way")
    driver.get(stage.letter_link(driver, DEMO_EMAIL))
    wait(driver, "#f-new").send_keys(NEW_PASSWORD)
    driver.find_element(By.ID, "f-again").send_keys(NEW_PASSWORD + "\n")
    wait(driver, ".notice", "Password changed")
    driver.find_element(By.ID, "f-email").send_keys(DEMO_EMAIL)
    driver.find_element(By.ID, "f-password").send_keys(NEW_PASSWORD + "\n")
    wait(driver, "h1", "Desk")


def test_single_sign_on_in_and_out_by_the_keyboard(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.start_identity()
    driver.get(stage.url)
    sign_out(driver)
    wait(driver, "a.sso", "Sign in with Larkmoor College").send_keys("\n")
    wait(driver, "button[value='l101']", "Maren Ostrander").send_keys("\n")
    wait(driver, "h1", "Desk")
    assert "HYDR 230-01" in driver.find_element(By.ID, "work").text
    sign_out(driver)
    # Through the provider and back, by itself.
    wait(driver, "a.sso")
    driver.get(stage.identity_url)
    wait(driver, "main", "Nobody is signed in here")
    driver.get(stage.url)
    wait(driver, "h1", "Sign in")


def test_signing_out_at_the_college_signs_out_here(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.start_identity()
    driver.get(stage.url)
    sign_out(driver)
    wait(driver, "a.sso").click()
    wait(driver, "button[value='l107']", "Ines Albright").click()
    wait(driver, "h1", "Desk")
    driver.get(stage.identity_url)
    wait(driver, "button", "Sign out everywhere").click()
    wait(driver, "main", "Nobody is signed in here")
    driver.get(f"{stage.url}/account")
    wait(driver, "h1", "Sign in")


def test_a_chair_sees_where_each_section_stands_and_opens_one(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(stage.url)
    sign_out(driver)
    wait(driver, "#f-email")
    stage.sign_in(driver, "odalys.brightwater@larkmoor.example")
    wait(driver, ".person a", "Department").click()
    wait(driver, "h1", "Earth and Water")
    rows = [row.text for row in driver.find_elements(By.CSS_SELECTOR, ".board tbody tr")]
    assert len(rows) == 3
    assert rows[0].startswith("SOIL 210-01")
    assert "overdue" in rows[0]
    assert "posted" in next(row for row in rows if row.startswith("HYDR 410-01"))
    driver.find_element(By.LINK_TEXT, "HYDR 230-01").click()
    wait(driver, "h1", "Grading plan")
    driver.find_element(By.CSS_SELECTOR, ".stem a[href$='/settle']").click()
    wait(driver, "h1", "Settle")
    assert not driver.find_elements(By.CSS_SELECTOR, ".settle-table tbody input:not([readonly]):not([disabled])")


def test_an_administrator_makes_a_department_and_a_chair(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(stage.url)
    sign_out(driver)
    wait(driver, "#f-email")
    stage.sign_in(driver, "hollis.garrick@larkmoor.example")
    wait(driver, ".person a", "College").click()
    wait(driver, "h1", "College")
    driver.find_element(By.ID, "department-3").send_keys("Rocks")
    driver.find_element(By.ID, "subjects-3").send_keys("GEOL 2\n")
    wait(driver, ".reason", "letters alone")
    assert driver.find_element(By.ID, "department-3").get_attribute("value") == "Rocks"
    driver.find_element(By.ID, "subjects-3").clear()
    driver.find_element(By.ID, "subjects-3").send_keys("GEOL\n")
    wait(driver, ".notice", "Department Rocks saved.")
    driver.find_element(By.ID, "part-email").send_keys(DEMO_EMAIL)
    Select(driver.find_element(By.ID, "part-role")).select_by_visible_text("chair")
    Select(driver.find_element(By.ID, "part-department")).select_by_visible_text("Rocks")
    driver.find_element(By.XPATH, "//button[text()='Give this part']").click()
    wait(driver, ".notice", "is chair of Rocks from now on.")
