"""The whole way of one section in a real browser: from a class list to the registrar's page."""

import json
import sqlite3
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import FIRST_CODE, Stage, inside, logged, sign_grades, until, wait
from vinemark.office import ledger
from vinemark.office.schools import LARKMOOR
from vinemark.store.database import connect, migrate

pytestmark = pytest.mark.browser

GRADES = 'return [...document.querySelectorAll("input[name=grade]")].map((field) => field.value)'
ROSTER = [
    ("L1", "Nuñez", "Zoë", "letter"),
    ("L2", "van der Meer, Jr.", "Åse", "letter"),
    ("L3", "Suharti", "", "letter"),
    ("L4", "Østby", "Milo", "letter"),
]
CLASS_LIST = (
    "\ufeffStudent ID;Last Name;First Name;E-Mail\r\n"
    "L1;Nuñez;Zoë;zoe@larkmoor.example\r\n"
    'L2;"van der Meer, Jr.";Åse;\r\n'
    "\r\n"
    "L3;Suharti;;\r\n"
    'L4;Østby;Milo;"milo@larkmoor.example"\r\n'
)


def office_with_section(path: Path) -> None:
    """An office that knows one section of Tove Arnesen."""
    connection = connect(path)
    migrate(connection, "vinemark.office")
    ledger.set_school(connection, LARKMOOR)
    term = {"code": "2026FA", "name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"}
    ledger.add_term(connection, term, {"final": ("2026-12-14T08:00:00", "2026-12-21T17:00:00")})
    names = ("id", "family_name", "given_name", "basis")
    roster = [{**dict(zip(names, row, strict=True)), "email": None, "status": "enrolled"} for row in ROSTER]
    section = {"ref": "R1", "term": "2026FA", "course": "BRYO 110", "title": "Mosses", "number": "01"}
    ledger.add_section(connection, {**section, "instructor": "tove@larkmoor.example"}, roster)
    connection.close()


def type_into(driver: webdriver.Chrome, place: str, text: str) -> None:
    field = driver.find_element(By.ID, place)
    field.clear()
    field.send_keys(text)


def keys(driver: webdriver.Chrome, *typed: str) -> None:
    ActionChains(driver).send_keys(*typed).perform()


def console_errors(driver: webdriver.Chrome) -> list[str]:
    """Errors of the console, but for Chromium's notice of a 422 and htmx's of a request that a later one replaced."""
    logs = [str(entry["message"]) for entry in logged(driver) if entry["level"] == "SEVERE"]
    meant = ("status of 422", "htmx:sendAbort", "htmx:afterRequest")
    return [message for message in logs if not any(words in message for words in meant)]


