"""What is typed is saved, or counted and found again; "All changes saved" stands there only when it is so."""

import sqlite3
from collections.abc import Iterator

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import DEMO_EMAIL, DEMO_PASSWORD, Stage, attempt, browser, inside, keys, type_into, until, wait

pytestmark = pytest.mark.browser
OTHER_EMAIL = "idris.vanterpool@larkmoor.example"
SETTLED = "SELECT settled FROM settled WHERE section_id = 1 AND run = 'final' AND student_id = ?"
SAID = "return document.getElementById('saved').textContent"
STORED = "return JSON.stringify({...localStorage})"
FULL = "Storage.prototype.setItem = () => { throw new DOMException('full', 'QuotaExceededError') }"
# A window that has not looked around yet.
NO_LOOK = """
const real = window.fetch;
const never = new Promise(() => {});
window.fetch = (address, ...rest) => String(address).includes("/since/") ? never : real(address, ...rest);
"""
BETWEEN = """
window.really ??= window.fetch;
const [status] = arguments;
window.fetch = (address, options) => options?.method === "POST" && status
  ? Promise.resolve(new Response("<h1>No</h1>", { status })) : window.really(address, options);
"""


@pytest.fixture(scope="module")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """A browser that asks before a page with unsaved text closes, as one on a desk does."""
    with browser(tmp_path_factory.mktemp("browser")) as found:
        yield found


@pytest.fixture(scope="module")
def stage(driver: webdriver.Chrome, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stage]:
    """The demo; each walk takes students of its own."""
    with Stage.demo(tmp_path_factory.mktemp("stage")) as found:
        found.sign_in(driver)
        yield found


@pytest.fixture(autouse=True)
def _clean(driver: webdriver.Chrome, stage: Stage) -> Iterator[None]:
    """What one walk left behind is no matter of the next."""
    yield
    for other in driver.window_handles[1:]:
        driver.switch_to.window(other)
        driver.close()
    driver.switch_to.window(driver.window_handles[0])
    driver.get(f"{stage.url}/session")
    driver.execute_script("localStorage.clear(); sessionStorage.clear()")
    stage.sign_in(driver)


def rows(stage: Stage, query: str, *values: object) -> list[tuple[object, ...]]:
    connection = sqlite3.connect(stage.folder / "vinemark.sqlite")
    found = connection.execute(query, values).fetchall()
    connection.close()
    return found


def cell(stage: Stage, row: int, item: str) -> tuple[str, object]:
    """The place of a cell on the page, and what is kept there."""
    student = rows(stage, "SELECT id FROM student WHERE section_id = 1 AND place = ?", row)[0][0]
    kept = rows(stage, "SELECT cell FROM score WHERE section_id = 1 AND student_id = ? AND item_id = ?", student, item)
    return f"cell-{student}-{item}", kept[0][0] if kept else None


def scores(driver: webdriver.Chrome, stage: Stage, row: int, item: str) -> str:
    """Open the sheet and choose a cell."""
    driver.get(f"{stage.url}/s/1/scores")
    place, _ = cell(stage, row, item)
    wait(driver, f"#{place}").click()
    return place


def with_letter(driver: webdriver.Chrome, letter: str) -> list[str]:
    """Students on the page of Settle whose computed letter is this one."""
    found = inside(
        driver,
        "return [...document.querySelectorAll(`.code[data-computed='${arguments[0]}']`)]"
        ".filter((one) => !one.value).map((one) => one.id.slice(6))",
        letter,
    )
    assert isinstance(found, list) and found
    return [str(one) for one in found]


def test_a_grade_that_lacks_its_reason_waits(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "A")[0]
    type_into(driver, f"grade-{student}", "F" + Keys.TAB)
    wait(driver, f"#why-{student}", "type why it is F")
    wait(driver, "#saved", "1 not saved yet")
    driver.find_element(By.CSS_SELECTOR, ".stem a[href$='/submit']").click()
    wait(driver, "h1", "Submit")
    wait(driver, "#saved", "1 not saved yet, typed on Settle")
    driver.find_element(By.CSS_SELECTOR, ".stem a[href$='/settle']").click()
    wait(driver, "h1", "Settle")
    until(lambda: inside(driver, "return document.getElementById(arguments[0]).value", f"grade-{student}") == "F")
    wait(driver, "#saved", "1 not saved yet")
    # Another row is settled meanwhile: the first keeps what was typed.
    other = with_letter(driver, "A")[0]
    type_into(driver, f"grade-{other}", "=")
    wait(driver, f"#grade-{other}.set")
    assert inside(driver, "return document.getElementById(arguments[0]).value", f"grade-{student}") == "F"
    type_into(driver, f"reason-{student}", "left the course in October" + Keys.TAB)
    wait(driver, f"#grade-{student}.set")
    wait(driver, "#saved", "All changes saved")


