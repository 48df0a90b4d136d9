"""A further roster of the registrar's is looked at, added where a section is cross-listed, and taken away again."""

from tests.web.conftest import Site

REF = "2026FA-HYDR331-01"
"""A section that the registrar has for the same instructor, with people who are in no other."""


def test_a_roster_is_looked_at_added_and_removed(site: Site) -> None:
    section = site.section("HYDR 230-01")
    students = site.course(section).students
    page = site.browser.get(f"/s/{section}/rosters").text
    assert "1 roster of the registrar’s" in page
    assert "HYDR 331-01" in page
    looked = site.browser.get(f"/s/{section}/rosters?ref={REF}").text
    assert "0 people of it in the class here already; 12 not" in looked
    assert "1 roster of the registrar’s" in site.browser.get(f"/s/{section}/rosters").text
    added = site.post(f"/s/{section}/rosters", ref=REF).text
    assert "HYDR 331-01 added" in added
    assert "2 rosters of the registrar’s" in added
    assert "At the registrar, and not added here" not in site.browser.get("/sections/unadded").text
    settle = site.browser.get(f"/s/{section}/settle").text
    assert settle.count("Add to the section") == 13
    removed = site.post(f"/s/{section}/rosters/remove", ref=REF).text
    assert "The roster was removed" in removed
    assert site.course(section).students == students


def test_what_is_wrong_is_said_and_changes_nothing(site: Site) -> None:
    section = site.section("HYDR 230-01")
    for ref in ("", "nothing", "2026FA-HYDR230-01", "2026FA-BOTN105-02"):
        page = site.post(f"/s/{section}/rosters", ref=ref)
        assert page.status_code == 422, ref
        assert "1 roster of the registrar’s" in page.text
    site.weather.now = "down"
    assert "did not answer" in site.post(f"/s/{section}/rosters", ref=REF).text
    site.weather.now = "fine"
    assert "1 roster of the registrar’s" in site.browser.get(f"/s/{section}/rosters").text
