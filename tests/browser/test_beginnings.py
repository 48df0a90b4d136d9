"""Beginning with what one has: a spreadsheet as it is, a list of names; every act counted."""

import json
from collections.abc import Iterator
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest
from openpyxl import Workbook
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.browser.stage import DEMO_EMAIL, Stage, until, wait
from tests.browser.test_every_window import AXE, RULES, RUN_AXE
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.store import people, sections
from vinemark.store.database import connect

pytestmark = pytest.mark.browser
NAMES = """
Abara Alcott Aydin Bexley Brandvold Calloway Cato Dunmore Eakins Fenn Garrow Hale Haugen Iwu Jessup Kapoor Kerr Lund
Marsh Mbeki Nunez Oduya Ode Pell Pham Quist Radu Rask Reyes Tamm Tran Voss
""".split()  # noqa: SIM905  # as it is read
GIVEN = ["Ada", "Bo", "Cy"]
MOST_ACTS = 20


@pytest.fixture
def stage(driver: webdriver.Chrome, folder: Path) -> Iterator[Stage]:
    """The demo, signed in."""
    with Stage.demo(folder) as found:
        found.sign_in(driver)
        yield found


class Hand:
    """Acts of a person at the page, counted: a field filled, a button pressed, a choice made."""

    def __init__(self, driver: webdriver.Chrome) -> None:
        self.driver = driver
        self.acts = 0

    def fill(self, element_id: str, text: str) -> None:
        self.acts += 1
        field = self.driver.find_element(By.ID, element_id)
        if field.get_attribute("type") == "date":
            self.driver.execute_script(
                "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('change', {bubbles: true}))",
                field,
                text,
            )
            return
        if field.get_attribute("type") != "file":
            field.clear()
        field.send_keys(text)

    def press(self, selector: str, text: str = "") -> None:
        self.acts += 1
        wait(self.driver, selector, text)
        # The notice of the last act may lie over what stands at the lower edge.
        middle = "arguments[0].scrollIntoView({ block: 'center' })"
        self.driver.execute_script(middle, wait(self.driver, selector, text))
        wait(self.driver, selector, text).click()

    def choose(self, element_id: str, value: str) -> None:
        self.acts += 1
        Select(self.driver.find_element(By.ID, element_id)).select_by_value(value)


def course_of(stage: Stage, name: str) -> Course:
    connection = connect(stage.folder / "vinemark.sqlite")
    person = people.by_email(connection, DEMO_EMAIL)
    assert person is not None
    mine = [one for one in sections.sections_of(connection, person["id"]) if one.name.course == name]
    course = sections.load_course(connection, mine[0])
    connection.close()
    return course


def gradebook(folder: Path) -> tuple[Path, dict[str, str]]:
    """A spreadsheet with a title, a row of points, averages below and a total column; the totals by student."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(["LOOM 120-01 Looms and Dyes, Fall 2026"])
    sheet.append([])
    sheet.append(["ID", "Name", "Quiz 1", "Quiz 2", "Quiz 3", "Weaving", "Final exam", "Total", "%"])
    sheet.append(["", "Points possible", 10, 10, 10, 50, 100, 180, 100])
    totals: dict[str, str] = {}
    columns: list[list[int]] = []
    for n, family in enumerate(NAMES):
        scores = [5 + n % 6, 4 + (n * 7) % 7, 3 + (n * 5) % 8, 30 + (n * 11) % 21, 55 + (n * 13) % 46]
        columns.append(scores)
        total = sum(scores)
        sheet.append([f"L{1000 + n}", f"{family}, {GIVEN[n % 3]}", *scores, total, round(100 * total / 180, 2)])
        totals[f"L{1000 + n}"] = str(total)
    means = [round(sum(one[i] for one in columns) / len(columns), 2) for i in range(5)]
    sheet.append(["", "Average", *means])
    path = folder / "looms.xlsx"
    book.save(path)
    return path, totals


def test_a_spreadsheet_with_its_totals_becomes_a_checked_section(
    stage: Stage, driver: webdriver.Chrome, tmp_path: Path
) -> None:
    """From file to a section whose totals agree with the file's own, in under twenty acts."""
    path, totals = gradebook(tmp_path)
    hand = Hand(driver)
    hand.press("a", "Add a section")
    wait(driver, "h1", "Add a section")
    hand.fill("f-course_file", str(path))
    hand.press("button", "Create the section")
    wait(driver, ".found-words", "32 students, 5 columns of scores, a row of points possible")
    driver.execute_script(AXE.read_text(encoding="utf-8"))
    assert driver.execute_async_script(RUN_AXE, RULES) == []
    agree = [line.text for line in driver.find_elements(By.CSS_SELECTOR, ".held-line")]
    assert [text.split(" agree")[0] for text in agree] == ["32 of 32", "32 of 32"]
    hand.press("#bring-take")
    wait(driver, ".grid")
    print(f"acts from the file to a section whose totals agree: {hand.acts}")
    assert hand.acts <= MOST_ACTS
    course = course_of(stage, "LOOM 120")
    assert [(c.name, len(c.items)) for c in course.plan.categories] == [
        ("Quizzes", 3),
        ("Weaving", 1),
        ("Final exam", 1),
    ]
    grades = grades_of(course, date(2026, 12, 19))
    assert {s: g.percent for s, g in grades.items()} == {s: Fraction(t) * 100 / 180 for s, t in totals.items()}


