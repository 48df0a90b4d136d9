"""From sign-in to receipt with the keyboard alone, and every key counted."""

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import Stage, inside, keys, until, wait

pytestmark = pytest.mark.browser

MOST_KEYS = 390
LONGEST_WAY = 40
HERE = """
const one = document.activeElement;
return [one.id, one.textContent.trim().replace(/\\s+/g, " "), one.getAttribute("href") ?? "", one.name ?? ""];
"""


class Hands:
    """Keys pressed where the focus is, and how many they were."""

    def __init__(self, driver: webdriver.Chrome) -> None:
        self.driver, self.pressed, self.tabs = driver, 0, 0

    def press(self, *typed: str, held: str = "") -> None:
        """Keys, each a key; one held beside them counts too."""
        self.pressed += sum(map(len, typed)) + bool(held)
        keys(self.driver, *typed, held=held)

    def tab_to(self, wanted: str, by: str = Keys.TAB) -> None:
        """Go on until the element with the focus has this id, name, text or end of its address."""
        for _ in range(LONGEST_WAY):
            if self._here(wanted):
                return
            self.tabs += by == Keys.TAB
            self.press(by)
        raise AssertionError(f"{wanted!r} is not within {LONGEST_WAY} keys, but {inside(self.driver, HERE)}")

    def _here(self, wanted: str) -> bool:
        found = inside(self.driver, HERE)
        assert isinstance(found, list)
        element, text, href, name = found
        return wanted in (element, text, name) or (wanted.startswith("/") and href.endswith(wanted))

    def step(self, number: int, heading: str) -> None:
        """Alt, Shift and a digit: another step of the section."""
        self._chord(f"Digit{number}", "!", 48 + number)
        wait(self.driver, "h1", heading)

    def across(self) -> None:
        """Alt, Shift and M: to the margin."""
        self._chord("KeyM", "M", 77)

    def _chord(self, code: str, key: str, number: int) -> None:
        self.pressed += 3
        key_down = {"type": "keyDown", "modifiers": 9, "code": code, "key": key, "windowsVirtualKeyCode": number}
        self.driver.execute_cdp_cmd("Input.dispatchKeyEvent", key_down)


@pytest.fixture
def stage(folder: Path) -> Iterator[Stage]:
    with Stage.demo(folder) as found:
        yield found


def row(stage: Stage, query: str) -> tuple[int, ...]:
    connection = sqlite3.connect(stage.folder / "vinemark.sqlite")
    found: tuple[int, ...] = connection.execute(query).fetchone()
    connection.close()
    return found


def test_a_section_with_mistakes_goes_to_its_receipt(driver: webdriver.Chrome, stage: Stage) -> None:
    """HYDR 230: weights, a roster that differs, thirty blanks; fixed, settled, signed, received."""
    hands = Hands(driver)
    driver.delete_all_cookies()
    driver.get(stage.url)
    wait(driver, "h1", "Sign in")
    hands.press("maren.ostrander@larkmoor.example", Keys.TAB, "larkmoor", Keys.ENTER)
    wait(driver, "h1", "Desk")
    hands.tab_to("HYDR 230-01")
    hands.press(Keys.ENTER)
    wait(driver, "h1", "Grading plan")
    fix_what_must_be_fixed(hands)
    settle(hands, stage)
    hands.step(5, "Submit")
    hands.tab_to("sign-reason")
    hands.press("looked at, all of them", Keys.ENTER)
    wait(driver, "#send")
    hands.tab_to("send")
    hands.press(Keys.ENTER)
    wait(driver, ".receipt-box")
    assert row(stage, "SELECT count(*) FROM sending WHERE receipt IS NOT NULL")[0] > 0
    assert hands.pressed < MOST_KEYS, (hands.pressed, hands.tabs)


def fix_what_must_be_fixed(hands: Hands) -> None:
    """The weights, as the syllabus has them: previewed, then applied."""
    driver = hands.driver
    hands.tab_to("weight-c5")
    hands.press("30", Keys.TAB)
    wait(driver, "#margin h2", "Preview")
    hands.across()
    hands.tab_to("reason")
    hands.press("the syllabus", Keys.ENTER)
    wait(driver, ".notice", "Applied")


def settle(hands: Hands, stage: Stage) -> None:
    """One student added, one set aside, the rest as computed, and what the registrar needs with an F."""
    driver = hands.driver
    hands.step(4, "Settle")
    hands.tab_to("Add to the section")
    hands.press(Keys.ENTER)
    wait(driver, ".notice", "added from the registrar")
    hands.tab_to("Settle the rest as computed")
    hands.press(Keys.ENTER)
    wait(driver, ".notice", "settled as computed")
    until(lambda: row(stage, "SELECT count(*) FROM settled WHERE run = 'final' AND section_id = 1")[0] > 25)
