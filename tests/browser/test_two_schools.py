"""A section with an F, a never-attended, an incomplete and pass-basis students goes through against both schools.

The registrar's rules are switched on its own page; nothing of the application knows which school it is.
"""

import time
from dataclasses import dataclass
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, inside, logged, sign_grades, until, wait

pytestmark = pytest.mark.browser

REF = "2026FA-FIBR120-01"
NEWCOMER = "L09999"


@dataclass(frozen=True)
class School:
    """What an instructor types at a school."""

    key: str
    never_came: str
    said: str
    incomplete: str
    chooses: bool
    failed: str
    refusal: str


SCHOOLS = [
    School("larkmoor", "F", "Aug 31, 2026", "I", True, "NP", "is not for the pass basis"),
    School("lakeside", "X", "zero hours", "INC", False, "NC", "is not for the pass basis"),
]


def office_page(driver: webdriver.Chrome, stage: Stage, place: str = f"/sections/{REF}") -> None:
    driver.get(stage.office_url + place)


def press(driver: webdriver.Chrome, by: str, what: str) -> None:
    """Press a button that loads a page, and wait for that page."""
    driver.execute_script("window.pressed = true")
    # The head of a page may be put in anew by the answer to what was typed last.
    until(lambda: _pressed(driver, by, what), f"{what} cannot be pressed")
    until(lambda: inside(driver, "return window.pressed ?? 'gone'") == "gone", f"{what} loaded no page", 20)


def _pressed(driver: webdriver.Chrome, by: str, what: str) -> bool:
    button = driver.find_element(by, what)
    driver.execute_script("arguments[0].scrollIntoView({ block: 'center' })", button)
    button.click()
    return True


def settle(driver: webdriver.Chrome, student: str, code: str, reason: str = "") -> None:
    """Type a settled grade and, where it is asked for, a reason."""
    if reason:
        field = driver.find_element(By.ID, f"reason-{student}")
        driver.execute_script("arguments[0].value = arguments[1]", field, reason)
    grade = driver.find_element(By.ID, f"grade-{student}")
    grade.clear()
    grade.send_keys(code + Keys.TAB)


def change(driver: webdriver.Chrome, element: str, value: str) -> None:
    """Fill a field of a row as typed and left, and wait for the row to be kept."""
    driver.execute_script(
        "const f = document.getElementById(arguments[0]); f.value = arguments[1];"
        " for (const kind of ['input', 'change', 'focusout']) f.dispatchEvent(new Event(kind, { bubbles: true }))",
        element,
        value,
    )


def kept(driver: webdriver.Chrome, student: str, code: str) -> None:
    wait(driver, f"#grade-{student}.set[value='{code}']")


def student_with(driver: webdriver.Chrome, letter: str) -> str:
    """The first letter-basis student whose settled grade is this letter."""
    for field in driver.find_elements(By.CSS_SELECTOR, "input.code[list='codes-letter']"):
        if field.get_attribute("value") == letter:
            return str(field.get_attribute("id")).removeprefix("grade-")
    raise AssertionError(f"nobody is settled as {letter}")


def take_over_the_rules(driver: webdriver.Chrome, stage: Stage, school: School) -> None:
    """The registrar puts the school's rules in force and enrols somebody who will never come."""
    office_page(driver, stage, "/")
    Select(driver.find_element(By.ID, "school")).select_by_value(school.key)
    press(driver, By.ID, "set-school")
    office_page(driver, stage)
    driver.find_element(By.ID, "new-id").send_keys(NEWCOMER)
    driver.find_element(By.ID, "new-family").send_keys("Zuber")
    press(driver, By.ID, "enrol-now")
    wait(driver, f"#person-{NEWCOMER}")
    stage.sign_in(driver)
    stage.open(driver, "FIBR 120-01", "submit")
    if driver.find_elements(By.ID, "follow") == []:
        press(driver, By.XPATH, "//button[normalize-space()='Update from the registrar']")
    wait(driver, "#roster-news", "Zuber").find_element(By.ID, "follow").click()
    wait(driver, ".notice", "1 added")


