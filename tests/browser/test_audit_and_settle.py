"""From a finding to its mend, a cutoff dragged, and a class settled by keyboard."""

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, until, wait

pytestmark = pytest.mark.browser


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, with the page open that is walked."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        found.open(driver, "HYDR 230-01", "audit")
        yield found


def open_finding(driver: webdriver.Chrome, words: str) -> None:
    links = driver.find_elements(By.CSS_SELECTOR, "a.finding-text")
    next(link for link in links if words in link.text).send_keys(Keys.ENTER)
    wait(driver, "#margin strong", words)


@pytest.mark.usefixtures("stage")
def test_mended_and_let_stand(driver: webdriver.Chrome) -> None:
    open_finding(driver, "8.5 would be in line")
    driver.find_element(By.ID, "fix").send_keys(Keys.ENTER)
    wait(driver, ".notice", "make it 8.5")
    assert "would be in line" not in driver.find_element(By.CSS_SELECTOR, ".findings").text
    open_finding(driver, "may be the same person")
    driver.find_element(By.ID, "stand-reason").send_keys(Keys.ENTER)
    wait(driver, "#stand-why", "type a reason; it is saved")
    driver.find_element(By.ID, "stand-reason").send_keys("two people, asked both", Keys.ENTER)
    wait(driver, ".findings-part", "Accepted as is")
    assert "accepted as is: two people, asked both" in driver.find_element(By.CSS_SELECTOR, ".finding.stands").text


@pytest.mark.usefixtures("stage")
def test_a_cutoff_is_dragged(driver: webdriver.Chrome) -> None:
    grip = driver.find_element(By.CSS_SELECTOR, ".strip-handle[data-letter='A-'] rect")
    ActionChains(driver, duration=0).drag_and_drop_by_offset(grip, -16, 0).perform()
    wait(driver, ".cutoffs [role='status']", "up, 0 down")
    assert float(driver.find_element(By.ID, "from-A-").get_attribute("value") or "90") < 90
    field = driver.find_element(By.ID, "from-A-")
    field.clear()
    field.send_keys("90", Keys.TAB)
    wait(driver, ".cutoffs [role='status']", "Nobody")


def kept(folder: Path, section: int) -> dict[str, str]:
    connection = sqlite3.connect(folder / "demo" / "vinemark.sqlite")
    rows = connection.execute(
        "SELECT student_id, settled FROM settled WHERE section_id = ? AND run = 'final'", (section,)
    ).fetchall()
    connection.close()
    return dict(rows)


def counted_as_shown(driver: webdriver.Chrome) -> bool:
    shown = len(driver.find_elements(By.CSS_SELECTOR, ".settle-table tbody tr:not([hidden])"))
    return driver.find_element(By.ID, "settle-count").text.startswith(f"{shown} of ")


def test_settled_by_keyboard(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    stage.open(driver, "HYDR 230-01", "settle")
    codes = driver.find_elements(By.CSS_SELECTOR, "tbody .code[data-computed]")
    letters = [code.get_attribute("data-computed") for code in codes]
    plain = next(n for n, letter in enumerate(letters) if letter not in {"F", ""} and letters[n + 1] not in {"F", ""})
    first, second = codes[plain].get_attribute("id"), codes[plain + 1].get_attribute("id")
    codes[plain].send_keys("=")
    wait(driver, f"#{first}.set")
    assert driver.switch_to.active_element.get_attribute("id") == second
    incomplete = str(second).removeprefix("grade-")
    driver.switch_to.active_element.send_keys("i", Keys.ENTER)
    wait(driver, f"#fallback-{incomplete}").send_keys("C", Keys.TAB)
    wait(driver, f"#owed-{incomplete}").send_keys("the survey report", Keys.TAB)
    driver.find_element(By.ID, f"finish-{incomplete}").send_keys("03012027", Keys.ENTER)
    until(lambda: "2027-03-01" in kept(folder, 1).get(incomplete, ""), "the date is not kept")
    failing = str(codes[letters.index("F")].get_attribute("id")).removeprefix("grade-")
    driver.find_element(By.ID, f"grade-{failing}").send_keys("=")
    wait(driver, f"#row-{failing} [data-fill]").send_keys(Keys.ENTER)
    until(lambda: '"last_attended": "2026' in kept(folder, 1).get(failing, ""), "the suggested date is not kept")
    Select(driver.find_element(By.ID, "settle-show")).select_by_value("open")
    whole = len(codes)
    until(lambda: counted_as_shown(driver), "the count is not what is shown")
    shown = len(driver.find_elements(By.CSS_SELECTOR, ".settle-table tbody tr:not([hidden])"))
    assert shown < whole + 1
    driver.find_element(By.XPATH, "//button[normalize-space()='Settle the rest as computed']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "grades settled as computed")
    taken = len(kept(folder, 1))
    driver.find_element(By.XPATH, "//button[normalize-space()='Undo']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Undone")
    assert len(kept(folder, 1)) == 3 < taken


@pytest.mark.usefixtures("driver")
def test_set_aside_by_keyboard(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "HYDR 230-01", "settle")
    field = wait(driver, ".aside-form input[name=reason]")
    field.send_keys("sits in only", Keys.ENTER)
    wait(driver, ".notice", "set aside: sits in only")
    wait(driver, ".apart-list", "sits in only")
    driver.find_element(By.XPATH, "//section[contains(@class, 'apart-list')]//a[contains(., 'Delete')]").click()
    wait(driver, "#work .notice", "Download the archive first")
