"""Columns of the sheet as one wants them, figures that follow what is typed, an extension, and one undo for a paste."""

from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, keys, until, wait
from tests.browser.test_sheet import PASTE, all_kept, kept_cells, place, text

pytestmark = pytest.mark.browser


def at(driver: webdriver.Chrome, row: int, item: str) -> None:
    driver.find_element(By.ID, place(driver, row, item)).click()


def heading(driver: webdriver.Chrome, item: str) -> str:
    return f"#item-{item} [data-heading]"


def foot(driver: webdriver.Chrome, name: str, figure: str) -> str:
    cell = driver.find_element(By.CSS_SELECTOR, f"[data-foot='{name}'][data-foot-figure='{figure}']")
    return str(cell.get_attribute("textContent"))


def feet(driver: webdriver.Chrome) -> list[str]:
    return [foot(driver, name, figure) for name in ("average", "median", "scored") for figure in (*"01234", "so-far")]


@pytest.mark.usefixtures("stage")
def test_a_column_is_hidden_from_its_heading_and_comes_back(driver: webdriver.Chrome) -> None:
    driver.find_element(By.CSS_SELECTOR, heading(driver, "n2")).click()
    wait(driver, "[data-hide-column='n2']").click()
    until(lambda: not driver.find_element(By.ID, place(driver, 0, "n2")).is_displayed())
    wait(driver, "#view-menu", "View: 1 hidden")
    at(driver, 0, "n1")
    keys(driver, Keys.ARROW_RIGHT)
    assert driver.switch_to.active_element.get_attribute("id") == place(driver, 0, "n3")
    driver.refresh()
    wait(driver, "#view-menu", "View: 1 hidden").click()
    wait(driver, ".columns-shown summary").click()
    wait(driver, "#show-hidden", "Show 1 hidden column").click()
    until(lambda: driver.find_element(By.ID, place(driver, 0, "n2")).is_displayed())


@pytest.mark.usefixtures("stage")
def test_a_place_that_is_looked_for_is_shown_again(driver: webdriver.Chrome) -> None:
    driver.find_element(By.CSS_SELECTOR, heading(driver, "n2")).click()
    wait(driver, "[data-hide-column='n2']").click()
    wait(driver, "#view-menu", "View: 1 hidden")
    driver.execute_script("location.hash = arguments[0]", place(driver, 1, "n2"))
    until(lambda: driver.find_element(By.ID, place(driver, 1, "n2")).is_displayed())


@pytest.mark.usefixtures("stage")
def test_columns_are_made_wider_by_keys_and_stay_so(driver: webdriver.Chrome) -> None:
    def widths() -> tuple[int, int]:
        return tuple(driver.find_element(By.ID, one).size["width"] for one in ("item-n1", place(driver, 0, "n1")))

    before = widths()
    driver.find_element(By.CSS_SELECTOR, heading(driver, "n1")).send_keys("+", "+")
    until(lambda: widths() == (before[0] + 28, before[1] + 28))
    driver.refresh()
    wait(driver, "#sheet")
    until(lambda: widths() == (before[0] + 28, before[1] + 28))
    driver.find_element(By.CSS_SELECTOR, heading(driver, "n1")).send_keys("0")
    until(lambda: widths() == before)


@pytest.mark.usefixtures("stage")
def test_each_band_is_as_wide_as_its_columns(driver: webdriver.Chrome) -> None:
    """Also where its name is longer."""
    edges = driver.execute_script("""
        const place = (one) => { const box = one.getBoundingClientRect(); return [box.left, box.right]; };
        return [...document.querySelectorAll("[data-band]")].map((band) => {
          const heads = [...document.querySelectorAll(`.item-head.k${band.dataset.band}`)];
          const last = heads.at(-1).nextElementSibling;
          const end = last.matches(".sub:not(.points, .plain)") ? last : heads.at(-1);
          return [place(band)[0] - place(heads[0])[0], place(band)[1] - place(end)[1]];
        });""")
    assert len(edges) > 3
    assert all(abs(edge) < 1 for pair in edges for edge in pair), edges


@pytest.mark.usefixtures("stage")
def test_rows_figures_below_blanks_and_the_stem_say_the_same_after_a_score(driver: webdriver.Chrome) -> None:
    blanks = driver.find_element(By.ID, "blanks-said").text
    was = feet(driver)
    empty = driver.find_elements(By.CSS_SELECTOR, "tr:not(.apart) td.cell.waiting:not(.recorded)")[-1]
    driver.execute_script("arguments[0].scrollIntoView({block: 'center', inline: 'center'})", empty)
    empty.click()
    keys(driver, "2", Keys.ENTER)
    all_kept(driver)
    until(lambda: driver.find_element(By.ID, "blanks-said").text != blanks)
    left = driver.find_element(By.ID, "blanks-said").text.split()[0]
    assert int(left) == int(blanks.split()[0]) - 1
    wait(driver, "#rail", f"{left} blanks left")
    shown = feet(driver)
    assert shown != was
    driver.refresh()
    wait(driver, "#sheet")
    assert feet(driver) == shown


