"""From a syllabus to a plan in a real browser: dropped, pointed at, mended from its clause."""

from pathlib import Path

import docx
import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, logged, wait

pytestmark = pytest.mark.browser
FILES = Path(__file__).parent.parent.parent / "src" / "vinemark" / "demo" / "syllabuses"
DROP = """
const [zone, name, text] = arguments;
const data = new DataTransfer();
data.items.add(new File([text], name, {type: "text/plain"}));
zone.dispatchEvent(new DragEvent("drop", {dataTransfer: data, bubbles: true, cancelable: true}));
"""


def pull_section(driver: webdriver.Chrome) -> None:
    driver.find_element(By.LINK_TEXT, "Add a section").click()
    driver.find_element(By.CSS_SELECTOR, "form[action$='/sections/registrar'] button").send_keys(Keys.ENTER)
    wait(driver, "h1", "Syllabus")


def drop_to_plan(driver: webdriver.Chrome) -> None:
    zone = driver.find_element(By.CSS_SELECTOR, "[data-drop]")
    driver.execute_script(DROP, zone, "loom.txt", (FILES / "FIBR-120.txt").read_text(encoding="utf-8"))
    wait(driver, ".legend")
    assert driver.find_element(By.NAME, "name-0").get_attribute("value") == "Studio pieces"
    driver.find_element(By.XPATH, "//button[normalize-space()='Use this plan']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Plan drafted from the syllabus")
    wait(driver, ".ribbon-verdict.full", "100 of 100")
    assert "nothing left" in driver.find_element(By.CSS_SELECTOR, ".match").text


def point_by_hand(driver: webdriver.Chrome) -> None:
    driver.find_element(By.LINK_TEXT, "Read the syllabus").click()
    wait(driver, "h1", "Syllabus")
    first = driver.find_element(By.CSS_SELECTOR, ".sent[tabindex='0']")
    first.send_keys(Keys.ARROW_DOWN)
    second = driver.switch_to.active_element
    assert second.get_attribute("id") != first.get_attribute("id")
    second.send_keys(Keys.ENTER)
    wait(driver, "form#pointed")
    Select(driver.find_element(By.ID, "point-kind")).select_by_value("drop")
    driver.find_element(By.ID, "point-named").send_keys("Critiques")
    driver.find_element(By.ID, "point-value").send_keys("best one" + Keys.ENTER)
    wait(driver, "#pointed .reason")
    assert driver.find_element(By.ID, "point-named").get_attribute("value") == "Critiques"
    value = driver.find_element(By.ID, "point-value")
    value.clear()
    value.send_keys("lowest 1" + Keys.ENTER)
    wait(driver, ".sent.k-drop")
    assert driver.find_element(By.NAME, "drop-2").get_attribute("value") == "lowest 1"


def a_difference_mended_from_its_clause(driver: webdriver.Chrome) -> None:
    driver.find_element(By.LINK_TEXT, "Go to the plan").click()
    rule = wait(driver, ".match-rule.open[data-rules='drop:c3']")
    driver.execute_script("arguments[0].focus()", rule)
    lit = driver.find_elements(By.CSS_SELECTOR, "#category-c3 .sentence.lit")
    assert len(lit) == 1
    rule.find_element(By.XPATH, ".//button[normalize-space()='Change the plan']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Drop made to follow the syllabus")
    wait(driver, "#rule-c3-drops", "drop the lowest 1")
    driver.find_element(By.XPATH, "//button[normalize-space()='Sign the comparison']").send_keys(Keys.ENTER)
    wait(driver, ".match .leafy", "nothing left")
    wait(driver, ".notice", "Comparison signed: everything agrees")


def test_from_a_dropped_file_to_a_signed_match(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        pull_section(driver)
        drop_to_plan(driver)
        point_by_hand(driver)
        a_difference_mended_from_its_clause(driver)
        severe = [entry["message"] for entry in logged(driver) if entry["level"] == "SEVERE"]
        assert [m for m in severe if "422" not in m] == []


def merged_docx(path: Path) -> Path:
    """A syllabus whose table has cells over several rows and columns, and a scale in two columns."""
    made = docx.Document()
    made.add_heading("Grading", 1)
    rows = [
        ("Part", "Work", "Share", "Remarks"),
        ("Studio", "Sketch sheets", "30%", "8 in all, lowest one dropped"),
        ("", "Bench trials", "30%", "3 of them"),
        ("Theory", "Closing essay", "40%", ""),
        ("", "", "100%", ""),
    ]
    table = made.add_table(len(rows), 4)
    for row, texts in zip(table.rows, rows, strict=True):
        for cell, text in zip(row.cells, texts, strict=True):
            cell.text = text
    table.cell(1, 0).merge(table.cell(2, 0))
    table.cell(4, 0).merge(table.cell(4, 1)).text = "Total"
    made.add_heading("Letter grades", 1)
    scale = [("A", "93", "C", "73"), ("B", "83", "D", "63")]
    letters = made.add_table(len(scale), 4)
    for row, texts in zip(letters.rows, scale, strict=True):
        for cell, text in zip(row.cells, texts, strict=True):
            cell.text = text
    made.add_paragraph("A sheet that is late loses 10% a day.")
    made.save(str(path))
    return path


def value(driver: webdriver.Chrome, name: str) -> str:
    return str(driver.find_element(By.NAME, name).get_attribute("value"))


def corrected_by_keyboard(driver: webdriver.Chrome) -> None:
    """The sum follows the typing, what is typed outlives the page, a category goes by one key."""
    share = driver.find_element(By.NAME, "weight-2")
    share.clear()
    share.send_keys("35" + Keys.TAB)
    wait(driver, "#weights-said", "95 of 100")
    driver.refresh()
    wait(driver, "#weights-said", "95 of 100")
    assert value(driver, "weight-2") == "35"
    share = driver.find_element(By.NAME, "weight-2")
    share.clear()
    share.send_keys("x" + Keys.TAB)
    wait(driver, "#weights-said .reason")
    share.clear()
    share.send_keys("40" + Keys.TAB)
    wait(driver, "#weights-said", "100 of 100")
    driver.find_element(By.NAME, "name-3").send_keys("Jury" + Keys.ENTER)
    wait(driver, "[name='name-4']")
    driver.find_element(By.NAME, "name-3").send_keys(Keys.ALT + Keys.SHIFT + "r")
    wait(driver, ".fact-row.new [name='name-3']")


def test_a_docx_with_merged_cells_becomes_a_plan(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        stage.sign_in(driver)
        pull_section(driver)
        driver.find_element(By.ID, "syllabus-file").send_keys(str(merged_docx(folder / "studio.docx")))
        driver.find_element(By.XPATH, "//button[normalize-space()='Read it']").send_keys(Keys.ENTER)
        wait(driver, "#syllabus-sentences table")
        assert "|" not in driver.find_element(By.ID, "syllabus-sentences").text
        assert [value(driver, f"name-{n}") for n in range(3)] == ["Sketch sheets", "Bench trials", "Closing essay"]
        assert (value(driver, "count-0"), value(driver, "drop-0"), value(driver, "count-1")) == ("8", "lowest 1", "3")
        assert value(driver, "scale") == "A 93, B 83, C 73, D 63"
        wait(driver, ".unread-list", "late work")
        wait(driver, "#weights-said", "100 of 100")
        corrected_by_keyboard(driver)
        driver.find_element(By.XPATH, "//button[normalize-space()='Use this plan']").send_keys(Keys.ENTER)
        wait(driver, ".ribbon-verdict.full", "100 of 100")
