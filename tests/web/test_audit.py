"""The audit over HTTP: found, mended, let stand and back again; cutoffs, papers, figures from elsewhere."""

import io
import json
import re
from dataclasses import replace
from fractions import Fraction

import pdfplumber
import pytest

from tests.web.conftest import CLOCK, Site
from tests.web.test_steps import type_cell
from vinemark.core.audit import audit
from vinemark.core.audit.finding import Finding
from vinemark.core.base.number import fixed
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.contributions import bars
from vinemark.core.grade.steps import steps_of
from vinemark.core.grade.try_score import movers, with_score
from vinemark.exchange import course_file


@pytest.fixture
def hydr(site: Site) -> int:
    return site.section("HYDR 230-01")


def finding(site: Site, section: int, code: str) -> Finding:
    return next(f for f in audit(site.course(section), CLOCK.today()) if f.code == code)


def codes(site: Site, section: int) -> list[str]:
    return [f.code for f in audit(site.course(section), CLOCK.today())]


def test_the_demo_shows_at_least_twelve_codes(site: Site, hydr: int) -> None:
    page = site.browser.get(f"/s/{hydr}/audit").text
    assert len(set(re.findall(r'data-code="([\w-]+)"', page))) >= 12


def test_one_act_mends_a_score_and_is_undone(site: Site, hydr: int) -> None:
    found = finding(site, hydr, "slipped-key")
    page = site.browser.get(f"/s/{hydr}/audit", query_string={"finding": found.key}).text
    assert "Make it 8.5" in page
    done = site.post(f"/s/{hydr}/audit/fix", finding=found.key, key="m1").text
    assert "make it 8.5" in done
    assert site.course(hydr).cell(found.student or "", "q4") == Fraction("8.5")
    assert not {"slipped-key", "over-points"} & set(codes(site, hydr))
    entry = max(int(n) for n in re.findall(r"/history/undo/(\d+)", done))
    site.post(f"/s/{hydr}/history/undo/{entry}", step="scores")
    assert "slipped-key" in codes(site, hydr)
    assert site.post(f"/s/{hydr}/audit/fix", finding="nothing|||", key="m2").status_code == 404


def test_one_act_counts_blanks_as_zero_in_rehearsal_and_adds_from_the_roster(site: Site, hydr: int) -> None:
    waits = finding(site, hydr, "blank-waits")
    words = "Count blanks as 0 in every category"
    page = site.post(f"/s/{hydr}/audit/fix", finding=waits.key, words=words, key="b1").text
    assert "Count blanks as 0 in every category, in preview" in page
    site.post(f"/s/{hydr}/plan/apply", reason="as the syllabus says")
    assert "blank-waits" not in codes(site, hydr)
    newcomer = finding(site, hydr, "not-in-section")
    assert "added from the registrar" in site.post(f"/s/{hydr}/audit/fix", finding=newcomer.key, key="b2").text
    assert site.course(hydr).student(newcomer.student or "")


def test_a_finding_stands_with_a_reason_and_comes_back_when_its_facts_change(site: Site, hydr: int) -> None:
    waits = finding(site, hydr, "blank-waits")
    refused = site.post(f"/s/{hydr}/audit/accept", finding=waits.key, reason="  ")
    assert (refused.status_code, "type a reason; it is saved" in refused.text) == (422, True)
    stop = finding(site, hydr, "weights-off")
    assert "this must be fixed" in site.post(f"/s/{hydr}/audit/accept", finding=stop.key, reason="no").text
    page = site.post(f"/s/{hydr}/audit/accept", finding=waits.key, reason="make-up on Monday", key="s1").text
    assert "1 accepted as is" in page
    assert "accepted as is: make-up on Monday" in page
    cell = {"student": waits.student, "item": "q1", "typed": "1"}
    site.browser.post(f"/s/{hydr}/scores/cells", json={"cells": [cell], "key": "c"})
    back = site.browser.get(f"/s/{hydr}/audit", query_string={"finding": waits.key}).text
    assert "open again: something changed since it was accepted" in back
    assert "It was accepted before (make-up on Monday" in back
    site.post(f"/s/{hydr}/audit/accept", finding=waits.key, reason="still", key="s2")
    taken_up = site.post(f"/s/{hydr}/audit/reopen", finding=waits.key, key="s3").text
    assert "let stand</span>" not in taken_up
    entry = max(int(n) for n in re.findall(r"/history/undo/(\d+)", taken_up))
    site.post(f"/s/{hydr}/history/undo/{entry}", step="history")
    assert "accepted as is: still" in site.browser.get(f"/s/{hydr}/audit").text


