"""A student moves to another section with their scores: looked at first, one act, undone in each section."""

import re

import pytest

from tests.web.conftest import PASSWORD, Site
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.demo.build import FENWICK


@pytest.fixture
def pair(site: Site) -> tuple[int, int]:
    """A section, and one of the same plan without students in common."""
    first = site.section("BOTN 105-02")
    site.post("/sections/new", course="BOTN 105", number="03", title="Orchard Botany", people="L77777, Ode, Marit")
    second = site.section("BOTN 105-03")
    site.post(f"/s/{second}/plan/copy", source=first, days="0", key="copy")
    return first, second


def texts(course: Course, student: str) -> dict[str, str]:
    return {item.name: cell_text(course.cell(student, item.id)) for item in course.plan.columns.values()}


def looked_at(site: Site, pair: tuple[int, int], *students: str) -> tuple[str, str]:
    page = site.browser.get(f"/s/{pair[0]}/move", query_string={"student": students, "to": pair[1]}).text
    seen = re.search(r'name="seen" value="([^"]*)"', page)
    return page, seen[1] if seen else ""


def test_a_student_moves_with_every_score(site: Site, pair: tuple[int, int]) -> None:
    before = site.course(pair[0])
    student = before.students[0]
    page, seen = looked_at(site, pair, student.id)
    count = sum(bool(cell_text(before.cell(student.id, item))) for item in before.plan.columns)
    assert f"{count} scores come along" in page
    assert site.course(pair[1]).student(student.id) is None
    done = site.post(f"/s/{pair[0]}/move", to=pair[1], student=student.id, seen=seen, key="m").text
    assert f"{student.plain_name} moved to BOTN 105-03 with {count} scores." in done
    here, there = site.course(pair[0]), site.course(pair[1])
    assert here.scores == before.scores
    assert here.student(student.id).set_aside == "moved to BOTN 105-03"  # type: ignore[union-attr]
    assert there.student(student.id) == student
    assert texts(there, student.id) == texts(before, student.id)
    # The same request once more does nothing more.
    site.post(f"/s/{pair[0]}/move", to=pair[1], student=student.id, seen=seen, key="m")
    assert site.course(pair[1]) == there
    for section, what in ((pair[1], "moved here from BOTN 105-02"), (pair[0], "moved to BOTN 105-03")):
        page = site.browser.get(f"/s/{section}/history").text
        assert what in page
        undo = re.search(rf"/s/{section}/history/undo/(\d+)", page)
        assert undo
        site.post(undo[0], key=f"u{section}")
    assert site.course(pair[0]) == before
    assert site.course(pair[1]).student(student.id) is None


def test_everybody_moves_where_two_are_taught_as_one(site: Site, pair: tuple[int, int]) -> None:
    students = [one.id for one in site.course(pair[0]).students if not one.set_aside]
    _, seen = looked_at(site, pair, *students)
    form = {"to": pair[1], "student": students, "seen": seen, "key": "all"}
    done = site.browser.post(f"/s/{pair[0]}/move", data=form, follow_redirects=True).text
    assert f"{len(students)} students moved to BOTN 105-03" in done
    assert len(site.course(pair[1]).students) == len(students) + 1
    assert not site.course(pair[0]).enrolled()


def test_what_was_changed_meanwhile_is_looked_at_again(site: Site, pair: tuple[int, int]) -> None:
    course = site.course(pair[0])
    student, item = course.students[0], next(iter(course.plan.columns))
    _, seen = looked_at(site, pair, student.id)
    site.browser.post(
        f"/s/{pair[0]}/scores/cells",
        json={"key": "c", "cells": [{"student": student.id, "item": item, "typed": "1"}]},
    )
    page = site.post(f"/s/{pair[0]}/move", to=pair[1], student=student.id, seen=seen, key="m")
    assert page.status_code == 409
    assert "was changed meanwhile" in page.text
    assert site.course(pair[1]).student(student.id) is None


def test_what_is_wrong_is_said_and_nothing_moves(site: Site, pair: tuple[int, int]) -> None:
    student = site.course(pair[0]).students[0].id
    soil = site.section("SOIL 210-01")
    for to in (soil, pair[0], 999, "x"):
        page = site.post(f"/s/{pair[0]}/move", to=to, student=student, seen="", key=f"k{to}")
        assert page.status_code == 422
        assert "must be another section of yours" in page.text
    page = site.post(f"/s/{pair[0]}/move", to=pair[1], seen="", key="none")
    assert "must be chosen" in page.text
    site.browser.post("/sign-out")
    site.sign_in(FENWICK[1], PASSWORD)
    assert site.browser.get(f"/s/{pair[0]}/move").status_code == 403


def test_the_roster_goes_along_only_with_everybody_and_where_nothing_was_signed(
    site: Site, pair: tuple[int, int]
) -> None:
    section, target = site.section("HYDR 410-01"), pair[0]
    everybody = [one.id for one in site.course(section).students if not one.set_aside]
    for chosen, offered in ((everybody, True), (everybody[1:], False)):
        page = site.browser.get(f"/s/{section}/move", query_string={"student": chosen, "to": target}).text
        assert ("and the roster with them" in page) == offered
    page, seen = looked_at(site, (section, target), *everybody)
    form = {"to": target, "student": everybody, "seen": seen, "whole": "1", "key": "w"}
    answer = site.browser.post(f"/s/{section}/move", data=form)
    assert answer.status_code == 422
    assert "grades were signed for its roster" in answer.text
    assert site.course(section).enrolled()