def test_it_is_listed_and_can_be_given_up(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "B")[0]
    type_into(driver, f"grade-{student}", "D" + Keys.TAB)
    wait(driver, "#saved", "1 not saved yet")
    driver.find_element(By.ID, "open-unsaved").send_keys(Keys.ENTER)
    wait(driver, "#unsaved li", "“D” (Reason: type why it is D")
    driver.find_element(By.XPATH, "//dialog[@id='unsaved']//button[text()='Discard']").click()
    wait(driver, "#saved", "All changes saved")
    assert inside(driver, "return document.getElementById(arguments[0]).value", f"grade-{student}") == ""


def test_saving_one_thing_discards_no_other(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/plan")
    chip = wait(driver, ".items .chip:not(.new)")
    item = str(chip.get_attribute("id")).removeprefix("item-")
    chip.find_element(By.TAG_NAME, "summary").click()
    field = driver.find_element(By.CSS_SELECTOR, f"#item-{item} input[name='label']")
    field.send_keys("half typ")
    name = wait(driver, ".category-name")
    before = str(name.get_attribute("value"))
    name.send_keys(" anew" + Keys.ENTER)
    wait(driver, ".notice", f"is now {before} anew")
    label = f"return document.querySelector('#item-{item} input[name=label]').value"
    assert inside(driver, label) == "half typ"
    assert inside(driver, f"return document.getElementById('item-{item}').open") is True
    assert "not saved yet" in str(inside(driver, SAID))
    driver.find_element(By.XPATH, "//button[normalize-space()='Undo']").click()
    wait(driver, ".notice", "Undone")
    until(lambda: inside(driver, label) == "half typ", "what was typed is gone after a page came anew")
    driver.find_element(By.CSS_SELECTOR, f"#item-{item} input[name='label']").send_keys("ed" + Keys.ENTER)
    wait(driver, ".notice", "changed")
    wait(driver, "#saved", "All changes saved")


def test_a_date_is_saved_once_as_a_whole(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "F")[0]
    type_into(driver, f"grade-{student}", "=")
    wait(driver, f"#attended-{student}")
    before = rows(stage, "SELECT count(*) FROM history")[0][0]
    field = driver.find_element(By.ID, f"attended-{student}")
    field.send_keys("10122026")
    assert rows(stage, "SELECT count(*) FROM history")[0][0] == before
    field.send_keys(Keys.TAB, Keys.TAB)
    until(lambda: rows(stage, "SELECT count(*) FROM history")[0][0] != before, "the date was not saved")
    wait(driver, "#saved", "All changes saved")
    settled = rows(stage, SETTLED, student)
    assert '"last_attended": "2026-10-12"' in str(settled[0][0])
    assert rows(stage, "SELECT count(*) FROM history")[0][0] == int(str(before)) + 1


def test_undo_at_once(driver: webdriver.Chrome, stage: Stage) -> None:
    _, before = cell(stage, 3, "q1")
    place = scores(driver, stage, 3, "q1")
    keys(driver, "1.75", Keys.ENTER)
    keys(driver, "z", held=Keys.CONTROL)
    wait(driver, "#sheet-said", "Undone")
    wait(driver, "#saved", "All changes saved")
    assert cell(stage, 3, "q1")[1] == before
    assert driver.find_element(By.ID, place).text == (before or "")


def test_a_full_browser_sends_all_the_same(driver: webdriver.Chrome, stage: Stage) -> None:
    scores(driver, stage, 4, "q1")
    driver.execute_script(FULL)
    keys(driver, "2.25", Keys.ENTER)
    wait(driver, "#saved", "All changes saved")
    until(lambda: cell(stage, 4, "q1")[1] == "2.25", "it was not sent")


@pytest.mark.parametrize("status", [403, 404, 408, 413, 425, 429, 502, 200])
def test_only_the_application_refuses(driver: webdriver.Chrome, stage: Stage, status: int) -> None:
    scores(driver, stage, 5, "q1")
    driver.execute_script(BETWEEN, status)
    typed = f"3.{status}"
    keys(driver, typed, Keys.ENTER)
    wait(driver, "#saved", f"1 not saved yet: the server answers {status}")
    driver.execute_script(BETWEEN, 0)
    wait(driver, "#saved", "All changes saved", 20)
    until(lambda: str(cell(stage, 5, "q1")[1]) == typed.rstrip("0").rstrip("."), f"{typed} was dropped")


def test_two_people_on_one_computer(driver: webdriver.Chrome, stage: Stage) -> None:
    scores(driver, stage, 6, "q1")
    driver.execute_script(BETWEEN, 503)
    keys(driver, "4.125", Keys.ENTER, "4.375", Keys.ENTER)
    wait(driver, "#saved", "2 not saved yet")
    driver.find_element(By.CSS_SELECTOR, "[data-sign-out] button").click()
    wait(driver, "#leaving", "2 changes are not saved yet")
    driver.find_element(By.CSS_SELECTOR, "#leaving [value='go']").click()
    wait(driver, "h1", "Sign in")
    name = str(rows(stage, "SELECT family_name FROM student WHERE section_id = 1 AND place = 6")[0][0])
    kept = str(inside(driver, STORED))
    assert "cells" in kept and "4.125" not in kept and name not in kept and cell(stage, 6, "q1")[0][5:12] not in kept
    driver.find_element(By.ID, "f-email").send_keys(OTHER_EMAIL)
    driver.find_element(By.ID, "f-password").send_keys(DEMO_PASSWORD + "\n")
    wait(driver, "h1", "Desk")
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, "h1")
    driver.get(stage.url)
    assert driver.find_element(By.ID, "waiting").is_displayed() is False
    assert cell(stage, 6, "q1")[1] != "4.125"
    driver.find_element(By.CSS_SELECTOR, "[data-sign-out] button").click()
    wait(driver, "h1", "Sign in")
    driver.find_element(By.ID, "f-email").send_keys(DEMO_EMAIL)
    driver.find_element(By.ID, "f-password").send_keys(DEMO_PASSWORD + "\n")
    wait(driver, "#waiting li", "2 scores typed on")
    driver.find_element(By.XPATH, "//button[text()='Send them']").click()
    wait(driver, "#waiting-said", "Saved.")
    assert (cell(stage, 6, "q1")[1], cell(stage, 7, "q1")[1]) == ("4.125", "4.375")
    who = rows(stage, "SELECT p.email FROM history h JOIN person p ON p.id = h.person_id ORDER BY h.id DESC LIMIT 2")
    assert {row[0] for row in who} == {DEMO_EMAIL}
    assert inside(driver, STORED) == "{}" or "cells" not in str(inside(driver, STORED))


