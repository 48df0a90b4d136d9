"""The plan page under mouse and keyboard: dragging, several items at once, saved scales, a plan copied."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, wait

pytestmark = pytest.mark.browser


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, with the page open that is walked."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        found.open(driver, "HYDR 230-01", "plan")
        yield found


def chips(driver: webdriver.Chrome, category: str) -> list[str]:
    return [
        e.get_attribute("data-item") or ""
        for e in driver.find_elements(By.CSS_SELECTOR, f"#items-{category} li[data-item]")
    ]


def drag(driver: webdriver.Chrome, what: str, where: str) -> None:
    driver.execute_script("document.documentElement.style.scrollBehavior = 'auto'")
    source = driver.find_element(By.CSS_SELECTOR, f"#place-{what} summary")
    target = driver.find_element(By.CSS_SELECTOR, f"#place-{where} summary")
    driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", source)
    hand = ActionChains(driver).click_and_hold(source).move_by_offset(6, 4).pause(0.2).move_to_element(target)
    hand.pause(0.3).move_by_offset(3, 2).pause(0.3).release().perform()


@pytest.mark.usefixtures("stage")
def test_items_move(driver: webdriver.Chrome) -> None:
    drag(driver, "q3", "p1")
    wait(driver, ".notice", "Map quiz 3 moved in Lab practicals, in preview")
    assert "q3" in chips(driver, "c3")
    assert "q3" not in chips(driver, "c2")
    driver.find_element(By.CSS_SELECTOR, "#place-n1 summary").send_keys(Keys.ARROW_RIGHT)
    assert driver.switch_to.active_element.text.startswith("Notebook 2")
    driver.switch_to.active_element.send_keys(Keys.ENTER)
    driver.find_element(By.ID, "later-n2").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Notebook 2 moved")
    assert chips(driver, "c1")[:3] == ["n1", "n3", "n2"]


@pytest.mark.usefixtures("stage")
def test_items_together(driver: webdriver.Chrome) -> None:
    driver.find_element(By.CSS_SELECTOR, "#together summary").send_keys(Keys.ENTER)
    driver.find_element(By.CSS_SELECTOR, "#form-together .btn-line").send_keys(Keys.ENTER)
    wait(driver, ".notice.trouble", "choose the items first")
    driver.find_element(By.XPATH, "//*[@id='form-together']//button[normalize-space()='Seminar']").send_keys(Keys.ENTER)
    driver.find_element(By.ID, "together-days").send_keys("soon" + Keys.ENTER)
    wait(driver, "#together-days-reason")
    assert driver.find_element(By.ID, "pick-r1").is_selected()
    days = driver.find_element(By.ID, "together-days")
    days.clear()
    days.send_keys("-2")
    Select(driver.find_element(By.ID, "together-protected")).select_by_value("yes")
    driver.find_element(By.CSS_SELECTOR, "#form-together .btn-line").send_keys(Keys.ENTER)
    wait(driver, ".notice", "8 items changed together")


def test_a_scale_saved_and_used_elsewhere(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.find_element(By.ID, "save-scale_name").send_keys("House scale" + Keys.ENTER)
    wait(driver, ".notice", "Saved as House scale")
    stage.open(driver, "BOTN 105-02", "plan")
    driver.find_element(By.XPATH, "//button[normalize-space()='House scale']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Letter scale is House scale")
    assert driver.find_element(By.ID, "letter-1").get_attribute("value") == "A-"
    driver.find_element(By.XPATH, "//button[@aria-label='Forget House scale']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "House scale deleted")


def test_a_plan_copied(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "FIBR 120-01", "plan")
    driver.find_element(By.LINK_TEXT, "Copy a plan").click()
    wait(driver, "h1", "Copy a plan")
    Select(driver.find_element(By.ID, "source")).select_by_visible_text("HYDR 410-01, Fall 2026")
    driver.find_element(By.XPATH, "//button[normalize-space()='Compare']").click()
    wait(driver, ".diff .tag", "only FIBR 120-01")
    driver.find_element(By.CSS_SELECTOR, ".act-box .btn-must").click()
    wait(driver, ".notice", "Plan of HYDR 410-01, Fall 2026, copied, in preview")
    driver.find_element(By.XPATH, "//button[normalize-space()='Copy as text']").click()
    wait(driver, "[data-copy]", "Copied")