def test_cutoffs_are_tried_then_rehearsed(site: Site, hydr: int) -> None:
    before = site.course(hydr)
    tried = site.post(f"/s/{hydr}/audit/cutoffs", htmx=True, **{"from-A-": "88.6"}).text
    assert re.search(r"[1-9]\d* up, 0 down", tried)
    assert "Nobody" in site.post(f"/s/{hydr}/audit/cutoffs", htmx=True, **{"from-A-": "90"}).text
    wrong = site.post(f"/s/{hydr}/audit/cutoffs", htmx=True, **{"from-A-": "86"})
    assert (wrong.status_code, "B+ from 87 is not below" in wrong.text) == (422, True)
    assert site.post(f"/s/{hydr}/audit/cutoffs", htmx=True, **{"from-A": "much"}).status_code == 422
    page = site.post(f"/s/{hydr}/audit/cutoffs/preview", key="r", **{"from-A-": "88.6"}).text
    assert "Cutoffs moved, in preview" in page
    assert site.course(hydr) == before


def test_another_section_of_the_course_stands_beside(site: Site, hydr: int) -> None:
    assert "This section" not in site.browser.get(f"/s/{hydr}/audit").text
    course = site.course(hydr)
    copy = course_file.course_text(replace(course, section=replace(course.section, number="02")))
    upload = {"file": (io.BytesIO(copy.encode()), "copy.json"), "key": "copy"}
    site.browser.post("/sections/new", data=upload, follow_redirects=True)
    page = site.browser.get(f"/s/{hydr}/audit").text
    assert "HYDR 230-02, Fall 2026" in page


def test_the_working_adds_up_for_every_student_of_every_section(demo_courses: list[Course]) -> None:
    for course in demo_courses:
        for student, grade in grades_of(course, CLOCK.today()).items():
            total = sum((c.contributes or Fraction(0) for c in grade.categories), Fraction(0))
            assert grade.uncapped is None or total == grade.uncapped, (course.section.short, student)
            for category in grade.categories:
                kept = [i for i in category.items if i.state in {"kept", "extra"}]
                assert sum((i.earned or Fraction(0) for i in kept), Fraction(0)) == category.earned
                assert sum((i.size or Fraction(0) for i in kept), Fraction(0)) == category.size
            drawn = bars(grade)
            assert sum(bar.filled for bar in drawn) <= 10 * (grade.uncapped or 0) + len(drawn)


