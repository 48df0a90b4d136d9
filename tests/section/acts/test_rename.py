"""A section renamed and put away: its grades stay, its history tells, a wrong name is refused at its field."""

import pytest

from tests.section.conftest import House
from vinemark.core.base.refused import Refused
from vinemark.section.acts.rename import put_away, rename
from vinemark.section.outcome import Done
from vinemark.store import history, sections


def test_another_name_changes_nothing_else(house: House) -> None:
    section = house.section("HYDR 230-01")
    grades = {student: grade.percent for student, grade in section.grades_now.items()}
    outcome = rename(section, house.act(section), "HYDR 231", " Field  Methods ", "02")
    assert isinstance(outcome, Done)
    after = house.section("HYDR 231-02")
    assert (after.name.title, after.course.section.short) == ("Field Methods", "HYDR 231-02")
    assert {student: grade.percent for student, grade in after.grades_now.items()} == grades
    assert "HYDR 230-01" in history.entries_of(house.connection, section.id)[0]["what"]


@pytest.mark.parametrize(("course", "title", "field"), [("", "Methods", "course"), ("H", "t" * 121, "title")])
def test_a_name_that_is_none_is_refused_at_its_field(house: House, course: str, title: str, field: str) -> None:
    section = house.section("HYDR 230-01")
    outcome = rename(section, house.act(section), course, title, "01")
    assert isinstance(outcome, Refused)
    assert outcome.field == field
    assert house.section("HYDR 230-01").name == section.name


def test_a_title_may_be_left_out(house: House) -> None:
    section = house.section("HYDR 230-01")
    assert rename(section, house.act(section), "HYDR 230", " ", "01") == Done("Renamed: HYDR 230-01.")
    assert house.section("HYDR 230-01").name.title == ""


def test_the_same_name_writes_nothing(house: House) -> None:
    section = house.section("HYDR 230-01")
    before = history.last_entry(house.connection, section.id)
    rename(section, house.act(section), section.name.course, section.name.title, section.name.number)
    assert history.last_entry(house.connection, section.id) == before


def test_put_away_and_back(house: House) -> None:
    section = house.section("HYDR 230-01")
    for away in (True, False):
        put_away(section, house.act(section), away)
        record = sections.section_of(house.connection, house.person, section.id)
        assert record is not None
        assert record.put_away is away