def settle_everybody(driver: webdriver.Chrome, stage: Stage, school: School) -> str:
    """The class as computed, one who never came, one incomplete, dates where the school wants them; who is left I."""
    stage.open(driver, "FIBR 120-01", "settle")
    incomplete = student_with(driver, "C+")
    settle(driver, incomplete, school.incomplete)
    if school.chooses:
        wait(driver, f"#fallback-{incomplete}")
        change(driver, f"fallback-{incomplete}", "D")
        kept(driver, incomplete, school.incomplete)
        change(driver, f"finish-{incomplete}", "2027-05-01")
    else:
        wait(driver, f"#row-{incomplete}", "fixed by the registrar")
    wait(driver, f"#owed-{incomplete}")
    change(driver, f"owed-{incomplete}", "the woven sample")
    wait(driver, f"#owed-{incomplete}[value='the woven sample']")
    settle(driver, NEWCOMER, school.never_came, "never came to class")
    kept(driver, NEWCOMER, school.never_came)
    driver.find_element(By.ID, f"never-{NEWCOMER}").click()
    wait(driver, f"#never-{NEWCOMER}[checked]")
    rest = driver.find_element(By.XPATH, "//button[normalize-space()='Settle the rest as computed']")
    if rest.is_enabled():
        press(driver, By.XPATH, "//button[normalize-space()='Settle the rest as computed']")
        wait(driver, ".notice", "settled as computed")
    offered = (By.CSS_SELECTOR, "button[data-fill^='attended-']")
    while suggestions := driver.find_elements(*offered):
        driver.execute_script("arguments[0].click()", suggestions[0])
        until(lambda: len(driver.find_elements(*offered)) < len(suggestions), "the date was not taken")
    return incomplete


def sign_and_send(driver: webdriver.Chrome, count: int) -> None:
    sign_grades(driver, count)
    wait(driver, "h2", "Signed, not submitted")
    press(driver, By.ID, "send")


@pytest.mark.parametrize("school", SCHOOLS, ids=lambda school: school.key)
def test_a_section_goes_through(driver: webdriver.Chrome, folder: Path, school: School) -> None:
    with Stage.demo(folder) as stage:
        driver.delete_all_cookies()
        take_over_the_rules(driver, stage, school)
        incomplete = settle_everybody(driver, stage, school)
        turned = student_with(driver, "A")
        stage.open(driver, "FIBR 120-01", "submit")
        # The registrar turns somebody to the pass basis just before the grades go out.
        office_page(driver, stage)
        basis = driver.find_element(By.CSS_SELECTOR, f"[aria-label='Grading basis of {turned}']")
        Select(basis).select_by_visible_text("pass")
        press(driver, By.CSS_SELECTOR, f"[aria-label='Save {turned}']")
        stage.open(driver, "FIBR 120-01", "submit")
        sign_and_send(driver, 15)
        wait(driver, ".notice.trouble", "14 accepted, 1 refused")
        wait(driver, f"#row-{turned} .reason", f"A {school.refusal}")
        mend_and_resend(driver, stage, turned)
        post_and_read_back(driver, stage)
        office_page(driver, stage)
        assert school.said in driver.find_element(By.ID, f"person-{NEWCOMER}").text
        assert driver.find_element(By.CSS_SELECTOR, f"[data-grade='{NEWCOMER}']").text == school.never_came
        assert "the woven sample" in driver.find_element(By.ID, f"person-{incomplete}").text
        held = [cell.text for cell in driver.find_elements(By.CSS_SELECTOR, "[data-grade]")]
        assert school.failed in held
        finish_the_incomplete(driver, stage, incomplete)
        severe = [entry for entry in logged(driver) if entry["level"] == "SEVERE"]
        # A later change of a row replaces the request under way, which the browser tells as an aborted one.
        told = ("422", "htmx:afterRequest", "htmx:sendAbort")
        assert [e["message"] for e in severe if not any(word in e["message"] for word in told)] == []


def mend_and_resend(driver: webdriver.Chrome, stage: Stage, student: str) -> None:
    """The refused row is mended where its link leads, and goes out with a key and a receipt of its own."""
    press(driver, By.XPATH, "//button[normalize-space()='Update from the registrar']")
    wait(driver, "#roster-news", "changed basis, letter to pass").find_element(By.ID, "follow").click()
    wait(driver, ".notice", "1 settled grades opened again")
    press(driver, By.LINK_TEXT, "Fix it on Settle")
    wait(driver, "h1", "Settle")
    field = driver.find_element(By.ID, f"grade-{student}")
    field.send_keys("=")
    wait(driver, f"#grade-{student}.set")
    stage.open(driver, "FIBR 120-01", "submit")
    sign_and_send(driver, 1)
    wait(driver, ".notice", "1 accepted, 0 refused")
    wait(driver, "#margin", "15 of 15 lines agree")
    assert len(driver.find_elements(By.CSS_SELECTOR, ".receipt-box")) == 2


def post_and_read_back(driver: webdriver.Chrome, stage: Stage) -> None:
    office_page(driver, stage)
    press(driver, By.ID, "post-final")
    stage.open(driver, "FIBR 120-01", "submit")
    press(driver, By.XPATH, "//button[normalize-space()='Check what the registrar has']")
    wait(driver, ".act-box h2", "Posted")


