"""New sections: from the registrar, from a file, and linked once they are made."""

import pytest

from tests.section.conftest import NOW, Answers, House
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName
from vinemark.exchange import course_file
from vinemark.office.client import OfficeClient
from vinemark.section.acts.create import create_from_file, create_from_registrar, link_new
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done
from vinemark.store import sections
from vinemark.store.history import Act

EMAIL = "maren.ostrander@larkmoor.example"


def count(house: House) -> int:
    return len(sections.sections_of(house.connection, house.person))


def test_a_section_with_the_roster_of_the_registrar(house: House) -> None:
    before = count(house)
    act = Act(house.person, NOW)
    second = create_from_registrar(house.choose, act, house.gateway, EMAIL, "2026FA-FIBR120-01")
    assert isinstance(second, Refused)
    assert second.reason == "FIBR 120-01 here is linked to this section of the registrar already"
    house.connection.execute("UPDATE office_records SET office_ref = NULL WHERE office_ref = '2026FA-FIBR120-01'")
    house.connection.execute("DELETE FROM office_ref WHERE ref = '2026FA-FIBR120-01'")
    made = create_from_registrar(house.choose, act, house.gateway, EMAIL, "2026FA-FIBR120-01")
    assert isinstance(made, Done)
    assert made.entry is not None
    record = sections.section_of(house.connection, house.person, made.entry)
    assert record is not None
    assert (record.office_ref, record.students) == ("2026FA-FIBR120-01", 14)
    assert isinstance(create_from_registrar(house.choose, act, house.gateway, EMAIL, "no-such"), Refused)
    assert isinstance(create_from_registrar(house.choose, act, house.gateway, "x@y", "2026FA-FIBR120-01"), Refused)
    assert count(house) == before + 1


def test_with_the_office_down_nothing_is_made_and_it_is_said(house: House) -> None:
    before = count(house)
    house.weather.now = "down"
    made = create_from_registrar(
        lambda *_: house.connection, Act(house.person, NOW), house.gateway, EMAIL, "2026FA-FIBR120-01"
    )
    assert isinstance(made, Done | Refused)
    assert not isinstance(made, Done) or made.trouble
    assert count(house) == before


@pytest.mark.parametrize("body", [b"", {"sections": []}, []])
def test_a_new_section_that_cannot_be_linked_says_so(house: House, body: object) -> None:
    section = house.section("HYDR 230-01")
    gateway = Gateway(OfficeClient("http://office", "token", Answers(200, body)))
    found = link_new(
        house.connection, house.act(section), gateway, EMAIL, SectionName("NONE 1", "None", "1"), section.term
    )
    assert found.trouble
    assert found.text


def test_a_section_is_linked_by_its_name_and_term(house: House) -> None:
    section = house.section("HYDR 230-01")
    found = link_new(house.connection, house.act(section), house.gateway, EMAIL, section.name, section.term)
    assert (found.trouble, found.text.startswith("Linked to the registrar’s section: ")) == (False, True)


def test_a_course_file_makes_a_section_and_what_is_none_makes_nothing(house: House) -> None:
    text = course_file.course_text(house.section("HYDR 230-01").course).encode()
    made = create_from_file(house.choose, Act(house.person, NOW), "back.json", text)
    assert isinstance(made, Done)
    assert made.text == "HYDR 230-01 imported from back.json."
    before = count(house)
    for data in (b"", b"{}", b"PK\x03\x04 broken", text[:500]):
        assert isinstance(create_from_file(house.choose, Act(house.person, NOW), "bad", data), Refused)
    assert count(house) == before
