"""Blocks of cells over HTTP: one act, one undo, and two people at once."""

import re
from fractions import Fraction
from typing import Any

import pytest

from tests.web.conftest import Site
from vinemark.core.course.write import write_cell


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


def post(site: Site, path: str, **sent: object) -> tuple[int, Any]:
    answer = site.browser.post(path, json=sent)
    return answer.status_code, answer.get_json()


def test_a_block_is_one_act_with_one_undo_and_a_redo(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    people = [s.id for s in before.students[:3]]
    block = [{"student": s, "item": i, "typed": "7"} for s in people for i in ("q1", "q2")]
    bad = {"student": people[0], "item": "q3", "typed": "lots"}
    status, answer = post(site, f"/s/{hydr}/scores/cells", cells=[*block, bad], key="b1")
    assert status == 200
    assert [r["item"] for r in answer["refused"]] == ["q3"]
    assert set(answer["rows"]) == set(people)
    assert set(answer["feet"]) == {"q1", "q2"}
    assert all(site.course(hydr).cell(s, "q2") == 7 for s in people)
    _, undone = post(site, f"/s/{hydr}/scores/undo", entry=answer["entry"], key="u1")
    assert site.course(hydr).scores == before.scores
    _, again = post(site, f"/s/{hydr}/scores/undo", entry=undone["entry"], key="u2")
    assert site.course(hydr).cell(people[2], "q1") == 7
    assert again["what"].startswith("undone: ")
    assert post(site, f"/s/{hydr}/scores/undo", entry=answer["entry"], key="u3")[0] == 422
    assert post(site, f"/s/{hydr}/scores/undo", entry="x", key="u4")[0] == 422


def test_a_change_in_between_is_seen_before_it_is_replaced(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[0].id
    place = {"student": student, "item": "q1"}
    was = write_cell(site.course(hydr).cell(student, "q1")) or ""
    post(site, f"/s/{hydr}/scores/cells", cells=[{**place, "typed": "3", "was": was}], key="a")
    _, later = post(site, f"/s/{hydr}/scores/cells", cells=[{**place, "typed": "9", "was": was}], key="b")
    assert later["conflicts"] == [{**place, "now": "3", "by": "Maren Ostrander"}]
    assert site.course(hydr).cell(student, "q1") == 3
    post(site, f"/s/{hydr}/scores/cells", cells=[{**place, "typed": "9", "was": "3"}], key="c")
    assert site.course(hydr).cell(student, "q1") == 9
    same = post(site, f"/s/{hydr}/scores/cells", cells=[{**place, "typed": "9.0", "was": "5"}], key="d")[1]
    assert same["conflicts"] == []


def test_what_others_change_comes_within_a_look(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[1].id
    start = post(site, f"/s/{hydr}/scores/cells", cells=[], key="n")[1]["last"]
    assert site.browser.get(f"/s/{hydr}/scores/since/{start}").get_json()["rows"] == {}
    post(site, f"/s/{hydr}/scores/cells", cells=[{"student": student, "item": "q2", "typed": "85%"}], key="e")
    news = site.browser.get(f"/s/{hydr}/scores/since/{start}").get_json()
    assert list(news["rows"]) == [student]
    assert news["last"] > start
    assert not news["plan_changed"]
    site.post(f"/s/{hydr}/plan/rename-category", category="c4", name="Seminars")
    assert site.browser.get(f"/s/{hydr}/scores/since/{start}").get_json()["plan_changed"]


def test_a_save_brings_what_other_pages_changed_and_not_what_this_one_did(site: Site, hydr: int) -> None:
    students = [student.id for student in site.course(hydr).students[:3]]

    def save(page: str, student: str, seen: int | None = None) -> dict[str, Any]:
        sent = {"key": f"{page}{student}", "cells": [{"student": student, "item": "q2", "typed": "3"}], "seen": seen}
        answer = site.browser.post(f"/s/{hydr}/scores/cells", json=sent, headers={"X-Page": page})
        found: dict[str, Any] = answer.get_json()
        return found

    start = save("one", students[0])["last"]
    save("other", students[1])
    told = save("one", students[2], start)
    assert set(told["rows"]) == {students[1], students[2]}
    assert (told["seen"], told["plan_changed"]) == (told["last"], False)
    assert set(save("one", students[0] + "x", told["seen"])["rows"]) == set()
    mine = site.browser.get(f"/s/{hydr}/scores/since/{start}", headers={"X-Page": "one"}).get_json()
    assert set(mine["rows"]) == {students[1]}
    assert save("one", students[1])["seen"] == 0


def test_letters_and_sums_are_taken_and_said(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[2].id
    cells = [{"student": student, "item": "q1", "typed": "b+"}, {"student": student, "item": "q2", "typed": "4+3.5"}]
    _, answer = post(site, f"/s/{hydr}/scores/cells", cells=cells, key="f")
    assert answer["remark"] == "B+ taken as its cutoff, 87%"
    course = site.course(hydr)
    assert [course.cell(student, i) for i in ("q1", "q2")] == [Fraction("8.7"), Fraction("7.5")]


def test_a_whole_column_says_what_it_does_then_does_it_with_one_undo(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    page = site.browser.get(f"/s/{hydr}/scores/column/q8").text
    assert "Map quiz 8" in page
    assert "How the scores are spread" in page
    effect = site.post(f"/s/{hydr}/scores/column/q8/effect", action="missing", value="").text
    assert "3 cells of 3 students" in effect
    assert site.course(hydr) == before
    wrong = site.post(f"/s/{hydr}/scores/column/q8/effect", action="add", value="much")
    assert (wrong.status_code, 'value="much"' in wrong.text) == (422, True)
    done = site.post(f"/s/{hydr}/scores/column/q8/do", action="missing", value="", key="c1").text
    assert "Map quiz 8: turn blanks into missing, 3 cells" in done
    entry = max(int(n) for n in re.findall(r"/history/undo/(\d+)", done))
    site.post(f"/s/{hydr}/history/undo/{entry}", step="scores")
    assert site.course(hydr).scores == before.scores
    assert site.browser.get(f"/s/{hydr}/scores/column/nothing").status_code == 404


def test_every_column_of_the_sheet_opens(site: Site, hydr: int) -> None:
    """Also what is only recorded, which counts in no category and has no points to be read by."""
    columns = site.course(hydr).plan.columns
    assert {"q8", "fd"} <= columns.keys()
    pages = {item: site.browser.get(f"/s/{hydr}/scores/column/{item}") for item in columns}
    assert {page.status_code for page in pages.values()} == {200}
    recorded = pages["fd"].text
    assert "Recorded only: it counts in no" in recorded
    assert "How the scores are spread" not in recorded
    assert "every item of" not in recorded
    assert "as out of" not in recorded
    assert "every item of" in pages["q8"].text


def test_a_remark_is_kept_shown_and_undone(site: Site, hydr: int) -> None:
    place = {"student": site.course(hydr).students[0].id, "item": "q1"}
    sent = {**place, "text": "  came by  after class "}
    _, answer = post(site, f"/s/{hydr}/scores/cells", cells=[], remark=sent, key="r1")
    assert 'data-remark="came by after class"' in answer["rows"][place["student"]]
    assert post(site, f"/s/{hydr}/scores/cells", cells=[], remark=sent, key="r2")[1]["entry"] is None
    told = site.browser.get(f"/s/{hydr}/scores/history/{place['student']}/q1").text
    assert "remark: came by after class" in told
    assert "Maren Ostrander" in told
    _, undone = post(site, f"/s/{hydr}/scores/undo", entry=answer["entry"], key="r3")
    assert "data-remark" not in undone["rows"][place["student"]]


def test_a_late_student_is_exempt_from_all_that_was_due_before(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    student = before.students[2].id
    page = site.post(f"/s/{hydr}/scores/late/{student}/effect", joined="2026-12-12", htmx=True).text
    assert "1 cell becomes exempt: Map quiz 8" in page
    assert site.course(hydr) == before
    assert site.post(f"/s/{hydr}/scores/late/{student}/effect", joined="soon").status_code == 422
    done = site.post(f"/s/{hydr}/scores/late/{student}/do", joined="2026-12-12", key="l1").text
    assert "joined late: exempt from 1 items due before" in done
    assert site.course(hydr).cell(student, "q8") == "exempt"
    entry = max(int(n) for n in re.findall(r"/history/undo/(\d+)", done))
    site.post(f"/s/{hydr}/history/undo/{entry}", step="scores")
    assert site.course(hydr).scores == before.scores


def test_an_item_is_held_back_until_it_is_opened_or_full(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    blank = sum(course.cell(s.id, "q8") is None for s in course.enrolled())

    def shown() -> str:
        page = site.browser.get(f"/s/{hydr}/scores").text
        found = re.search(r'data-release="q8">([^<]+)<', page)
        assert found
        return found[1]

    assert shown() == "visible"
    site.post(f"/s/{hydr}/scores/visibility/q8", access="held", key="h0")
    assert shown() == "hidden"
    done = site.post(f"/s/{hydr}/scores/visibility/q8", access="when_full", key="h1").text
    assert "Map quiz 8: visible when every cell is filled" in done
    assert shown() == f"{blank} to go"
    site.post(f"/s/{hydr}/scores/column/q8/do", action="missing", value="", key="h2")
    assert shown() == "visible"
    site.post(f"/s/{hydr}/scores/visibility/q8", access="held", category="yes", key="h3")
    assert shown() == "hidden"
    assert site.post(f"/s/{hydr}/scores/visibility/q8", access="wide").status_code == 422


def test_finding_a_student_or_an_item(site: Site, hydr: int) -> None:
    student = site.course(hydr).students[4]
    page = site.browser.get(f"/s/{hydr}/scores/find?typed={student.family_name[:4]}").text
    assert f"#row-{student.id}" in page
    assert "#item-q3" in site.browser.get(f"/s/{hydr}/scores/find?typed=quiz+3").text
    assert "No student or item" in site.browser.get(f"/s/{hydr}/scores/find?typed=zzzz").text


def test_hidden_names_are_hidden_from_the_first_moment(site: Site, hydr: int) -> None:
    site.browser.set_cookie("vinemark-names", "hidden")
    site.browser.set_cookie("vinemark-density", "compact")
    page = site.browser.get(f"/s/{hydr}/scores").text
    assert '<body hx-ext="morph" data-keys="" class="names-hidden">' in page
    assert 'class="grid compact"' in page
