"""The syllabus beside the plan, through the application."""

import io
import re

import pytest

from tests.syllabus.documents import DOCUMENTS
from tests.web.conftest import Site
from vinemark.store import syllabuses
from vinemark.store.database import connect

TEXT = next(d.text for d in DOCUMENTS if d.name == "a long paragraph of weights")


def kept(site: Site, section: int) -> syllabuses.Syllabus:
    connection = connect(site.folder / "vinemark.sqlite")
    found = syllabuses.syllabus_of(connection, section)
    connection.close()
    assert found is not None
    return found


@pytest.fixture
def fresh(site: Site) -> int:
    """A new section without a plan."""
    site.post("/sections/registrar", ref="2026FA-HYDR331-01")
    return site.section("HYDR 331-01")


def facts_form(page: str) -> dict[str, str]:
    """The fields of the form of facts, as the page shows them."""
    form = page[page.index('id="form-facts"') :].split("</form>", maxsplit=1)[0]
    fields = dict(re.findall(r'<input name="([a-z]+-\d+)" value="([^"]*)"', form))
    fields |= dict.fromkeys(re.findall(r'type="checkbox" name="(extra-\d+)" value="1" checked', form), "1")
    fields["scale"] = re.search(r'name="scale"[^>]*>([^<]*)<', form)[1]  # type: ignore[index]
    for name in ("basis", "rounding"):
        chosen = re.search(rf'name="{name}">.*?<option value="([^"]*)" selected', form, re.S)
        fields[name] = chosen[1] if chosen else ""
    return fields


def test_a_new_section_starts_with_its_syllabus(site: Site, fresh: int) -> None:
    page = site.browser.get(f"/s/{fresh}/syllabus").text
    assert "Drop the syllabus here" in page
    page = site.post(f"/s/{fresh}/syllabus", text=TEXT).text
    assert 'class="sent mark' in page
    assert "Comprehensive final exam" in page
    form = facts_form(page)
    assert (form["name-0"], form["weight-0"], form["count-1"], form["drop-1"]) == ("Homework", "25", "8", "lowest 1")
    form["name-3"] = "Final exam"
    plan = site.post(f"/s/{fresh}/syllabus/facts", then="take", **form)
    assert "Plan drafted from the syllabus" in plan.text
    course = site.course(fresh)
    assert [(c.name, c.weight) for c in course.plan.categories][:4] == [
        ("Homework", 25), ("Quizzes", 20), ("Term paper", 25), ("Final exam", 30),
    ]  # fmt: skip
    assert course.syllabus == TEXT
    assert "nothing left" in plan.text


def test_a_file_that_cannot_be_read_keeps_what_was_there(site: Site, fresh: int) -> None:
    for name, data, reason in (
        ("a.pdf", b"junk", "no PDF"),
        ("a.exe", b"x", "must be one of"),
        ("a.txt", b" ", "no text"),
    ):
        answer = site.browser.post(f"/s/{fresh}/syllabus", data={"file": (io.BytesIO(data), name), "text": ""})
        assert answer.status_code == 422
        assert reason in answer.text
    assert "Paste the grading part" in site.post(f"/s/{fresh}/syllabus", text="  ").text
    good = site.browser.post(
        f"/s/{fresh}/syllabus", data={"file": (io.BytesIO(TEXT.encode()), "a.txt")}, follow_redirects=True
    )
    assert "from a.txt" in good.text


def test_a_misread_fact_refused_keeps_what_was_typed(site: Site, fresh: int) -> None:
    form = facts_form(site.post(f"/s/{fresh}/syllabus", text=TEXT).text)
    before = kept(site, fresh).reading
    answer = site.post(f"/s/{fresh}/syllabus/facts", then="take", **{**form, "weight-0": "a lot"})
    assert answer.status_code == 422
    assert 'value="a lot"' in answer.text
    assert 'aria-invalid="true"' in answer.text
    assert kept(site, fresh).reading == before
    assert site.course(fresh).plan.categories == ()


def test_a_sentence_pointed_at_by_hand(site: Site, fresh: int) -> None:
    text = "The notebook is what matters most, the rest we will see.\nEssay 40% of your grade."
    site.post(f"/s/{fresh}/syllabus", text=text)
    start, end = 0, text.index("\n")
    form = site.browser.get(f"/s/{fresh}/syllabus/point?start={start}&end={end}").text
    assert "what matters most" in form
    wrong = site.post(
        f"/s/{fresh}/syllabus/point", start="0", end=str(end), kind="weight", named="Notebook", value="most"
    )
    assert wrong.status_code == 422
    assert 'value="most"' in wrong.text
    site.post(f"/s/{fresh}/syllabus/point", start="0", end=str(end), kind="weight", named="Notebook", value="60")
    assert {c.name: c.weight for c in kept(site, fresh).reading.categories} == {"Essay": 40, "Notebook": 60}
    assert site.browser.get(f"/s/{fresh}/syllabus/point?start=5&end=9999").status_code == 400
    assert site.browser.get(f"/s/{fresh}/syllabus/point?start=x&end=2").status_code == 400