def test_the_session_ends_while_typing(driver: webdriver.Chrome, stage: Stage) -> None:
    scores(driver, stage, 8, "q1")
    driver.delete_cookie("vinemark")
    keys(driver, "1.125", Keys.ENTER)
    wait(driver, "#signed-out", "You are signed out")
    wait(driver, "#saved", "1 not saved yet: signed out")
    sign_in_beside(driver, stage)
    wait(driver, "#saved", "All changes saved", 20)
    assert cell(stage, 8, "q1")[1] == "1.125"
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "B")[1]
    driver.delete_cookie("vinemark")
    type_into(driver, f"grade-{student}", "=")
    wait(driver, "#signed-out", "You are signed out")
    sign_in_beside(driver, stage)
    wait(driver, f"#grade-{student}.set", seconds=20)
    wait(driver, "#saved", "All changes saved")


def sign_in_beside(driver: webdriver.Chrome, stage: Stage) -> None:
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    stage.sign_in(driver)
    driver.close()
    driver.switch_to.window(first)


def test_a_stale_window_on_settle(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "B")[2]
    in_another_window(driver, f"{stage.url}/s/1/settle")
    type_into(driver, f"grade-{student}", "=")
    wait(driver, f"#grade-{student}.set")
    back(driver)
    type_into(driver, f"reason-{student}", "as agreed")
    type_into(driver, f"grade-{student}", "C" + Keys.TAB)
    wait(driver, f"#row-{student} .reason", "You, in another window, changed this")
    assert '"B"' in str(rows(stage, SETTLED, student)[0][0])
    assert "not saved yet" in str(inside(driver, SAID))
    driver.find_element(By.XPATH, f"//tr[@id='row-{student}']//button[normalize-space()='Use mine']").click()
    wait(driver, f"#row-{student}.differs")
    assert '"C"' in str(rows(stage, SETTLED, student)[0][0])
    wait(driver, "#saved", "All changes saved")