def test_the_working_as_a_page_and_as_pdf_says_the_same(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    for student in course.students[:2]:
        shown = steps_of(course.plan, grade_of(course, student.id, CLOCK.today()))
        page = site.browser.get(f"/s/{hydr}/papers/working/{student.id}").text
        pdf = site.browser.get(f"/s/{hydr}/papers/working/{student.id}?pdf=1")
        assert pdf.mimetype == "application/pdf"
        with pdfplumber.open(io.BytesIO(pdf.data)) as read:
            paper = "\n".join(sheet.extract_text() for sheet in read.pages)
            assert len(read.pages) <= 2
        assert shown.headline
        assert shown.exact
        for words in (student.family_name, f"{shown.headline}%", shown.exact, "Field notebooks", "Blanks as 0"):
            assert words in page
            assert words in paper


def test_what_would_move_it_does_move_it(demo_courses: list[Course]) -> None:
    course = demo_courses[0]
    for student in course.students[:12]:
        before = grade_of(course, student.id, CLOCK.today())
        for mover in movers(course, student.id, CLOCK.today()):
            reached = with_score(course, student.id, mover.item.id, Fraction(mover.score), CLOCK.today())
            tenth_less = Fraction(mover.score) - Fraction(1, 10)
            short = with_score(course, student.id, mover.item.id, tenth_less, CLOCK.today())
            assert reached.letter != before.letter
            assert short.letter == before.letter


def test_a_score_is_tried_and_nothing_changes(site: Site, hydr: int) -> None:
    before, student = site.course(hydr), site.course(hydr).students[2].id
    tried = site.browser.get(f"/s/{hydr}/papers/try/{student}?item=s1&score=200").text
    assert "Nothing is changed" in tried
    assert "instead of A" in tried
    assert site.browser.get(f"/s/{hydr}/papers/try/{student}?item=s1&score=lots").status_code == 422
    assert site.browser.get(f"/s/{hydr}/papers/try/{student}?item=none&score=1").status_code == 422
    margin = site.browser.get(f"/s/{hydr}/papers/moves/{student}?item=s1").text
    assert "Survey report: 179 → " in margin
    assert '<option value="s1" selected>' in margin
    assert site.course(hydr) == before


def test_the_audit_as_a_document(site: Site, hydr: int) -> None:
    site.post(f"/s/{hydr}/audit/accept", finding=finding(site, hydr, "twin").key, reason="two people", key="d")
    page = site.browser.get(f"/s/{hydr}/papers/audit").text
    wanted = ("Weights do not add to 100", "accepted as is: two people (Maren Ostrander", "Checks run", "103: ")
    for words in (*wanted, "Letters: A from 93"):
        assert words in page
    digest = re.search(r"<code>([0-9a-f]{64})</code>", page)
    assert digest
    exported = site.browser.get(f"/s/{hydr}/files/course").data
    assert json.loads(exported)["section"]["course"] == "HYDR 230"
    assert site.browser.get(f"/s/{hydr}/papers/audit?pdf=1").data.startswith(b"%PDF-")


def test_figures_from_elsewhere_are_compared_and_explained(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    other = replace(course.plan, categories=tuple(replace(c, blanks="zero") for c in course.plan.categories))
    grades = grades_of(replace(course, plan=other), CLOCK.today())
    rows = [f"{s.id},{fixed(grades[s.id].percent or Fraction(0), 2)}" for s in course.students]
    data = "id,Total\n" + "\n".join(rows) + "\nL0,50\n"
    page = compare(site, hydr, data)
    assert re.search(r"<strong>34</strong> of 34 agree if blanks count as 0", page)
    assert re.search(r"<h2>(2\d|3[0-3]) of 34 agree</h2>", page)
    assert "L0" in page
    assert page.count("#row-L0") == 34
    assert "has no column for the student" in compare(site, hydr, "a,b\n1,2\n")
    assert "names nobody of this section" in compare(site, hydr, "id,Total\nL0,50\n")
    assert "no column of percents, points or letters" in compare(site, hydr, f"id,Note\n{course.students[0].id},well\n")
    assert site.browser.post(f"/s/{hydr}/elsewhere").status_code == 422
    assert "choose what it is compared with" in compare(site, hydr, data, against="moon")


def compare(site: Site, section: int, data: str, **more: str) -> str:
    """What the page says of a file of figures."""
    upload = {"file": (io.BytesIO(data.encode()), "totals.csv"), **more}
    return site.browser.post(f"/s/{section}/elsewhere", data=upload, follow_redirects=True).text


def test_a_comparison_is_kept_repeated_printed_and_removed(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    grades = grades_of(course, CLOCK.today())
    first, *rest = course.students
    rows = [f"{s.id},{fixed(grades[s.id].percent or Fraction(0), 2)},{grades[s.id].letter}" for s in rest]
    page = compare(site, hydr, "id,Total,Letter\n" + "\n".join(rows))
    assert f"<h2>{len(rows)} of {len(rows)} agree</h2>" in page
    assert f"#row-{first.id}" in page[page.index("No figure in the file") :]
    plan = replace(course.plan, categories=tuple(replace(c, blanks="zero") for c in course.plan.categories))
    other = grades_of(replace(course, plan=plan), CLOCK.today())
    student = next(s for s in rest if other[s.id].percent != grades[s.id].percent)
    blank = next(i for _, i in course.plan.items() if i.counts and course.cell(student.id, i.id) is None)
    type_cell(site, hydr, student.id, blank.id, "0")
    again = site.browser.get(f"/s/{hydr}/elsewhere").text
    assert f"{len(rows) - 1} of {len(rows)} agree" in again
    letters = site.browser.get(f"/s/{hydr}/elsewhere/1?column=1").text
    assert "column “Letter”" in letters
    assert "0 of 33 agree" in site.browser.get(f"/s/{hydr}/elsewhere/1?column=1&against=final").text
    paper = site.browser.get(f"/s/{hydr}/elsewhere/1/paper?column=1").text
    assert "Comparison with totals.csv" in paper
    assert first.plain_name in paper
    assert f"/s/{hydr}/elsewhere/1/paper?column=1&amp;pdf=1" in paper
    assert site.browser.get(f"/s/{hydr}/elsewhere/1/paper?pdf=1").data.startswith(b"%PDF-")
    assert "Compared before" not in site.post(f"/s/{hydr}/elsewhere/1/remove").text
    assert site.browser.get(f"/s/{hydr}/elsewhere/1").status_code == 404


def test_the_official_list_is_held_against_what_was_settled(site: Site) -> None:
    fibr = site.section("FIBR 120-01")
    course = site.course(fibr)
    rows = [f"{s.id},{course.settled[s.id].grade if s.id in course.settled else 'A'}" for s in course.students]
    rows[0] = f"{course.students[0].id},W"
    page = compare(site, fibr, "Student ID,Official grade\n" + "\n".join(rows), against="final")
    settled = sum(s.id in course.settled for s in course.students[1:])
    assert f"<h2>{settled} of {len(rows)} agree</h2>" in page
    assert "no rules are tried" in page


def test_raising_one_student_shows_who_stands_in_the_same_place(site: Site, hydr: int) -> None:
    course = site.course(hydr)
    grades = grades_of(course, CLOCK.today())
    with_b = sorted(
        (s for s in course.enrolled() if grades[s.id].letter == "B"), key=lambda s: grades[s.id].percent or 0
    )
    lowest, best = with_b[0], with_b[-1]
    address = f"/s/{hydr}/settle/student/{lowest.id}"
    shown = site.post(address, htmx=True, grade="B+", reason="asked")
    assert shown.status_code == 422
    assert f"{len(with_b) - 1} others are as high or higher" in shown.text
    assert lowest.id not in site.course(hydr).settled
    site.post(address, htmx=True, grade="B+", reason="asked", seen=str(len(with_b) - 1))
    assert site.course(hydr).settled[lowest.id].grade == "B+"
    alone = site.post(f"/s/{hydr}/settle/student/{best.id}", htmx=True, grade="B+", reason="asked")
    assert alone.status_code == 200


def test_findings_are_grouped_and_asked_for_by_level_kind_and_student(site: Site, hydr: int) -> None:
    address = f"/s/{hydr}/audit"
    page = site.browser.get(address).text
    assert page.count('<details class="finding-group"') == 2
    found = re.search(r"Accept all (\d+) as they are, because</label>", page)
    assert found is not None
    some = site.browser.get(address, query_string={"level": "stop"}).text
    assert "3 of 21 shown" in " ".join(some.split())
    kind = site.browser.get(address, query_string={"code": "near-cutoff"}).text
    assert kind.count('data-code="near-cutoff"') == page.count('data-code="near-cutoff"')
    assert 'data-code="twin"' not in kind
    assert "None of these" in site.browser.get(address, query_string={"code": "twin", "level": "stop"}).text
    refused = site.post(f"{address}/accept-all", code="near-cutoff", reason=" ")
    assert refused.status_code == 422
    assert "Type a reason" in refused.text
    assert "accepted as is." in site.post(f"{address}/accept-all", code="near-cutoff", reason="looked at").text
