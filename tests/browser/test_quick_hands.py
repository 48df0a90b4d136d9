"""Hands that are quicker than the server: what was typed last is what is kept."""

import json
import sqlite3
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import Stage, until, wait

pytestmark = pytest.mark.browser

TYPE_TWICE = """
const field = document.getElementById(arguments[0]);
for (const value of arguments[1]) {
  field.value = value;
  field.dispatchEvent(new Event('change', {bubbles: true}));
}
"""


def rows(path: Path, query: str) -> list[tuple[object, ...]]:
    connection = sqlite3.connect(path)
    found = connection.execute(query).fetchall()
    connection.close()
    return found


def test_two_changes_of_one_field_before_the_first_answer(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "FIBR 120-01", "settle")
        student = str(driver.find_element(By.CSS_SELECTOR, "input[name='grade']").get_attribute("id"))[6:]
        driver.execute_script(TYPE_TWICE, f"grade-{student}", ["", "c+"])
        wait(driver, f"#why-{student}", "type why it is C+ instead of D")
        assert driver.find_element(By.ID, f"grade-{student}").get_attribute("value") == "c+"
        stage.open(driver, "HYDR 230-01", "plan")
        driver.execute_script(TYPE_TWICE, "weight-c5", ["28", "30"])
        wait(driver, ".ribbon-verdict.full", "100 of 100")
        assert driver.find_element(By.ID, "weight-c5").get_attribute("value") == "30"


def test_a_weight_left_before_its_preview_is_kept(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "HYDR 230-01", "plan")
        for weight in ("26", "27", "28", "29", "30"):
            driver.execute_script("document.getElementById('weight-c5').select()")
            ActionChains(driver, duration=0).send_keys(weight, Keys.TAB).perform()
            wait(driver, ".notice", f"Weight of Survey report is {weight}, in preview")
        kept = json.loads(str(rows(stage.folder / "vinemark.sqlite", "SELECT plan FROM rehearsal")[0][0]))
        assert kept["categories"][4]["weight"] == "30"


def test_a_column_typed_without_a_pause_is_kept_in_order(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "HYDR 230-01", "scores")
        driver.find_element(By.CSS_SELECTOR, "td[data-item='n1']").click()
        typing = ActionChains(driver, duration=0)
        for n in range(30):
            typing.send_keys(str(n % 20), Keys.ENTER)
        typing.perform()
        wait(driver, "#saved", "All changes saved")
        shown = [c.text for c in driver.find_elements(By.CSS_SELECTOR, "td[data-item='n1']")][:30]
        assert shown == [str(n % 20) for n in range(30)]
        query = (
            "SELECT c.cell FROM score c JOIN student s ON s.section_id = c.section_id AND s.id = c.student_id"
            " WHERE c.section_id = 1 AND c.item_id = 'n1' ORDER BY s.place LIMIT 30"
        )
        assert [row[0] for row in rows(stage.folder / "vinemark.sqlite", query)] == shown


def test_with_the_server_gone_typing_goes_on_and_is_sent_when_it_is_back(
    driver: webdriver.Chrome, folder: Path
) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "HYDR 230-01", "scores")
        stage.stop("app")
        driver.find_element(By.CSS_SELECTOR, "td[data-item='n2']").click()
        ActionChains(driver).send_keys("11", Keys.ENTER, "12", Keys.ENTER).perform()
        wait(driver, "#saved", "2 not saved yet: no connection")
        stage.start("app", "serve", "--port", str(stage.port))
        wait(driver, "#saved", "All changes saved", seconds=30)
        query = "SELECT count(*) FROM score WHERE section_id = 1 AND item_id = 'n2' AND cell IN ('11', '12')"
        assert int(str(rows(stage.folder / "vinemark.sqlite", query)[0][0])) >= 2


SLOW_ANSWERS = """
const send = XMLHttpRequest.prototype.send;
XMLHttpRequest.prototype.send = function (body) { setTimeout(() => send.call(this, body), 800); };
"""


def test_a_menu_opened_before_an_answer_stays_open_when_it_comes(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        stage.open(driver, "HYDR 230-01", "plan")
        driver.execute_script(SLOW_ANSWERS)
        driver.find_element(By.ID, "rule-c4-blanks").send_keys(Keys.ENTER)
        wait(driver, "#rule-c4-blanks[aria-expanded='true']")
        ActionChains(driver).send_keys(Keys.ARROW_DOWN, Keys.ENTER).perform()
        driver.find_element(By.ID, "rule-c4-split").send_keys(Keys.ENTER)
        wait(driver, "#rule-c4-split[aria-expanded='true']")
        ActionChains(driver).send_keys(Keys.ARROW_DOWN).perform()
        chosen = driver.switch_to.active_element.text
        assert chosen.startswith("by points")
        wait(driver, "#rule-c4-blanks", "is not counted yet")
        assert driver.switch_to.active_element.text == chosen
        ActionChains(driver).send_keys(Keys.ENTER).perform()
        wait(driver, "#rule-c4-split", "by points")


# The answer to a row comes when something else has the focus already.
ANSWERED_LATER = """
document.querySelector(arguments[0]).focus();
const code = document.querySelector("tbody .code[data-computed=B]");
code.value = "B";
code.dispatchEvent(new Event("change", { bubbles: true }));
"""


@pytest.mark.parametrize(
    ("place", "words"), [("#settle-head .btn-must", "Settle the rest as computed"), ("#rail [href$=submit]", "Submit")]
)
def test_an_answer_to_a_row_leaves_the_focus_where_it_is(
    driver: webdriver.Chrome, stage: Stage, place: str, words: str
) -> None:
    stage.open(driver, "HYDR 230-01", "settle")
    said = driver.find_element(By.CSS_SELECTOR, "#settle-head .quiet").text
    driver.execute_script(ANSWERED_LATER, place)
    until(lambda: driver.find_element(By.CSS_SELECTOR, "#settle-head .quiet").text != said, "the head stays as it was")
    assert driver.switch_to.active_element.text.startswith(words)
    driver.switch_to.active_element.send_keys(Keys.ENTER)
    wait(driver, *((".notice", "grades settled as computed") if words.startswith("Settle") else ("h1", "Submit")))
