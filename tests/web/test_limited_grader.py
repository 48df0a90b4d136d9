"""A grader who is limited reaches the scores of the limit, and nothing else of the section."""

import re
from typing import Any

import pytest

from tests.web.conftest import Site
from tests.web.test_roles import endpoints
from vinemark.core.course.cell_text import cell_text
from vinemark.demo.build import FENWICK, OSTRANDER
from vinemark.web.request import WITHIN_A_LIMIT


@pytest.fixture
def orchard(site: Site) -> int:
    return site.section("BOTN 105-02")


def limit(site: Site, section: int, **chosen: object) -> str:
    form = {"who": FENWICK[1], "of_items": "some" if "items" in chosen else "all",
            "of_students": "some" if "students" in chosen else "all", **chosen}  # fmt: skip
    return str(site.browser.post(f"/s/{section}/people/limit", data=form, follow_redirects=True).text)


def test_a_limit_is_chosen_said_and_taken_away(site: Site, orchard: int) -> None:
    course = site.course(orchard)
    items, students = list(course.plan.columns), [one.id for one in course.students]
    assert "Items must be chosen" in limit(site, orchard, items=[])
    page = limit(site, orchard, items=items[:2], students=students[:3])
    assert "enters scores of 2 items, 3 students." in page
    assert "<summary>2 items, 3 students</summary>" in page
    history = site.browser.get(f"/s/{orchard}/history").text
    assert "enters scores of 2 items, 3 students" in history
    assert "enters scores of all items, all students" in limit(site, orchard)
    assert "is no grader" in site.post(f"/s/{orchard}/people/limit", who=OSTRANDER[1], of_items="all").text


def test_the_limited_see_and_enter_what_is_theirs(site: Site, orchard: int) -> None:
    course = site.course(orchard)
    item, other = list(course.plan.columns)[:2]
    mine, others = course.students[:2], course.students[2:]
    limit(site, orchard, items=[item], students=[one.id for one in mine])
    site.become(FENWICK[1])
    desk = site.browser.get("/").text
    assert f'href="/s/{orchard}/entry"' in desk
    page = site.browser.get(f"/s/{orchard}/entry").text
    assert all(one.name in page for one in mine)
    assert not [one.id for one in others if one.id in page or one.name in page]
    assert course.plan.columns[other].name not in page
    was = cell_text(course.cell(mine[0].id, item))
    score = {"item": item, f"score-{mine[0].id}": "3", f"was-{mine[0].id}": was}
    assert "1 score saved." in site.post(f"/s/{orchard}/entry", **score, key="1").text
    assert cell_text(site.course(orchard).cell(mine[0].id, item)) == "3"
    site.become(OSTRANDER[1])
    assert FENWICK[0] in site.browser.get(f"/s/{orchard}/history").text


def test_nothing_beyond_the_limit_is_written(site: Site, orchard: int) -> None:
    course = site.course(orchard)
    item, other = list(course.plan.columns)[:2]
    mine, theirs = course.students[:2]
    limit(site, orchard, items=[item], students=[mine.id])
    site.become(FENWICK[1])
    site.post(f"/s/{orchard}/entry", item=item, **{f"score-{theirs.id}": "3"}, key="1")
    assert site.post(f"/s/{orchard}/entry", item=other, **{f"score-{mine.id}": "3"}, key="2").status_code == 403
    assert site.post(f"/s/{orchard}/entry", item="none", **{f"score-{mine.id}": "3"}, key="3").status_code == 403
    assert site.course(orchard).scores == course.scores


def test_what_is_wrong_or_was_changed_is_said_and_stays_typed(site: Site, orchard: int) -> None:
    course = site.course(orchard)
    item, mine = next(iter(course.plan.columns)), course.students[0]
    limit(site, orchard, items=[item])
    site.become(FENWICK[1])
    was = cell_text(course.cell(mine.id, item))
    page = site.post(f"/s/{orchard}/entry", item=item, **{f"score-{mine.id}": "x7", f"was-{mine.id}": was}, key="1")
    assert page.status_code == 422
    assert 'value="x7"' in page.text
    assert "Not saved yet." in page.text
    page = site.post(f"/s/{orchard}/entry", item=item, **{f"score-{mine.id}": "4", f"was-{mine.id}": "2.5"}, key="2")
    assert "changed it meanwhile" in page.text
    again = re.search(rf'name="was-{mine.id}" value="([^"]*)"', page.text)
    assert again
    assert again[1] == was


def test_every_other_route_is_shut(site: Site) -> None:
    """Every route of a section, for a grader whose part is limited."""
    section = site.section("HYDR 410-01")
    site.post(f"/s/{section}/people/add", email=FENWICK[1], role="grader", key="g")
    limit(site, section, items=[next(iter(site.course(section).plan.columns))])
    site.become(FENWICK[1])
    for endpoint, asked in endpoints(site).items():
        for method, address in asked:
            more: dict[str, Any] = {"json": {"cells": []}} if endpoint in {"scores.cells", "scores.undo"} else {}
            status = site.browser.open(address, method=method, **more).status_code
            expected = {200, 302, 404} if endpoint in WITHIN_A_LIMIT else {403}
            assert status in expected, (endpoint, method, status)


def test_who_is_not_limited_has_no_such_page(site: Site, orchard: int) -> None:
    assert site.browser.get(f"/s/{orchard}/entry").status_code == 404
    site.become(FENWICK[1])
    assert site.browser.get(f"/s/{orchard}/entry").status_code == 404
    assert site.browser.get(f"/s/{orchard}/scores").status_code == 200