def finish_the_incomplete(driver: webdriver.Chrome, stage: Stage, student: str) -> None:
    """The work came: from the diary into a change of grade, first with a mistake, then granted by the registrar."""
    stage.open(driver, "FIBR 120-01", "submit")
    driver.find_element(By.ID, "to-after").click()
    wait(driver, f"#incomplete-{student}", "the woven sample")
    driver.find_element(By.CSS_SELECTOR, f"#incomplete-{student} a").click()
    wait(driver, "#new-grade").send_keys("B")
    press(driver, By.ID, "ask-change")
    wait(driver, "#why-why", "type why the grade changes")
    assert driver.find_element(By.ID, "new-grade").get_attribute("value") == "B"
    driver.find_element(By.ID, "why").send_keys("the sample came on 4 January")
    driver.find_element(By.ID, "evidence-note").send_keys("photograph on file")
    press(driver, By.ID, "ask-change")
    wait(driver, ".notice", "the registrar’s answer is awaited")
    wait(driver, f"#incomplete-{student}", "a change of grade is on its way")
    office_page(driver, stage)
    row = driver.find_element(By.CSS_SELECTOR, "[data-change]")
    row.find_element(By.NAME, "word").send_keys("accepted")
    press(driver, By.CSS_SELECTOR, "button[value='grant']")
    stage.open(driver, "FIBR 120-01", "submit")
    driver.find_element(By.ID, "to-after").click()
    press(driver, By.XPATH, "//button[normalize-space()='Check what the registrar has']")
    wait(driver, ".after-table", "“accepted”")
    wait(driver, f"#incomplete-{student}", "finished, now B")


def test_what_is_sent_in_a_transfer_goes_out_by_itself_after_it(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        driver.delete_all_cookies()
        restart(stage, "12:05", 1)
        stage.sign_in(driver)
        stage.open(driver, "FIBR 120-01", "submit")
        wait(driver, ".dial-box", "Waits: the registrar’s transfer runs until 12:20 PM")
        sign_and_send(driver, 14)
        wait(driver, ".act-box h2", "Waiting for the registrar")
        restart(stage, "12:20", 1)
        for _ in range(20):
            stage.open(driver, "FIBR 120-01", "submit")
            if driver.find_elements(By.CSS_SELECTOR, ".receipt-box"):
                break
        wait(driver, "#margin", "14 of 14 lines agree")


def restart(stage: Stage, at: str, deliver_seconds: int) -> None:
    stage.time, stage.deliver_seconds = at, deliver_seconds
    stage.stop("app")
    stage.stop("office")
    stage.start_both()


def newest(folder: Path, pattern: str) -> Path:
    """A downloaded file, once it is there."""
    for _ in range(100):
        found = sorted(folder.glob(pattern))
        if found:
            return found[-1]
        time.sleep(0.1)
    raise AssertionError(f"no {pattern} was downloaded")


def test_grades_go_out_as_a_file_and_the_answer_comes_back(driver: webdriver.Chrome, folder: Path) -> None:
    with Stage.demo(folder) as stage:
        driver.delete_all_cookies()
        allow = {"behavior": "allow", "downloadPath": str(folder)}
        driver.execute_cdp_cmd("Browser.setDownloadBehavior", allow)
        stage.sign_in(driver)
        stage.open(driver, "FIBR 120-01", "submit")
        sign_grades(driver, 14)
        wait(driver, "h2", "Signed, not submitted")
        driver.find_element(By.ID, "take-out").click()
        grades = newest(folder, "*grades*.csv")
        wait(driver, ".act-box h2", "Downloaded as a file")
        office_page(driver, stage)
        driver.find_element(By.ID, "file-final").send_keys(str(grades))
        press(driver, By.ID, "take-final")
        press_for_a_file(driver, "answer-6")
        answer = newest(folder, "answer-*.csv")
        stage.open(driver, "FIBR 120-01", "submit")
        driver.find_element(By.ID, "answer").send_keys(str(grades))
        press(driver, By.ID, "take-answer")
        wait(driver, "#answer-why", "Line 1: must be Batch")
        driver.find_element(By.ID, "answer").send_keys(str(answer))
        press(driver, By.ID, "take-answer")
        wait(driver, ".notice", "14 accepted, 0 refused")
        wait(driver, "#margin", "14 of 14 lines agree")


def press_for_a_file(driver: webdriver.Chrome, link: str) -> None:
    element = driver.find_element(By.ID, link)
    driver.execute_script("arguments[0].scrollIntoView({ block: 'center' }); arguments[0].click()", element)
