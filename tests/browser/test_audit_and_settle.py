"""From a finding to its mend, a cutoff dragged, and a class settled by keyboard."""

import base64
import io
import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pdfplumber
import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, until, wait
from tests.browser.test_sheet import PASTE, all_kept

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


def column_texts(driver: webdriver.Chrome, item: str) -> list[str]:
    cells = driver.find_elements(By.CSS_SELECTOR, f"#sheet tbody td[data-item='{item}']")
    return [str(driver.execute_script("return arguments[0].textContent", cell)) for cell in cells]


@pytest.mark.usefixtures("stage")
def test_a_column_pasted_a_row_too_low_is_found_and_moved_back(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "BOTN 105-02", "scores")
    item = wait(driver, "[data-heading][data-name='Midterm 1']").get_attribute("data-heading") or ""
    before = column_texts(driver, item)
    cells = driver.find_elements(By.CSS_SELECTOR, f"#sheet tbody td[data-item='{item}']")
    driver.execute_script("location.hash = arguments[0]", cells[3].get_attribute("id"))
    until(lambda: driver.switch_to.active_element.get_attribute("id") == cells[3].get_attribute("id"))
    driver.execute_script(PASTE, "\n".join(["", *before[3:-1]]))
    until(lambda: column_texts(driver, item)[4:] == before[3:-1])
    all_kept(driver)
    stage.open(driver, "BOTN 105-02", "audit")
    found = wait(driver, "[data-code='column-shifted']", "Midterm 1 fit the students far better one row higher")
    found.find_element(By.CSS_SELECTOR, ".finding-acts form button").click()
    wait(driver, ".notice", "move the scores one row up")
    stage.open(driver, "BOTN 105-02", "scores")
    assert column_texts(driver, item)[:-1] == before[:-1]


@pytest.mark.usefixtures("stage")
def test_what_is_open_is_listed_where_one_signs_and_needs_a_reason(
    driver: webdriver.Chrome, stage: Stage, folder: Path
) -> None:
    stage.open(driver, "FIBR 120-01", "submit")
    wait(driver, "#open-findings", "1 to check, 4 notes")
    wait(driver, "#sign").click()
    wait(driver, "#sign-why", "Say why you sign with findings open")
    wait(driver, "#sign-reason").send_keys("the syllabus is being corrected", Keys.ENTER)
    wait(driver, "h2", "Signed, not submitted")
    connection = sqlite3.connect(folder / "demo" / "vinemark.sqlite")
    (findings,) = connection.execute("SELECT findings FROM signing ORDER BY id DESC LIMIT 1").fetchone()
    connection.close()
    assert json.loads(findings)["signed_with_open"]["reason"] == "the syllabus is being corrected"


FETCHED = """
const done = arguments[1];
fetch(arguments[0]).then((answer) => answer.blob()).then((blob) => {
  const reader = new FileReader();
  reader.onload = () => done(reader.result.split(",")[1]);
  reader.readAsDataURL(blob);
});
"""


def fetched_pdf(driver: webdriver.Chrome, address: str | None) -> bytes:
    """The file behind a link: a machine that does much else shows a page first, until it is made."""
    found: list[bytes] = []

    def ready() -> bool:
        found.append(base64.b64decode(driver.execute_async_script(FETCHED, address)))
        return found[-1].startswith(b"%PDF-")

    until(ready)
    return found[-1]


def test_a_grade_record_is_opened_beside_the_score_and_read_back_from_its_pdf(
    driver: webdriver.Chrome, stage: Stage
) -> None:
    stage.open(driver, "HYDR 410-01", "scores")
    driver.find_element(By.CSS_SELECTOR, "#row-L03691 td.cell").click()
    wait(driver, "#margin a[href$='/papers/record/L03691']", "Grade record").click()
    wait(driver, "h1", "Grade record: Cienfuegos, Eero")
    address = driver.find_element(By.LINK_TEXT, "PDF").get_attribute("href")
    with pdfplumber.open(io.BytesIO(fetched_pdf(driver, address))) as document:
        pages = [page.extract_text() for page in document.pages]
    text = " ".join(" ".join(pages).split())
    assert len(pages) <= 2
    for words in (
        "Grade record: Cienfuegos, Eero", "settled, computed A−; the registrar has A", "Alternative weights",
        "Discussion 2 Discussion Sep 24, 2026 3.5 of 4 dropped as a lowest", "3659/40", "receipt R-2026-00005",
        "Dec 18, 2026, 4:20 PM", "Granted, C-2026-00001",
    ):  # fmt: skip
        assert words in text, words