def scored_in_groups(driver: webdriver.Chrome, hand: Hand) -> None:
    """An item for groups of four, with scores for two of them."""
    hand.press(".stem a[href$='/plan']")
    wait(driver, "h1", "Grading plan")
    for field, text in (("new-name", "Posters"), ("new-weight", "100"), ("new-number_of", "1"), ("new-points", "20")):
        hand.fill(field, text)
    hand.press("#form-add-category button")
    wait(driver, ".said", "Posters")
    hand.press(".stem a[href$='/scores']")
    hand.press("button.item-name")
    hand.press("#margin a", "Groups: one score for several")
    wait(driver, "h1", "Groups")
    hand.fill("group-size", "4")
    hand.press("#margin button", "Make the groups")
    wait(driver, ".said", "94 students in 24 groups")
    hand.fill("group-score-1", "18")
    hand.fill("group-score-2", "15")
    hand.press("main button", "Save the scores")
    wait(driver, ".said", "group scores, 8 cells")


def test_a_section_without_a_file_or_a_registrar(stage: Stage, driver: webdriver.Chrome) -> None:
    """95 pasted names, a late joiner and a student who withdrew."""
    pasted = [f"{family}, {given}" for given in GIVEN for family in NAMES][:95]
    driver.get(f"{stage.url}/sections/new")
    hand = Hand(driver)
    hand.fill("f-course", "DYES 101")
    driver.execute_script("document.getElementById('f-people').value = arguments[0]", "\n".join(pasted))
    hand.acts += 1
    hand.press("button", "Create the section")
    wait(driver, "#work")
    until(lambda: "95 students" in driver.find_element(By.CSS_SELECTOR, ".rail-section").text)
    hand.press(".rail-section a")
    wait(driver, "h1", "Class list")
    assert len(driver.find_elements(By.CSS_SELECTOR, ".class-table tbody tr")) == 95
    hand.press(".class-table a", "Ode, Ada")
    wait(driver, "#margin h2", "Ada Ode")
    hand.press("#margin summary", "Withdrew")
    hand.press("#margin button", "Withdrew")
    wait(driver, ".said", "Ada Ode set aside: withdrawn")
    hand.press(".class-table a", "Pell, Bo")
    wait(driver, "#margin h2", "Bo Pell")
    hand.press("#margin summary", "Joined late")
    field = next(
        e.get_attribute("id") or "" for e in driver.find_elements(By.CSS_SELECTOR, "#margin input[type=date]")
        if (e.get_attribute("id") or "").startswith("class-joined")
    )  # fmt: skip
    hand.fill(field, "2026-09-20")
    hand.press("#margin button", "Joined on this day")
    wait(driver, ".said", "Bo Pell joined on 2026-09-20")
    scored_in_groups(driver, hand)
    print(f"acts to a class of 95 with a late joiner, one who withdrew and group scores: {hand.acts}")
    course = course_of(stage, "DYES 101")
    assert len(course.students) == 95
    assert [s.plain_name for s in course.students if s.set_aside] == ["Ada Ode"]
    item = next(iter(course.plan.columns))
    counted = course.enrolled()
    assert [course.cell(s.id, item) for s in counted[:9]] == [18, 18, 18, 18, 15, 15, 15, 15, None]
    assert json.dumps([s.name for s in course.students]) == json.dumps(pasted)


POINTS = """ID,Name,Report 1,Report 2,Test,Final
Points,,25,25,80,120
L1,"Ode, Marit",24,23,75,110
L2,"Pell, Jonas",20,21,60,99.5
L3,"Quist, Ana",25,25,80,118
L4,"Rask, Bo",12,15,40,80
"""


def test_a_points_course_from_a_pasted_scale_to_letters(stage: Stage, driver: webdriver.Chrome, tmp_path: Path) -> None:
    """250 points: the cutoffs are typed in points, and the sheet and the steps speak of points."""
    path = tmp_path / "points.csv"
    path.write_text(POINTS)
    driver.get(f"{stage.url}/sections/new")
    hand = Hand(driver)
    hand.fill("f-course", "CLAY 110")
    hand.fill("f-course_file", str(path))
    hand.press("button", "Create the section")
    hand.press("#bring-take")
    wait(driver, ".grid")
    hand.press(".stem a[href$='/plan']")
    wait(driver, "h1", "Grading plan")
    hand.fill("pasted", "A 230-250, B 205-229, C 180-204, D 155-179, F 0-154")
    hand.press("#form-paste-scale button")
    wait(driver, ".rehearsing")
    hand.fill("reason", "as the syllabus says")
    hand.press(".in-force button")
    wait(driver, ".said", "Applied")
    print(f"acts to a points course with letters: {hand.acts}")
    plan = course_of(stage, "CLAY 110").plan
    assert (plan.basis, [row.cutoff for row in plan.scale]) == ("points", [92, 82, 72, 62, 0])
    driver.find_element(By.CSS_SELECTOR, ".stem a[href$='/scores']").click()
    wait(driver, ".grid")
    shown = [one.text for one in driver.find_elements(By.CSS_SELECTOR, "[data-figure='points']")]
    letters = [one.text for one in driver.find_elements(By.CSS_SELECTOR, "[data-figure='so-far-letter']")]
    assert shown == ["232 of 250", "200.5 of 250", "248 of 250", "147 of 250"]
    assert letters == ["A", "C", "A", "F"]
    driver.find_element(By.CSS_SELECTOR, "td.cell").click()
    wait(driver, "#margin .in-points", "232 of 250 points")
    wait(driver, "#margin .steps", "A from 92% (230 of 250 points)")