def make_account_and_section(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    driver.get(stage.url)
    wait(driver, "h1", "Create the first account")
    for place, text in (
        ("code", FIRST_CODE),
        ("name", "Tove Arnesen"),
        ("email", "tove@larkmoor.example"),
        ("password", "short"),
    ):
        type_into(driver, f"f-{place}", text)
    driver.find_element(By.CSS_SELECTOR, "main form button").click()
    wait(driver, "#f-password-hint", "10 characters or more")
    assert driver.find_element(By.ID, "f-name").get_attribute("value") == "Tove Arnesen"
    for place in ("password", "again"):
        type_into(driver, f"f-{place}", "moss on cold stone")
    driver.find_element(By.CSS_SELECTOR, "main form button").click()
    wait(driver, "h2", "No sections yet")
    driver.find_element(By.LINK_TEXT, "Add a section").click()
    (folder / "class.csv").write_text(CLASS_LIST, encoding="utf-8", newline="")
    for place, text in (("course", "BRYO 110"), ("number", "01"), ("title", "Mosses")):
        type_into(driver, f"f-{place}", text)
    driver.find_element(By.ID, "f-course_file").send_keys(str(folder / "class.csv"))
    driver.find_element(By.XPATH, "//button[normalize-space()='Create the section']").click()
    wait(driver, ".notice", "4 people on the registrar")
    driver.find_element(By.LINK_TEXT, "Start without a syllabus").click()
    wait(driver, "h1", "Grading plan")


def add_category(driver: webdriver.Chrome, name: str, weight: str) -> None:
    type_into(driver, "new-name", name)
    type_into(driver, "new-weight", weight + Keys.ENTER)
    wait(driver, ".notice", f"{name} added")


def add_item(driver: webdriver.Chrome, category: str, name: str, points: str) -> None:
    panel = driver.find_element(By.ID, f"new-item-{category}")
    if panel.get_attribute("open") is None:
        panel.find_element(By.TAG_NAME, "summary").send_keys(Keys.ENTER)
    type_into(driver, f"new-{category}-name", name)
    type_into(driver, f"new-{category}-points", points + Keys.ENTER)
    wait(driver, ".notice", f"{name} added")


def plan(driver: webdriver.Chrome) -> None:
    add_category(driver, "Field sketches", "60")
    add_category(driver, "Exam", "30")
    wait(driver, ".ribbon-verdict", "90 of 100: 10 left to assign")
    add_item(driver, "c1", "Sketch 1–2", "10")
    assert [s.text for s in driver.find_elements(By.CSS_SELECTOR, "#category-c1 .chip:not(.new) summary")] == [
        "Sketch 1 /10",
        "Sketch 2 /10",
    ]
    add_item(driver, "c2", "Exam", "50")
    weight = driver.find_element(By.ID, "weight-c2")
    weight.clear()
    weight.send_keys("45")
    wait(driver, ".ribbon-verdict", "105 of 100: 5 over")
    weight.clear()
    weight.send_keys("-3" + Keys.TAB)
    wait(driver, "#weight-c2-reason", "must not be negative")
    assert driver.find_element(By.ID, "weight-c2").get_attribute("value") == "-3"
    weight = driver.find_element(By.ID, "weight-c2")
    weight.clear()
    weight.send_keys("35" + Keys.TAB)
    wait(driver, ".ribbon-verdict", "95 of 100: 5 left to assign")


def choose_blanks_by_keyboard(driver: webdriver.Chrome) -> None:
    driver.find_element(By.ID, "rule-c2-blanks").send_keys(Keys.ENTER)
    wait(driver, "#rule-c2-blanks[aria-expanded='true']")
    keys(driver, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
    wait(driver, "#rule-c2-blanks", "counts as 0")


def delete_and_undo(driver: webdriver.Chrome) -> None:
    driver.find_element(By.ID, "delete-c1").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Field sketches deleted")
    driver.find_element(By.XPATH, "//button[normalize-space()='Undo']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Undone: Field sketches deleted")
    assert [f.get_attribute("value") for f in driver.find_elements(By.CSS_SELECTOR, ".category-name")] == [
        "Field sketches",
        "Exam",
    ]


def go(driver: webdriver.Chrome, step: str, heading: str) -> None:
    driver.find_element(By.CSS_SELECTOR, f".stem a[href$='/{step}']").send_keys(Keys.ENTER)
    wait(driver, "h1", heading)


def scores(driver: webdriver.Chrome) -> None:
    cell = driver.find_element(By.ID, "cell-L1-i1")
    cell.click()
    keys(driver, "9", Keys.ENTER, "8.5", Keys.ENTER, "m", Keys.ENTER, "7", Keys.ENTER)
    driver.find_element(By.ID, "cell-L1-i2").click()
    keys(driver, "10", Keys.TAB, "45", Keys.TAB)
    keys(driver, "abc", Keys.ENTER)
    wait(driver, "#cell-L2-i1.refused")
    refused = driver.find_element(By.ID, "cell-L2-i1")
    assert (refused.text, refused.get_attribute("aria-invalid")) == ("abc", "true")
    assert "must be a number" in str(refused.get_attribute("title"))
    refused.click()
    keys(driver, "-4", Keys.ENTER)
    wait(driver, "#sheet-said", "must not be negative")
    driver.find_element(By.ID, "cell-L2-i1").click()
    keys(driver, Keys.ESCAPE)
    assert driver.find_element(By.ID, "cell-L2-i1").text == "8.5"
    keys(driver, "3", Keys.ESCAPE)
    assert driver.find_element(By.ID, "cell-L2-i1").text == "8.5"
    for student, sketch, exam in (("L2", "55", "40"), ("L3", "9", "35"), ("L4", "6", "")):
        driver.find_element(By.ID, f"cell-{student}-i2").click()
        keys(driver, sketch, Keys.TAB, exam, Keys.ENTER)
    wait(driver, "#saved", "All changes saved")
    # L1: 60 of sketches 19/20, 35 of the exam 45/50, of 95 in force: (57 + 31.5) / 0.95.
    wait(driver, "#row-L1 [data-figure='so-far']", "93.16")
    driver.find_element(By.ID, "cell-L1-i1").click()
    wait(driver, "#margin h2", "Nuñez, Zoë")
    steps = driver.find_element(By.CSS_SELECTOR, "#margin .steps").text
    assert "93.157895…" in steps
    assert "1770/19" in steps


def audit_finds_and_is_mended(driver: webdriver.Chrome) -> None:
    codes = [c.get_attribute("data-code") for c in driver.find_elements(By.CSS_SELECTOR, ".finding")]
    assert codes == ["weights-off", "over-points", "percent-high"]
    assert len(driver.find_elements(By.CSS_SELECTOR, ".strip-dot")) == 4
    wait(driver, ".finding:nth-child(2) .finding-text", "55 of 10").send_keys(Keys.ENTER)
    wait(driver, "#margin .evidence", "between 6 and 10")
    driver.find_element(By.CSS_SELECTOR, "#margin p > a.btn").send_keys(Keys.ENTER)
    wait(driver, "h1", "Scores")
    assert driver.switch_to.active_element.get_attribute("id") == "cell-L2-i2"
    keys(driver, "5.5", Keys.ENTER)
    wait(driver, "#saved", "All changes saved")
    go(driver, "plan", "Grading plan")
    weight = driver.find_element(By.ID, "weight-c2")
    weight.clear()
    weight.send_keys("40" + Keys.TAB)
    wait(driver, ".ribbon-verdict.full", "100 of 100")
    wait(driver, ".rehearsing", "4 grades would change")
    driver.find_element(By.ID, "reason").send_keys("The syllabus gives the exam 40" + Keys.ENTER)
    wait(driver, ".notice", "Applied: The syllabus gives the exam 40")
    go(driver, "audit", "Audit")
    wait(driver, ".findings h2", "Nothing found")


def settle(driver: webdriver.Chrome) -> None:
    driver.find_element(By.XPATH, "//button[normalize-space()='Settle the rest as computed']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "4 grades settled as computed")
    driver.find_element(By.XPATH, "//button[normalize-space()='Undo']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "Undone")
    assert driver.find_element(By.ID, "grade-L1").get_attribute("value") == ""
    driver.find_element(By.XPATH, "//button[normalize-space()='Settle the rest as computed']").send_keys(Keys.ENTER)
    wait(driver, ".notice", "4 grades settled as computed")
    until(lambda: inside(driver, GRADES) == ["A", "C", "F", "F"], "not settled as computed")
    type_into(driver, "grade-L2", "q" + Keys.TAB)
    wait(driver, "#why-L2", "the registrar takes A, A-")
    type_into(driver, "grade-L2", "b" + Keys.TAB)
    wait(driver, "#why-L2", "type why it is B instead of C")
    assert driver.find_element(By.ID, "grade-L2").get_attribute("value") in {"b", "B"}
    type_into(driver, "reason-L2", "One sketch was lost by me" + Keys.TAB)
    wait(driver, "#row-L2.differs")
    wait(driver, "#margin", "finding")


def submit_part(driver: webdriver.Chrome) -> None:
    """The two F rows lack their dates: they are held back, the others can go."""
    wait(driver, ".way .left", "4")
    assert len(driver.find_elements(By.CSS_SELECTOR, ".state-stopped")) == 2
    sign_grades(driver)
    wait(driver, "h2", "Signed, not submitted")
    driver.find_element(By.ID, "send").send_keys(Keys.ENTER)
    wait(driver, ".notice", "2 accepted, 0 refused")
    wait(driver, ".way .left", "2")


def mend_dates(driver: webdriver.Chrome) -> None:
    go(driver, "settle", "Settle")
    driver.find_element(By.ID, "never-L3").send_keys(Keys.SPACE)
    wait(driver, "#never-L3:checked")
    wait(driver, "#margin", "said never to have attended, and has a score above 0")
    driver.find_element(By.ID, "never-L3").send_keys(Keys.SPACE)
    wait(driver, "#never-L3:not(:checked)")
    driver.find_element(By.ID, "attended-L3").send_keys("11012026", Keys.ENTER)
    wait(driver, "#row-L4 #attended-L4")
    driver.find_element(By.ID, "attended-L4").send_keys("11022026", Keys.ENTER)
    wait(driver, "#margin .box.good", "Nothing must be fixed")


def submit_rest(driver: webdriver.Chrome) -> None:
    go(driver, "submit", "Submit")
    sign_grades(driver)
    wait(driver, "#send").send_keys(Keys.ENTER)
    wait(driver, ".notice", "2 accepted")
    wait(driver, "h2", "Everything is received")
    wait(driver, "#margin", "4 of 4 lines agree")


def test_from_an_empty_database_to_the_offices_page(driver: webdriver.Chrome, folder: Path) -> None:
    office_with_section(folder / "office.sqlite")
    with Stage.running(folder) as stage:
        make_account_and_section(driver, stage, folder)
        plan(driver)
        choose_blanks_by_keyboard(driver)
        delete_and_undo(driver)
        go(driver, "scores", "Scores")
        scores(driver)
        go(driver, "audit", "Audit")
        audit_finds_and_is_mended(driver)
        go(driver, "settle", "Settle")
        settle(driver)
        go(driver, "submit", "Submit")
        submit_part(driver)
        mend_dates(driver)
        submit_rest(driver)
        assert console_errors(driver) == []
        driver.find_element(By.CSS_SELECTOR, ".receipt-box").click()
        wait(driver, "h1", "Receipt R-2026-00002")
        driver.get(f"{stage.office_url}/sections/R1")
        held = {
            cell.get_attribute("data-grade"): cell.text
            for cell in driver.find_elements(By.CSS_SELECTOR, "[data-grade]")
        }
        assert held == {"L1": "A", "L2": "B", "L3": "F", "L4": "F"}
        assert len(driver.find_elements(By.CSS_SELECTOR, "[data-receipt]")) == 2
        driver.find_element(By.XPATH, "//button[normalize-space()='Post now']").click()
        wait(driver, ".facts strong", "Posted")
    assert frozen_scores(folder / "vinemark.sqlite") == {"i1": "9", "i2": "10", "i3": "45"}


def frozen_scores(path: Path) -> dict[str, str]:
    """The first student's scores in the copy that was frozen by the first signature."""
    with sqlite3.connect(path) as connection:
        text = connection.execute("SELECT course FROM signing ORDER BY id LIMIT 1").fetchone()[0]
    connection.close()
    scores: dict[str, str] = json.loads(text)["scores"]["L1"]
    return scores
