"""Further rules in the browser: each built from its sentence, late work and symbols typed, an adjustment given."""

import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, keys, type_into, until, wait

pytestmark = pytest.mark.browser


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, with the plan of the section open."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        found.open(driver, "FIBR 120-01", "plan")
        yield found


def add(driver: webdriver.Chrome, kind: str, typed: dict[str, str], chosen: dict[str, str]) -> None:
    """Open the form of a rule by the keyboard, fill it in and save with Enter."""
    driver.find_element(By.CSS_SELECTOR, f"#add-{kind} > summary").send_keys(Keys.ENTER)
    wait(driver, f"#form-add-{kind} button")
    for name, value in chosen.items():
        Select(driver.find_element(By.ID, f"add-{kind}-{name}")).select_by_visible_text(value)
    for name, text in typed.items():
        type_into(driver, f"add-{kind}-{name}", Keys.CONTROL + "a" + Keys.NULL, text)
    driver.find_element(By.CSS_SELECTOR, f"#form-add-{kind} > .btn").send_keys(Keys.ENTER)


def rules(driver: webdriver.Chrome) -> list[str]:
    return [line.text for line in driver.find_elements(By.CSS_SELECTOR, "#rules .rule-list .sentence")]


def plan_of(folder: Path) -> dict[str, object]:
    """The plan that counts, or the one in preview, as it is kept."""
    connection = sqlite3.connect(folder / "demo" / "vinemark.sqlite")
    found = connection.execute(
        "SELECT coalesce((SELECT plan FROM rehearsal r WHERE r.section_id = s.id), (SELECT plan FROM plan_version v"
        " WHERE v.section_id = s.id ORDER BY version DESC LIMIT 1)) FROM section s WHERE course = 'FIBR 120'"
    ).fetchone()[0]
    connection.close()
    plan: dict[str, object] = json.loads(found)
    return plan


def test_each_rule_is_built_from_its_sentence(driver: webdriver.Chrome, stage: Stage, folder: Path) -> None:
    assert [line for line in rules(driver) if line.startswith("Critiques: Symbols")]
    add(driver, "late", {"per_day": "10", "at_most": "50"}, {"category": "Studio pieces"})
    wait(driver, "#rule-late-c1", "Late work loses 10% of the item's points a day, at most 50%.")
    add(driver, "replacement", {}, {"source": "Sample book", "into": "Studio pieces"})
    wait(driver, "#rule-replacement-0", "A better score on Sample book replaces the weakest of Studio pieces")
    add(driver, "alternative", {"name": "The book counts more", "weight-c1": "40", "weight-c2": "45"}, {})
    wait(driver, "#rule-alternative-0", "Studio pieces 40%, Sample book 45%, Critiques 15%")
    add(driver, "requirement", {"threshold": "60", "amount": "c"}, {"subject": "Studio pieces"})
    wait(driver, "#rule-requirement-0", "If Studio pieces is below 60%, the letter is at most C.")
    add(driver, "recorded", {"name": "Absences"}, {})
    wait(driver, "#rule-recorded-0", "Absences is recorded and counts in no category.")
    above = {"condition": "is above, as recorded", "subject": "Absences", "consequence": "the percent goes down by"}
    add(driver, "requirement", {"threshold": "3", "amount": "2"}, above)
    wait(driver, "#rule-requirement-1", "If Absences is above 3, the percent goes down by 2.")
    add(driver, "added", {"added": "1.5"}, {})
    wait(driver, "#rules", "Everyone gets 1.5 percentage points.")
    kept = plan_of(folder)
    assert kept["added"] == "1.5"
    assert len(kept["requirements"]) == 2  # type: ignore[arg-type]
    driver.find_element(By.CSS_SELECTOR, "#change-requirement-0 > summary").send_keys(Keys.ENTER)
    type_into(driver, "rule-requirement-0-threshold", Keys.CONTROL + "a" + Keys.NULL, "65")
    keys(driver, Keys.ENTER)
    wait(driver, "#rule-requirement-0", "If Studio pieces is below 65%")
    driver.find_element(By.CSS_SELECTOR, "#change-replacement-0 > summary").send_keys(Keys.ENTER)
    driver.find_element(By.ID, "remove-replacement-0").send_keys(Keys.ENTER)
    until(lambda: not [line for line in rules(driver) if "replaces" in line])


def test_what_cannot_be_is_said_at_its_place_and_keeps_what_was_typed(driver: webdriver.Chrome, stage: Stage) -> None:
    add(driver, "requirement", {"threshold": "60", "amount": "Z"}, {"subject": "Sample book"})
    wait(driver, "#add-requirement-amount-reason", "must be a letter of the scale")
    assert driver.find_element(By.ID, "add-requirement-threshold").get_attribute("value") == "60"
    assert driver.switch_to.active_element.get_attribute("id") == "add-requirement-amount"
    condition = Select(driver.find_element(By.ID, "add-requirement-condition"))
    condition.select_by_visible_text("is above, as recorded")
    subjects = driver.find_elements(By.CSS_SELECTOR, "#add-requirement-subject option")
    assert not [one for one in subjects if one.text == "Critiques" and one.is_enabled()]
    type_into(driver, "new-name", "Weaving log")
    type_into(driver, "new-weight", "x", Keys.ENTER)
    wait(driver, "#new-weight-reason", "must be a number")
    assert driver.find_element(By.ID, "new-name").get_attribute("value") == "Weaving log"


def test_a_promise_of_the_syllabus_becomes_a_rule_in_one_act(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "HYDR 230-01", "plan")
    driver.find_element(By.CSS_SELECTOR, "button[aria-label^='Make it a rule: Students who miss']").send_keys(
        Keys.ENTER
    )
    wait(driver, "#rule-requirement-0", "If Field days missed is above 1, the letter is at most C.")
    wait(driver, "#margin", "10 down")
    held = driver.find_elements(By.CSS_SELECTOR, "#margin .match-rule.state-agrees")
    assert [one for one in held if "cannot get more than a C" in one.text]


def test_late_days_symbols_and_an_adjustment_are_typed(driver: webdriver.Chrome, stage: Stage) -> None:
    stage.open(driver, "BOTN 105-02", "scores")
    stage.focus_cell(driver, "h1")
    cell = driver.switch_to.active_element.get_attribute("id")
    assert cell
    keys(driver, "9", "0", " ", "l", "3", Keys.ENTER)
    wait(driver, f"#{cell}[data-counts='85']", "90 late 3")
    stage.open(driver, "FIBR 120-01", "scores")
    stage.focus_cell(driver, "k1")
    cell = driver.switch_to.active_element.get_attribute("id")
    keys(driver, *"check", Keys.ENTER)
    wait(driver, f"#{cell}[data-counts='8']", "check")
    stage.focus_cell(driver, "k1")
    wait(driver, "#cell-panel", "check, counts as 8")
    wait(driver, "#adjusting > summary").send_keys(Keys.ENTER)
    type_into(driver, "adjust-percent", "much", Keys.ENTER)
    wait(driver, "#adjust-why", "must be a number")
    type_into(driver, "adjust-percent", Keys.CONTROL + "a" + Keys.NULL, "-1.5")
    type_into(driver, "adjust-reason", "as agreed", Keys.ENTER)
    adjusted = wait(driver, "tr[data-student] .total.so-far.adjusted")
    assert adjusted.get_attribute("title") == "adjusted by −1.5: as agreed"