def test_a_difference_is_mended_noted_and_signed(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    page = site.browser.get(f"/s/{hydr}/plan").text
    assert "syllabus: <strong>30%</strong>; plan: <strong>25%</strong>" in page
    assert "plan-differs" in site.browser.get(f"/s/{hydr}/audit").text
    page = site.post(f"/s/{hydr}/syllabus/follow", rule="weight:c5").text
    assert "in preview" in page
    assert "there is a preview" in site.post(f"/s/{hydr}/syllabus/sign").text.lower()
    site.post(f"/s/{hydr}/plan/apply", reason="as the syllabus says")
    assert site.course(hydr).plan.categories[4].weight == 30
    assert "agree on this by now" in site.post(f"/s/{hydr}/syllabus/follow", rule="weight:c5").text
    page = site.post(f"/s/{hydr}/syllabus/note", rule="blanks:", note="told in class, week 2").text
    assert "told in class, week 2" in page
    assert "plan-differs" not in site.browser.get(f"/s/{hydr}/audit").text
    assert site.post(f"/s/{hydr}/syllabus/note", rule="weight:c99", note="x").status_code == 404
    assert "Signed by Maren Ostrander" in site.post(f"/s/{hydr}/syllabus/sign").text
    page = site.post(f"/s/{hydr}/plan/rename-category", category="c4", name="Seminars").text
    assert "Since then the plan changed" in site.browser.get(f"/s/{hydr}/plan").text


def test_a_new_version_shows_what_changed_and_the_old_one_stays(site: Site) -> None:
    fibr = site.section("FIBR 120-01")
    old = kept(site, fibr)
    page = site.post(f"/s/{fibr}/syllabus", text=old.text.replace("25 percent", "20 percent")).text
    assert "Changed since version 1" in page
    assert "Sample book: 20%" in page
    assert kept(site, fibr).version == 2
    plan = site.browser.get(f"/s/{fibr}/plan").text
    assert "Since then the syllabus changed" in plan
    assert "plan-differs" in site.browser.get(f"/s/{fibr}/audit").text


def test_nobody_else_reaches_it(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    site.browser.post("/sign-out")
    site.sign_in("idris.vanterpool@larkmoor.example")
    for path in ("", "/point?start=0&end=5"):
        assert site.browser.get(f"/s/{hydr}/syllabus{path}").status_code == 404
    for path in ("", "/facts", "/point", "/follow", "/note", "/sign"):
        assert site.browser.post(f"/s/{hydr}/syllabus{path}", data={"text": "Essay 100%"}).status_code == 404


def test_an_imported_section_has_its_syllabus(site: Site) -> None:
    hydr = site.section("HYDR 230-01")
    file = site.browser.get(f"/s/{hydr}/files/course").data
    page = site.browser.post(
        "/sections/new", data={"file": (io.BytesIO(file), "hydr.course.json")}, follow_redirects=True
    )
    assert "2 to settle" in page.text
    assert "from the course file" in site.browser.get(page.request.path.replace("/plan", "/syllabus")).text


def test_corrections_are_saved_as_they_are_typed(site: Site, fresh: int) -> None:
    form = facts_form(site.post(f"/s/{fresh}/syllabus", text=TEXT).text)
    answer = site.post(f"/s/{fresh}/syllabus/facts/kept", **{**form, "weight-0": "20"}).text
    assert "95 of 100" in answer
    assert "Corrections saved" in answer
    assert kept(site, fresh).reading.categories[0].weight == 20
    refused = site.post(f"/s/{fresh}/syllabus/facts/kept", **{**form, "weight-0": "much"}).text
    assert "Not saved" in refused
    assert kept(site, fresh).reading.categories[0].weight == 20


def test_a_category_is_removed_or_merged_with_the_one_above(site: Site, fresh: int) -> None:
    form = facts_form(site.post(f"/s/{fresh}/syllabus", text=TEXT).text)
    names = [c.name for c in kept(site, fresh).reading.categories]
    page = site.post(f"/s/{fresh}/syllabus/facts", then="merge-1", **form).text
    merged = kept(site, fresh).reading.categories
    assert [c.name for c in merged] == [names[0], *names[2:]]
    assert merged[0].weight == 45
    page = site.post(f"/s/{fresh}/syllabus/facts", then="remove-0", **facts_form(page)).text
    assert [c.name for c in kept(site, fresh).reading.categories] == names[2:]
    first = site.post(f"/s/{fresh}/syllabus/facts", then="merge-0", **facts_form(page))
    assert first.status_code == 422
    assert site.post(f"/s/{fresh}/syllabus/facts", then="remove-39", **facts_form(page)).status_code == 422


def test_sentences_that_no_plan_holds_say_what_they_are_about(site: Site, fresh: int) -> None:
    text = TEXT + "\n\nA late paper loses 10% a day. You must pass the final to pass the course.\n"
    page = site.post(f"/s/{fresh}/syllabus", text=text).text
    assert "2 sentences about grading are not in the" in page
    for about in ("late work", "requirement"):
        assert f'<span class="tag">{about}</span>' in page
    settle = site.browser.get(f"/s/{fresh}/settle").text
    assert "The syllabus says what the plan does not hold" in settle
    assert "#sent-" in settle
    assert "“A late paper loses 10% a day.”" in settle
