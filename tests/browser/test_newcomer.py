"""A newcomer types the demo's five-category plan from its syllabus, with the keyboard alone, counting every key."""

from dataclasses import replace
from datetime import date, datetime
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.stage import Stage, wait
from vinemark.core.course.course import SectionName, Student, Term
from vinemark.core.plan.edit import empty_plan
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.sentences import plan_text
from vinemark.demo.plans import watershed
from vinemark.passwords import hasher
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act

pytestmark = pytest.mark.browser
SLOW_TYPIST = 4
"""Keys a second: about 45 words a minute would be the same again."""


IN_ITS_GROUP = """
const group = document.getElementById(arguments[0]).closest("[data-roving]");
return Boolean(group?.contains(document.activeElement));
"""


class Keyboard:
    """Presses keys and counts them."""

    def __init__(self, driver: webdriver.Chrome) -> None:
        self.driver = driver
        self.pressed = 0
        self.travelled = 0

    def type(self, *keys: str) -> None:
        for key in keys:
            self.pressed += len(key)
            ActionChains(self.driver, duration=0).send_keys(key).perform()

    def go_to(self, place: str) -> None:
        """Tab, or Shift and Tab, until something has the focus; the arrow within a group that is one stop."""
        back = self.driver.execute_script(
            "const t = document.getElementById(arguments[0]);"
            "return !!(document.activeElement.compareDocumentPosition(t) & Node.DOCUMENT_POSITION_PRECEDING);", place
        )  # fmt: skip
        for _ in range(150):
            if self.driver.execute_script("return document.activeElement.id") == place:
                return
            self.pressed += 1
            self.travelled += 1
            keys = ActionChains(self.driver, duration=0)
            if self.driver.execute_script(IN_ITS_GROUP, place):
                keys.send_keys(Keys.ARROW_RIGHT).perform()
                continue
            (
                keys.key_down(Keys.SHIFT).send_keys(Keys.TAB).key_up(Keys.SHIFT) if back else keys.send_keys(Keys.TAB)
            ).perform()
        raise AssertionError(f"{place} was not reached by Tab")

    def choose(self, rule: str, down: int) -> None:
        """Open a rule, go down so many choices, take it."""
        self.go_to(rule)
        self.type(Keys.ENTER)
        wait(self.driver, f"#{rule}[aria-expanded='true']")
        self.type(*[Keys.ARROW_DOWN] * down, Keys.ENTER)
        wait(self.driver, f"#{rule}[aria-expanded='false']")


def empty_section(folder: Path) -> None:
    connection = connect(folder / "vinemark.sqlite")
    migrate(connection)
    at = datetime(2026, 8, 25, 9, 0)
    password = hasher().hash("peat and heather")
    person = people.add_person(connection, Act(None, at), "ida@larkmoor.example", "Ida Holm", password)
    term = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
    name = SectionName("HYDR 230", "Watershed Field Methods", "01")
    sections.create_section(connection, Act(person, at), term, name, [Student("S1", "Ode", "Marit")], empty_plan())
    connection.close()


def kept_plan(folder: Path) -> Plan:
    connection = connect(folder / "vinemark.sqlite")
    version = connection.execute("SELECT max(version) AS v FROM plan_version").fetchone()["v"]
    found = sections.plan_of(connection, 1, version)
    connection.close()
    return found


def build(driver: webdriver.Chrome, hands: Keyboard) -> None:
    """The five categories with their items, then the rules that differ from the ordinary, then the letters."""
    hands.go_to("new-name")
    for name, weight, number, points in (
        ("Field notebooks", "20", "6", "20"), ("Map quizzes", "15", "8", "10"), ("Lab practicals", "25", "", ""),
        ("Seminar", "10", "", ""), ("Survey report", "25", "1", "200"),
    ):  # fmt: skip
        hands.type(name, Keys.TAB, weight)
        if number:
            hands.type(Keys.TAB, number, Keys.TAB, points)
        hands.type(Keys.ENTER)
        wait(driver, ".notice", f"{name} added")
    hands.choose("rule-c4-blanks", 2)
    hands.choose("rule-c4-split", 2)
    hands.choose("rule-c2-drops", 3)
    hands.choose("rule-c1-drops", 2)
    hands.choose("rule-c1-split", 2)


def more_items(driver: webdriver.Chrome, hands: Keyboard) -> None:
    for category, items in (
        ("c3", (("Flow gauging", "50"), ("Sediment core", "80"))),
        ("c4", (("Response 1-8", "5"),)),
    ):
        hands.go_to(f"add-to-{category}")
        hands.type(Keys.ENTER)
        hands.go_to(f"new-{category}-name")
        for name, points in items:
            hands.type(name, Keys.TAB, points, Keys.ENTER)
            wait(driver, ".notice", f"{name} added")


def letters(driver: webdriver.Chrome, hands: Keyboard) -> None:
    hands.choose("rule-rounding", 5)
    wait(driver, "#rule-rounding", "2 decimals")
    hands.go_to("pasted")
    hands.type("A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60, F 0")
    hands.type(Keys.TAB, Keys.ENTER)
    wait(driver, ".notice", "Letter scale read from text")


def test_the_demo_plan_by_keyboard_in_under_three_minutes(driver: webdriver.Chrome, folder: Path) -> None:
    empty_section(folder)
    with Stage.running(folder) as stage:
        stage.sign_in(driver, "ida@larkmoor.example", "peat and heather")
        stage.open(driver, "HYDR 230-01", "plan")
        hands = Keyboard(driver)
        build(driver, hands)
        more_items(driver, hands)
        letters(driver, hands)
        print(f"\nthe plan by keyboard: {hands.pressed} keys, {hands.travelled} of them Tab on the way")
        assert plan_text(kept_plan(folder)) == plan_text(replace(watershed(), recorded=()))
        assert [i.points for _, i in kept_plan(folder).items()] == [i.points for _, i in watershed().items()]
        assert hands.pressed / SLOW_TYPIST < 180