@pytest.mark.usefixtures("stage")
def test_points_and_the_plain_average_are_shown_where_one_wants_them(driver: webdriver.Chrome) -> None:
    cell = driver.find_element(By.CSS_SELECTOR, "[data-figure='plain']")
    assert not cell.is_displayed()
    wait(driver, "#view-menu").click()
    for name in ("with-points", "with-plain"):
        wait(driver, f"#{name}").click()
    until(lambda: driver.find_element(By.CSS_SELECTOR, "[data-figure='plain']").is_displayed())
    points, _, possible = driver.find_element(By.CSS_SELECTOR, "[data-figure='points']").text.partition("/")
    assert 0 < float(points) <= float(possible)


@pytest.mark.usefixtures("stage")
def test_an_extension_is_given_at_the_score_and_undone(driver: webdriver.Chrome) -> None:
    at(driver, 2, "n5")
    wait(driver, "#extending summary").click()
    field = wait(driver, "#extension-due")
    driver.execute_script("arguments[0].value = '2026-11-01'", field)
    wait(driver, "#extending button").click()
    wait(driver, "#extension-why", "must be after Nov 13, 2026, the day of the class")
    driver.execute_script("arguments[0].value = '2026-12-30'", wait(driver, "#extension-due"))
    wait(driver, "#extending button").click()
    wait(driver, ".notice", "Notebook 5: due Dec 30, 2026.")
    cell = driver.find_element(By.ID, place(driver, 2, "n5"))
    assert "extended" in str(cell.get_attribute("class"))
    assert "extension to Dec 30, 2026" in str(cell.get_attribute("title"))
    wait(driver, ".notice button", "Undo").click()
    wait(driver, ".notice", "Undone")
    until(lambda: "extended" not in str(driver.find_element(By.ID, place(driver, 2, "n5")).get_attribute("class")))


@pytest.mark.usefixtures("stage")
def test_one_undo_takes_a_paste_back_with_what_was_refused(driver: webdriver.Chrome, folder: Path) -> None:
    before, shown = kept_cells(folder, "n1"), [text(driver, row, "n1") for row in range(3)]
    at(driver, 0, "n1")
    driver.execute_script(PASTE, "11\n-4\n12")
    all_kept_but(driver, 1)
    assert [text(driver, row, "n1") for row in range(3)] == ["11", "-4", "12"]
    keys(driver, "z", held=Keys.CONTROL)
    all_kept(driver)
    assert [text(driver, row, "n1") for row in range(3)] == shown
    assert kept_cells(folder, "n1") == before
    driver.execute_script(PASTE, "-1\n-2")
    all_kept_but(driver, 2)
    keys(driver, "z", held=Keys.CONTROL)
    wait(driver, "#sheet-said", "Undone: 2 refused scores.")
    assert [text(driver, row, "n1") for row in range(3)] == shown


def all_kept_but(driver: webdriver.Chrome, count: int) -> None:
    until(lambda: len(driver.find_elements(By.CSS_SELECTOR, ".cell.refused")) == count)


SCROLLED = "const box = document.querySelector('.grid-box'); return [box.scrollLeft, box.scrollTop]"


def scroll_of(driver: webdriver.Chrome) -> list[float]:
    return [float(part) for part in driver.execute_script(SCROLLED)]


def test_after_an_act_on_a_whole_column_and_its_undo_the_sheet_stays_where_it_was(
    stage: Stage, driver: webdriver.Chrome
) -> None:
    stage.open(driver, "BOTN 105-02", "scores")
    wait(driver, "#view-menu").click()
    Select(wait(driver, "#sort-rows")).select_by_value("name")
    cell = driver.find_element(By.CSS_SELECTOR, "tbody tr:nth-child(20) td[data-item]:nth-of-type(9)")
    item, student = cell.get_attribute("data-item"), cell.get_attribute("id")
    cell.click()
    driver.find_element(By.CSS_SELECTOR, heading(driver, str(item))).click()
    Select(wait(driver, "#column-action")).select_by_value("add")
    driver.find_element(By.ID, "column-value").send_keys("1")
    driver.execute_script("document.querySelector('.grid-box').scrollTo(180, 260)")
    wait(driver, "#sheet.scrolled")
    before = scroll_of(driver)
    assert before[1] > 0
    driver.find_element(By.ID, "column-preview").click()
    for button in ("form[action$='/do'] .btn-must", ".notice .btn-plain"):
        wait(driver, button).click()
        until(lambda: not driver.current_url.endswith("same-place"))
        wait(driver, ".notice", "Undone" if button.startswith(".notice") else "70 cells")
        until(lambda: scroll_of(driver) == before)
        assert Select(driver.find_element(By.ID, "sort-rows")).first_selected_option.get_attribute("value") == "name"
        wait(driver, f"[data-hide-column='{item}']")
        assert driver.find_element(By.ID, str(student)).get_attribute("tabindex") == "0"


@pytest.mark.usefixtures("stage")
def test_what_the_audit_found_follows_once_nothing_more_is_typed(driver: webdriver.Chrome) -> None:
    def found() -> str:
        return str(driver.find_element(By.CSS_SELECTOR, "#rail [data-step=audit]").text)

    before = found()
    at(driver, 0, "n1")
    keys(driver, "93", Keys.ENTER)
    until(lambda: found() != before)
    first = found()
    keys(driver, "94", Keys.ENTER, "95", Keys.ENTER)
    all_kept(driver)
    assert found() == first
    until(lambda: found() != first)
    later = found()
    driver.refresh()
    wait(driver, "#sheet")
    assert found() == later