def test_a_stale_window_on_the_plan(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/plan")
    names = wait(driver, ".category-name").get_attribute("value"), None
    in_another_window(driver, f"{stage.url}/s/1/plan")
    wait(driver, ".category-name").send_keys(" one" + Keys.ENTER)
    wait(driver, ".notice", f"is now {names[0]} one")
    back(driver)
    second = driver.find_elements(By.CSS_SELECTOR, ".category-name")[1]
    other = second.get_attribute("value")
    second.send_keys(" two" + Keys.ENTER)
    wait(driver, ".notice", f"is now {other} two")
    first = driver.find_elements(By.CSS_SELECTOR, ".category-name")[0]
    assert first.get_attribute("value") == f"{names[0]} one"
    in_another_window(driver, f"{stage.url}/s/1/plan")
    wait(driver, ".category-name").send_keys(" more" + Keys.ENTER)
    wait(driver, ".notice", "one more")
    back(driver)
    driver.find_elements(By.CSS_SELECTOR, ".category-name")[0].send_keys(" and mine" + Keys.ENTER)
    wait(driver, ".notice.trouble", "You, in another window, changed this")
    assert "not saved yet" in str(inside(driver, SAID))
    driver.find_element(By.CSS_SELECTOR, "[data-leave-theirs]").click()
    wait(driver, "#saved", "All changes saved")
    assert inside(driver, "return document.querySelector('.category-name').value") == f"{names[0]} one more"


def in_another_window(driver: webdriver.Chrome, address: str) -> None:
    driver.switch_to.new_window("tab")
    driver.get(address)


def back(driver: webdriver.Chrome) -> None:
    """Close the other window; the first one has not looked since."""
    driver.close()
    driver.switch_to.window(driver.window_handles[0])


def press(driver: webdriver.Chrome, path: str) -> bool:
    driver.find_element(By.XPATH, path).click()
    return True


def test_a_remark_that_two_write(driver: webdriver.Chrome, stage: Stage) -> None:
    place = scores(driver, stage, 9, "q2")
    wait(driver, "#cell-panel[data-item='q2']")
    driver.execute_script(NO_LOOK)
    in_another_window(driver, f"{stage.url}/s/1/scores#{place}")
    wait(driver, f"#cell-panel[data-student='{place[5:-3]}']")
    keys(driver, Keys.F2, held=Keys.SHIFT)
    keys(driver, "theirs", Keys.ENTER)
    wait(driver, f"#{place}.remarked")
    wait(driver, "#saved", "All changes saved")
    back(driver)
    until(lambda: attempt(lambda: press(driver, f"//*[@id='{place}']")))
    keys(driver, Keys.F2, held=Keys.SHIFT)
    keys(driver, "mine", Keys.ENTER)
    wait(driver, "#remark-choice", "wrote “theirs” meanwhile; you wrote “mine”")
    assert "All changes saved" not in str(inside(driver, SAID))
    until(lambda: attempt(lambda: press(driver, "//button[text()='Use mine']")), "nothing to choose")
    wait(driver, "#saved", "All changes saved")
    assert rows(stage, "SELECT remark FROM cell_remark WHERE item_id = 'q2'")[0][0] == "mine"


def test_a_refused_cell_is_there_again(driver: webdriver.Chrome, stage: Stage) -> None:
    place = scores(driver, stage, 10, "q1")
    keys(driver, "lots", Keys.ENTER)
    wait(driver, f"#{place}.refused", "lots")
    wait(driver, "#saved", "1 refused, the rest saved")
    driver.get(stage.url)
    wait(driver, "#waiting li", "1 score typed on")
    driver.get(f"{stage.url}/s/1/scores")
    wait(driver, f"#{place}.refused", "lots")
    driver.find_element(By.ID, place).click()
    keys(driver, Keys.ESCAPE)
    wait(driver, "#saved", "All changes saved")
    driver.get(stage.url)
    wait(driver, "h1", "Desk")
    until(lambda: driver.find_element(By.ID, "waiting").is_displayed() is False)


def test_a_column_is_changed_as_it_was_seen(driver: webdriver.Chrome, stage: Stage) -> None:
    scores(driver, stage, 11, "q3")
    wait(driver, "#cell-panel[data-item='q3']")
    driver.find_element(By.CSS_SELECTOR, "[data-heading='q3']").click()
    wait(driver, "#column-action")
    driver.execute_script("document.getElementById('column-action').value = 'add'")
    driver.find_element(By.ID, "column-value").send_keys("1" + Keys.ENTER)
    wait(driver, "#margin strong", "cells of")
    in_another_window(driver, f"{stage.url}/s/1/scores#{cell(stage, 11, 'q3')[0]}")
    wait(driver, "#cell-panel[data-item='q3']")
    keys(driver, "0.5", Keys.ENTER)
    until(lambda: cell(stage, 11, "q3")[1] == "0.5", "not written")
    back(driver)
    driver.find_element(By.XPATH, "//button[normalize-space()='Apply']").click()
    wait(driver, ".notice.trouble", "Scores of this column changed since you opened this page")
    assert cell(stage, 11, "q3")[1] == "0.5"


def test_a_form_that_leaves_the_page_goes_when_it_is_answered(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/sections/new")
    wait(driver, "h1")
    field = driver.find_elements(By.CSS_SELECTOR, "main form input[type='text']")[0]
    field.send_keys("GEOL 110-01")
    name = field.get_attribute("id")
    driver.delete_cookie("vinemark")
    field.send_keys(Keys.ENTER)
    wait(driver, "#signed-out", "You are signed out")
    assert driver.find_element(By.ID, str(name)).get_attribute("value") == "GEOL 110-01"
    driver.get(stage.url)
    stage.sign_in(driver)
    driver.get(f"{stage.url}/sections/new")
    until(lambda: driver.find_element(By.ID, str(name)).get_attribute("value") == "GEOL 110-01", "the text is gone")
    wait(driver, "#saved", "not saved yet")


def test_no_connection_on_settle_and_on_the_plan(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "B+")[0]
    stage.stop("app")
    type_into(driver, f"grade-{student}", "=")
    wait(driver, "#saved", "1 not saved yet: no connection")
    stage.start("app", "serve", "--port", str(stage.port))
    wait(driver, f"#grade-{student}.set", seconds=30)
    wait(driver, "#saved", "All changes saved")
    driver.get(f"{stage.url}/s/1/plan")
    button = wait(driver, ".sentence .rule")
    stage.stop("app")
    button.click()
    driver.find_elements(By.CSS_SELECTOR, ".dropdown-menu.show .dropdown-item:not(.active)")[0].click()
    wait(driver, "#saved", "1 not saved yet: no connection")
    stage.start("app", "serve", "--port", str(stage.port))
    wait(driver, ".notice", "basis is now", seconds=30)
    wait(driver, "#saved", "All changes saved")


def test_a_page_of_something_between_is_no_answer_to_a_form(driver: webdriver.Chrome, stage: Stage) -> None:
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "A-")[0]
    driver.execute_script(
        "window.really = XMLHttpRequest.prototype.getResponseHeader;"
        " XMLHttpRequest.prototype.getResponseHeader = () => null;"
    )
    type_into(driver, f"grade-{student}", "=")
    wait(driver, "#saved", "1 not saved yet: the server answers 200")
    assert not driver.find_elements(By.CSS_SELECTOR, f"#grade-{student}.set")
    driver.execute_script("XMLHttpRequest.prototype.getResponseHeader = window.really")
    wait(driver, f"#grade-{student}.set", seconds=30)
    wait(driver, "#saved", "All changes saved")


FORMER = "document.querySelector('meta[name=version]').content = 'a former version'"


def test_a_page_from_before_an_upgrade_goes_on_and_says_so(driver: webdriver.Chrome, stage: Stage) -> None:
    scores(driver, stage, 6, "q1")
    assert not driver.find_element(By.ID, "newer").is_displayed()
    driver.execute_script(FORMER)
    keys(driver, "4.75", Keys.ENTER)
    wait(driver, "#newer", "Vine Mark was updated while this page was open")
    wait(driver, "#saved", "All changes saved")
    assert cell(stage, 6, "q1")[1] == "4.75"
    # On Settle something waits for its reason: loaded again, the page has it still.
    driver.get(f"{stage.url}/s/1/settle")
    student = with_letter(driver, "A")[0]
    driver.execute_script(FORMER)
    type_into(driver, f"grade-{student}", "D" + Keys.TAB)
    wait(driver, "#saved", "1 not saved yet")
    wait(driver, "#newer button", "Load the page again").send_keys(Keys.ENTER)
    until(lambda: inside(driver, "return document.getElementById(arguments[0])?.value", f"grade-{student}") == "D")
    wait(driver, "#saved", "1 not saved yet")
    assert not driver.find_element(By.ID, "newer").is_displayed()
    type_into(driver, f"reason-{student}", "left the course in October" + Keys.TAB)
    wait(driver, "#saved", "All changes saved")
