"""Groups of an item on their page."""

import pytest

from tests.web.conftest import Site


@pytest.fixture
def fibr(site: Site) -> int:
    return site.section("FIBR 120-01")


def item_of(site: Site, section: int) -> str:
    return next(item.id for _, item in site.course(section).plan.items())


def test_groups_are_made_scored_and_one_member_differs(site: Site, fibr: int) -> None:
    item = item_of(site, fibr)
    people = site.course(fibr).enrolled()
    page = site.post(f"/s/{fibr}/groups/{item}/even", size="3")
    assert f"{len(people)} students in" in page.text
    page = site.post(f"/s/{fibr}/groups/{item}/scores", **{"score-1": "7", "score-2": "6.5"})
    assert "group scores" in page.text
    course = site.course(fibr)
    assert [course.cell(s.id, item) for s in people[:3]] == [7, 7, 7]
    typed = {"student": people[1].id, "item": item, "typed": "5", "was": "7"}
    site.browser.post(f"/s/{fibr}/scores/cells", json={"cells": [typed], "key": "one"})
    shown = site.browser.get(f"/s/{fibr}/groups/{item}").text
    assert 'placeholder="differ"' in shown
    assert f"{people[1].plain_name} (5)" in shown


def test_groups_are_typed_and_taken_over_by_another_item(site: Site, fibr: int) -> None:
    items = [item.id for _, item in site.course(fibr).plan.items()][:2]
    people = site.course(fibr).enrolled()
    site.post(f"/s/{fibr}/groups/{items[0]}/members", **{f"group-{people[0].id}": "north"})
    page = site.post(f"/s/{fibr}/groups/{items[1]}/same", other=items[0])
    assert "1 students in 1 group" in page.text
    assert 'value="north"' in site.browser.get(f"/s/{fibr}/groups/{items[1]}").text


@pytest.mark.parametrize(
    ("way", "form", "said"),
    [
        ("even", {"size": "one"}, "whole number"),
        ("same", {"other": "nothing"}, "has no groups"),
        ("scores", {"score-1": "lots"}, "It must be a number"),
        ("scores", {}, "o score was typed"),
        ("members", {"group-x": "y" * 50}, "40 signs at most"),
    ],
)
def test_what_cannot_be_is_said_and_changes_nothing(
    site: Site, fibr: int, way: str, form: dict[str, str], said: str
) -> None:
    item = item_of(site, fibr)
    site.post(f"/s/{fibr}/groups/{item}/even", size="2")
    before = site.course(fibr).scores
    page = site.post(f"/s/{fibr}/groups/{item}/{way}", **form)
    assert (page.status_code, said in page.text) == (422, True)
    assert site.course(fibr).scores == before
