"""A database knows its number, gives no id twice, and knows whom another one signs in."""

from dataclasses import replace
from pathlib import Path

import pytest

from tests.builders import TERM, category, plan
from tests.store.conftest import AT, Kept
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName
from vinemark.core.course.databases import SPAN
from vinemark.store import people, sections
from vinemark.store.database import Connection, connect, migrate
from vinemark.store.history import Act
from vinemark.store.numbered import KnownPerson, forget_person, know_person, next_section_id, number_database, number_in

MAREN = KnownPerson(41, "Maren", "maren@larkmoor.example", "2026-08-01T09:00:00-06:00")


@pytest.fixture
def empty(tmp_path: Path) -> Connection:
    connection = connect(tmp_path / "second.sqlite")
    migrate(connection)
    return connection


def make(connection: Connection, person: int) -> int:
    name = SectionName("HYDR 230", "Watershed", "01")
    return sections.create_section(connection, Act(person, AT), TERM, name, (), plan(category("10")))


def test_a_new_database_takes_its_number_once(empty: Connection) -> None:
    number_database(empty, 3)
    number_database(empty, 3)
    assert number_in(empty) == 3
    with pytest.raises(Refused, match="number 3 and in use, not number 2"):
        number_database(empty, 2)
    with pytest.raises(Refused, match="not number 0"):
        number_database(empty, 0)


def test_one_with_people_or_sections_is_taken_for_no_other(kept: Kept, empty: Connection) -> None:
    number_database(kept.connection, 0)
    people.add_person(empty, Act(None, AT), "a@b", "A", "hash")
    for connection in (kept.connection, empty):
        with pytest.raises(Refused, match="number 0 and in use"):
            number_database(connection, 1)


def test_ids_of_sections_begin_at_its_number_and_are_given_to_no_other(empty: Connection) -> None:
    number_database(empty, 2)
    know_person(empty, MAREN)
    first = make(empty, 41)
    assert first == 2 * SPAN + 1
    empty.execute("DELETE FROM section")
    assert make(empty, 41) == first + 1
    assert next_section_id(empty) == first + 2


def test_a_former_database_goes_on_after_its_last_section(kept: Kept) -> None:
    assert next_section_id(kept.connection) > kept.section


def test_a_person_is_known_as_the_home_database_has_them(empty: Connection) -> None:
    know_person(empty, MAREN)
    know_person(empty, replace(MAREN, email="m@larkmoor.example", name="Maren O."))
    row = people.by_id(empty, 41)
    assert row is not None
    assert (row["email"], row["name"], row["password_hash"]) == ("m@larkmoor.example", "Maren O.", "")
    assert not people.anybody(empty)


def test_what_is_known_already_is_not_written(empty: Connection) -> None:
    know_person(empty, MAREN)
    before = empty.total_changes
    know_person(empty, MAREN)
    assert empty.total_changes == before


def test_an_address_of_somebody_who_left_goes_to_who_has_it_now(empty: Connection) -> None:
    know_person(empty, replace(MAREN, email="office@larkmoor.example"))
    know_person(empty, KnownPerson(42, "Tove", "Office@larkmoor.example", "2026-10-01T00:00:00-06:00"))
    found = {row["id"]: (row["email"], row["name"]) for row in empty.execute("SELECT * FROM person")}
    assert found == {41: ("deleted account 41", "Maren"), 42: ("Office@larkmoor.example", "Tove")}
    forget_person(empty, 42)
    assert people.by_email(empty, "office@larkmoor.example") is None


def test_a_number_that_was_given_again_opens_nothing(empty: Connection) -> None:
    know_person(empty, MAREN)
    other = replace(MAREN, email="new@larkmoor.example", name="Somebody new", since="2026-09-09T09:00:00-06:00")
    with pytest.raises(Refused, match="number 41, which is another's"):
        know_person(empty, other)
    row = people.by_id(empty, 41)
    assert row is not None
    assert row["name"] == "Maren"
