"""Every rule of the calculation set on the plan page, and the sheet's numbers held against what `compute` prints."""

import json
from collections.abc import Callable
from datetime import date, datetime
from fractions import Fraction
from itertools import pairwise
from pathlib import Path

import pytest
from click.testing import CliRunner
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.stage import Stage, wait
from tests.builders import TENS, TERM, cell
from vinemark.cli import main
from vinemark.core.base.number import fixed
from vinemark.core.course.course import Course, SectionName, Student
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.passwords import hasher
from vinemark.store import people, sections
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act
from vinemark.web.ui.formats import short_percent

pytestmark = pytest.mark.browser
DAY = "2026-12-19"

QUIZZES = tuple(
    Item(f"q{n}", f"Quiz {n}", Fraction(points), due=date(2026, 9 + n // 2, 10))
    for n, points in enumerate((10, 20, 5, 8, 10))
)
ESSAYS = (Item("e1", "Essay 1", Fraction(100)), Item("e2", "Essay 2", Fraction(30)))
DAYS_OUT = (Item("f1", "Bog walk", Fraction(4)), Item("f2", "Dune walk", Fraction(4)))
PLAN = Plan(
    "weighted",
    (
        Category("c1", "Quizzes", Fraction(40), items=QUIZZES),
        Category("c2", "Essays", Fraction(60), items=ESSAYS),
        Category("c3", "Field days", Fraction(10), items=DAYS_OUT),
    ),
    TENS,
)
SCORES = {
    "ada": ["10", "3", "5", None, "9.5", "88", "29", "4", "4"],
    "bo": ["7", "20", "missing", "1", "exempt", "61.5", "30", None, "1"],
    "cy": ["9", "14", "2", "8", "10", "99", None, None, None],
    "dee": [None, "19", "5.5", "8", "3", "40", "12", "3", "exempt"],
    "eli": [None, None, None, None, None, "75", None, None, None],
}


def a_section(folder: Path) -> None:
    """The section above, of one instructor."""
    ids = [item.id for _, item in PLAN.items()]
    students = tuple(Student(s, s.capitalize()) for s in SCORES)
    scores = {s: {i: cell(t) for i, t in zip(ids, row, strict=True) if t} for s, row in SCORES.items()}
    connection = connect(folder / "vinemark.sqlite")
    migrate(connection)
    at = datetime(2026, 12, 1, 9, 0)
    person = people.add_person(
        connection, Act(None, at), "ida@larkmoor.example", "Ida Holm", hasher().hash("peat and heather")
    )
    course = Course(TERM, SectionName("BOGS 200", "Bogs and Dunes", "01"), PLAN, students, scores)
    sections.create_from_course(connection, Act(person, at), course)
    connection.close()


def choose(category: str, rule: str, value: str) -> Callable[[webdriver.Chrome], None]:
    """Press Enter on a rule, then on one of its choices."""

    def press(driver: webdriver.Chrome) -> None:
        button = driver.find_element(By.ID, f"rule-{category}-{rule}")
        button.send_keys(Keys.ENTER)
        menu = wait(driver, f"#rule-{category}-{rule} + .dropdown-menu.show")
        found = [
            b
            for b in menu.find_elements(By.CSS_SELECTOR, "[hx-vals]")
            if f'"{value}"' in str(b.get_attribute("hx-vals"))
        ]
        found[0].send_keys(Keys.ENTER)

    return press


def cap(category: str, percent: str) -> Callable[[webdriver.Chrome], None]:
    """Type a ceiling into its small form."""

    def typed(driver: webdriver.Chrome) -> None:
        driver.find_element(By.ID, f"rule-{category}-ceiling").send_keys(Keys.ENTER)
        wait(driver, f"#rule-{category}-ceiling + .dropdown-menu.show")
        driver.find_element(By.ID, f"ceiling-{category}").send_keys(percent + Keys.ENTER)

    return typed


def item(item_id: str, field: str, value: str = "") -> Callable[[webdriver.Chrome], None]:
    """Change a field of an item (a box where no value is given) and keep it."""

    def typed(driver: webdriver.Chrome) -> None:
        driver.find_element(By.CSS_SELECTOR, f"#item-{item_id} summary").send_keys(Keys.ENTER)
        found = driver.find_element(By.ID, f"item-{item_id}-{field}")
        if value:
            found.clear()
            found.send_keys(value + Keys.ENTER)
        else:
            found.send_keys(Keys.SPACE)
            driver.find_element(By.CSS_SELECTOR, f"#item-{item_id} .inline-form .btn").send_keys(Keys.ENTER)

    return typed


def rounding(place: int) -> Callable[[webdriver.Chrome], None]:
    """One of the rounding rules, by its place in the list."""

    def press(driver: webdriver.Chrome) -> None:
        driver.find_element(By.ID, "rule-rounding").send_keys(Keys.ENTER)
        wait(driver, "#rule-rounding + .dropdown-menu.show").find_elements(By.TAG_NAME, "button")[place].send_keys(
            Keys.ENTER
        )

    return press


def paste_scale(driver: webdriver.Chrome) -> None:
    driver.find_element(By.ID, "pasted").send_keys("A 79-100, B 68-78, C 63.5-67, F below 63.5")
    driver.find_element(By.CSS_SELECTOR, "#form-paste-scale button").send_keys(Keys.ENTER)


def essays_are_extra_items_together(driver: webdriver.Chrome) -> None:
    driver.find_element(By.CSS_SELECTOR, "#together summary").send_keys(Keys.ENTER)
    driver.find_element(By.ID, "pick-e2").send_keys(Keys.SPACE)
    Select(driver.find_element(By.ID, "together-extra")).select_by_value("yes")
    driver.find_element(By.CSS_SELECTOR, "#form-together .btn-line").send_keys(Keys.ENTER)


def cutoff_in_points(driver: webdriver.Chrome) -> None:
    field = driver.find_element(By.ID, "points-1")
    field.clear()
    field.send_keys("113")
    driver.find_element(By.CSS_SELECTOR, "#form-scale .btn-line").send_keys(Keys.ENTER)


STEPS: list[tuple[str, Callable[[webdriver.Chrome], None]]] = [
    ("drop the lowest 1, whichever drop gives the best result", choose("c1", "drops", "lowest 1")),
    ("by the lowest percentage", choose("c1", "drop_by", "lowest_percent")),
    ("keep the best 2", choose("c1", "drops", "best 2")),
    ("and drop the highest 1", choose("c1", "drops", "lowest 0")),
    ("the highest alone", choose("c1", "drops", "highest 1")),
    ("split evenly", choose("c1", "split", "even")),
    ("own shares", choose("c1", "split", "own_shares")),
    ("another share", item("q2", "share", "100/3")),
    ("blanks count 0", choose("c2", "blanks", "zero")),
    ("blanks count 0 once due", choose("c1", "blanks", "zero_when_due")),
    ("a category on top", choose("c3", "extra", "yes")),
    ("with a ceiling", cap("c3", "62.5")),
    ("an item never dropped", item("q1", "protected")),
    ("an item does not count yet", item("q4", "planned")),
    ("an extra item", essays_are_extra_items_together),
    ("a ceiling of a category", cap("c2", "90")),
    ("a ceiling of the course", cap("", "78")),
    ("another scale", paste_scale),
    ("rounded to whole numbers", rounding(0)),
    ("the letter by the exact percent", rounding(1)),
    ("rounded to one decimal", rounding(2)),
    ("the points basis", choose("", "basis", "points")),
    ("a cutoff typed in points", cutoff_in_points),
]


def put_in_force(driver: webdriver.Chrome) -> None:
    """Where the change is rehearsed, put it in force."""
    wait(driver, ".notice")
    if driver.find_elements(By.ID, "reason"):
        driver.find_element(By.ID, "reason").send_keys("as the syllabus says" + Keys.ENTER)
        wait(driver, ".notice", "Applied")


def on_the_sheet(driver: webdriver.Chrome, stage: Stage) -> list[tuple[str, str]]:
    """Percent and letter of everyone, as the score sheet shows them."""
    driver.get(f"{stage.url}/s/1/scores")
    rows = driver.find_elements(By.CSS_SELECTOR, "#sheet tbody tr")
    return [tuple(r.find_element(By.CSS_SELECTOR, f"td.{c}").text for c in ("total", "letter")) for r in rows]  # type: ignore[misc]


def computed(driver: webdriver.Chrome, stage: Stage, folder: Path) -> list[tuple[str, str]]:
    """The same from the exported course file, by the command."""
    text = driver.execute_async_script(
        "const done = arguments[1]; fetch(arguments[0]).then((r) => r.text()).then(done);",
        f"{stage.url}/s/1/files/course",
    )
    (folder / "exported.json").write_text(str(text), encoding="utf-8")
    done = CliRunner().invoke(main, ["compute", str(folder / "exported.json"), "--as-of", DAY])
    assert done.exit_code == 0, done.output
    rounding = json.loads(str(text))["plan"]["rounding"]
    by_rounded = rounding is not None and rounding["letter_uses"] == "rounded"
    return [_shown(row, by_rounded) for row in json.loads(done.output)["students"]]


def _shown(row: dict[str, str | None], by_rounded: bool) -> tuple[str, str]:
    """The percent as the plan rounds it where letters hang on that, else with two places."""
    exact = Fraction(row["exact"]) if row["exact"] is not None else None
    assert exact is None or fixed(exact, 6) == row["percent"]
    percent = row["rounded"] or "–" if by_rounded else short_percent(exact)
    return percent, (row["letter"] or "–").replace("-", "−")


def test_every_rule_gives_the_number_that_compute_prints(driver: webdriver.Chrome, folder: Path) -> None:
    a_section(folder)
    with Stage.running(folder) as stage:
        stage.sign_in(driver, "ida@larkmoor.example", "peat and heather")
        seen = []
        for name, step in STEPS:
            driver.get(f"{stage.url}/s/1/plan")
            step(driver)
            put_in_force(driver)
            shown = on_the_sheet(driver, stage)
            assert shown == computed(driver, stage, folder), name
            seen.append(shown)
        still = [STEPS[n + 1][0] for n, (before, after) in enumerate(pairwise(seen)) if before == after]
        # Shares start as equal ones: the same as an even split, until one is changed.
        assert still == ["own shares"], "; ".join(still)
