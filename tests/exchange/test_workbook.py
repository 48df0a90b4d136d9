"""The workbook with live formulas, recalculated by a spreadsheet engine and held against the core.

The engine is IronCalc, a general spreadsheet engine; it is made to forget the values that the file carries by
writing other ones into it first, so that a value of our own could not pass for a calculated one.
"""

import io
import re
import zipfile
from fractions import Fraction
from itertools import product
from pathlib import Path
from tempfile import TemporaryDirectory

import ironcalc
import pytest
from hypothesis import HealthCheck, given, settings

from tests.builders import AFTER, category, course, plan
from tests.conftest import CASES
from tests.core.strategies import courses, ruled_courses
from vinemark.core.base.number import ends
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.letters import letter_value
from vinemark.exchange.course_file import course_of_text
from vinemark.exchange.workbook import live_workbook
from vinemark.exchange.workbook_scores import FIXED

CLOSE = Fraction(1, 10**9)


def spoiled(data: bytes) -> bytes:
    """The workbook with every value that a formula carries replaced by a wrong one."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as packed, zipfile.ZipFile(out, "w") as made:
        for name in packed.namelist():
            text = packed.read(name)
            if name.startswith("xl/worksheets/"):
                text = re.sub(rb"</f><v>[^<]*</v>", b"</f><v>-12345</v>", text)
                text = re.sub(rb' t="str"><f>', b"><f>", text)
            made.writestr(name, text)
    return out.getvalue()


def recalculated(data: bytes) -> ironcalc.Model:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "book.xlsx"
        path.write_bytes(spoiled(data))
        model = ironcalc.load_from_xlsx(str(path), "en", "UTC")
    model.evaluate()
    return model


def near_a_tie(course: Course, percent: Fraction) -> bool:
    """Within 1e-9 of a cutoff or of a half at the plan's decimals."""
    rounding = course.plan.rounding
    near_cutoff = any(abs(letter_value(rounding, percent) - row.cutoff) < CLOSE for row in course.plan.scale)
    near_cutoff |= any(abs(percent - row.cutoff) < CLOSE for row in course.plan.scale)
    if rounding is None:
        return near_cutoff
    shifted = percent * 10**rounding.decimals + Fraction(1, 2)
    return near_cutoff or abs(shifted - round(shifted)) < CLOSE * 10**rounding.decimals


def disagreements(course: Course) -> list[str]:
    """Where the engine's percents and letters are not the core's."""
    model, found = recalculated(live_workbook(course, AFTER)), []
    place = FIXED + len(course.plan.categories) + 2
    for row, (student, grade) in enumerate(grades_of(course, AFTER).items(), 2):
        percent, rounded, letter = (model.get_cell_value(0, row, place + n) for n in range(3))
        if grade.percent is None:
            found += [f"{student}: {percent!r} where there is no grade"] * (percent != "")
            continue
        if not isinstance(percent, float) or abs(Fraction(percent) - grade.percent) > CLOSE:
            found.append(f"{student}: {percent!r}, exactly {float(grade.percent)}")
        if near_a_tie(course, grade.percent) and not ends(grade.percent):
            continue
        value = grade.percent if grade.rounded is None else grade.rounded
        if not isinstance(rounded, float) or abs(Fraction(rounded) - value) > CLOSE:
            found.append(f"{student}: rounded {rounded!r}, {float(value)}")
        if (letter or None) != grade.letter:
            found.append(f"{student}: letter {letter!r}, {grade.letter}")
    return found


def test_every_demo_section(demo_courses: list[Course]) -> None:
    assert len(demo_courses) >= 5
    for course_ in demo_courses:
        assert disagreements(course_) == []


SAMPLES = sorted(path.name for path in CASES.glob("sample-*.course.json"))


@pytest.mark.parametrize("name", SAMPLES)
def test_the_sample_courses(name: str) -> None:
    assert disagreements(course_of_text((CASES / name).read_text(encoding="utf-8"))) == []


@pytest.mark.many
@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(courses())
def test_any_plan_there_can_be(found: Course) -> None:
    assert disagreements(found) == []


@pytest.mark.many
@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(ruled_courses())
def test_any_plan_with_further_rules(found: Course) -> None:
    assert disagreements(found) == []


def same_value(one: object, other: object) -> bool:
    return abs(one - other) < 1e-9 if isinstance(one, float) and isinstance(other, float) else one == other


def different_values(found: Course, sheets: int) -> list[str]:
    """Cells in which the value that the file carries is not the one that the engine works out."""
    data = live_workbook(found, AFTER)
    model = recalculated(data)
    with TemporaryDirectory() as folder:
        path = Path(folder) / "book.xlsx"
        path.write_bytes(data)
        carried = ironcalc.load_from_xlsx(str(path), "en", "UTC")
    different = []
    for sheet, row, column in product(range(sheets), range(1, 30), range(1, 90)):
        value, ours = model.get_cell_value(sheet, row, column), carried.get_cell_value(sheet, row, column)
        # The engine reads an empty text that a formula carries as 0.
        if not (same_value(value, ours) or (value == "" and ours == 0)):
            different.append(f"sheet {sheet} row {row} column {column}: {value!r}, carried {ours!r}")
    return different


def test_the_carried_values_are_the_calculated_ones() -> None:
    found = course(plan(category("10", "20", "100", drop_lowest=1)), {"ada": ["9", "1", None], "bo": ["7", None, "80"]})
    assert different_values(found, 4) == []


@pytest.mark.parametrize("name", [name for name in SAMPLES if name >= "sample-21"])
def test_the_carried_values_of_further_rules(name: str) -> None:
    found = course_of_text((CASES / name).read_text(encoding="utf-8"))
    assert different_values(found, 3 + len(found.plan.categories)) == []


def test_the_check_can_fail(demo_courses: list[Course]) -> None:
    found = demo_courses[0]
    data = live_workbook(found, AFTER)
    assert b"-12345" in zipfile.ZipFile(io.BytesIO(spoiled(data))).read("xl/worksheets/sheet1.xml")
    model = recalculated(data)
    place = FIXED + len(found.plan.categories) + 2
    before = model.get_cell_value(0, 2, place)
    model.set_user_input(2, 9, FIXED + 1, "0")
    model.evaluate()
    assert model.get_cell_value(0, 2, place) != before


def test_text_that_looks_like_a_formula_stays_text() -> None:
    found = course(plan(category("10")), {"=1+1": ["9"], "@sum": ["8"]})
    model = recalculated(live_workbook(found, AFTER))
    assert model.get_cell_value(0, 2, 1) == "=1+1"
    assert model.get_cell_value(2, 9, 2) == "=1+1"