def test_the_margin_of_settle_tells_of_the_student_in_the_row(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "BOTN 105-02", "settle")
    Select(wait(driver, "#settle-sort")).select_by_value("near")
    first = driver.find_element(By.CSS_SELECTOR, ".settle-table tbody tr:first-child")
    assert "0.10 to B" in first.text
    code = first.find_element(By.CSS_SELECTOR, ".code")
    code.click()
    about = wait(driver, "#about h2", "Lars Garrow")
    wait(driver, "#about", "0.1 below B")
    wait(driver, "#about .about-finding", "Lars Garrow is 0.10 short of B")
    code = driver.find_element(By.CSS_SELECTOR, ".settle-table tbody tr:first-child .code")
    # Clearing the field would settle the grade open first.
    code.send_keys(Keys.CONTROL, "a")
    code.send_keys("B", Keys.TAB)
    wait(driver, ".settle-table [name=reason][aria-invalid=true]").send_keys("the field day was graded late", Keys.TAB)
    wait(driver, "#about", "settled as B")
    wait(driver, ".settle-table tbody tr:first-child .level", "not as computed")
    assert about.text == "Lars Garrow"
    wait(driver, "#about a[href*='/papers/record/']", "Grade record")


def test_a_score_changed_after_posting_says_what_the_registrar_has_and_leads_to_the_change(
    driver: webdriver.Chrome, stage: Stage
) -> None:
    stage.open(driver, "HYDR 410-01", "scores")
    row = driver.find_element(By.XPATH, "//tbody/tr[.//*[@data-figure='so-far-letter'][normalize-space()='C']]")
    student = str(row.get_attribute("id")).removeprefix("row-")
    cell = driver.find_element(By.CSS_SELECTOR, f"#row-{student} td[data-item]")
    before, item = cell.text, str(cell.get_attribute("data-item"))
    cell.click()
    ActionChains(driver).send_keys("25", Keys.ENTER).perform()
    wait(driver, "#sheet-said", "The registrar still has the signed grade.")
    driver.find_element(By.ID, f"cell-{student}-{item}").click()
    wait(driver, "#still-there a", "Ask for a change of grade").click()
    grade = wait(driver, "#change-form [name=grade]")
    assert grade.get_attribute("value") not in {"", "C"}
    why = driver.find_element(By.CSS_SELECTOR, "#change-form [name=why]").get_attribute("value")
    assert f": {before} to 25" in str(why)


def test_a_pair_of_points_settles_the_letter_that_it_gets(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "BOTN 105-02", "settle")
    code = driver.find_element(By.CSS_SELECTOR, ".settle-table .code[placeholder='not settled']:not(.set)")
    field = str(code.get_attribute("id"))
    code.send_keys("450/641", Keys.ENTER)
    wait(driver, f"#{field}.set")
    reason = driver.find_element(By.ID, field.replace("grade-", "reason-")).get_attribute("value")
    assert driver.find_element(By.ID, field).get_attribute("value") == "C"
    # 450/641 = 70.2028 (arithmetic).
    assert reason == "450/641 = 70.2028%"


def test_a_file_of_totals_is_compared_kept_and_compared_again(
    driver: webdriver.Chrome, stage: Stage, folder: Path
) -> None:
    stage.open(driver, "BOTN 105-02", "scores")
    shown = driver.execute_script(
        "return [...document.querySelectorAll('tbody tr[id^=row-L]')].map((row) =>"
        " [row.id.slice(4), row.querySelector('[data-figure=so-far-letter]').textContent.trim()])"
    )
    file = folder / "own-list.csv"
    file.write_text("\n".join(["Student ID,Letter", *(f"{student},{letter}" for student, letter in shown[1:])]))
    stage.open(driver, "BOTN 105-02", "audit")
    driver.find_element(By.LINK_TEXT, "Compare with another file").send_keys(Keys.ENTER)
    wait(driver, "#f-file").send_keys(str(file))
    driver.find_element(By.XPATH, "//main//button[normalize-space()='Compare']").send_keys(Keys.ENTER)
    wait(driver, "#work h2", f"{len(shown) - 1} of {len(shown) - 1} agree")
    absent = driver.find_element(By.CSS_SELECTOR, f"#work p a[href$='#row-{shown[0][0]}']")
    assert absent.text
    cell = f"#row-{shown[1][0]} td[data-item]"
    driver.find_element(By.CSS_SELECTOR, f"#work table a[href$='#row-{shown[1][0]}']").send_keys(Keys.ENTER)
    wait(driver, cell).click()
    ActionChains(driver).send_keys("0", Keys.ENTER, "0", Keys.ENTER).perform()
    all_kept(driver)
    stage.open(driver, "BOTN 105-02", "audit")
    driver.find_element(By.LINK_TEXT, "Compare with another file").send_keys(Keys.ENTER)
    wait(driver, "table.plain-table a", "own-list.csv").send_keys(Keys.ENTER)
    wait(driver, "#work select[name=against]")
    Select(driver.find_element(By.NAME, "against")).select_by_value("final")
    driver.find_element(By.XPATH, "//main//button[normalize-space()='Compare']").send_keys(Keys.ENTER)
    wait(driver, "#margin", "no rules are tried")
