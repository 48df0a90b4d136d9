"""Acts that bring a section in line with the registrar."""

import sqlite3
from contextlib import closing

import pytest

from tests.section.conftest import House
from vinemark.core.base.refused import Refused
from vinemark.section.acts.registrar import follow_roster, link, refresh, update
from vinemark.section.outcome import Conflict, Done
from vinemark.store import registrar

SHORT, REF, EMAIL = "FIBR 120-01", "2026FA-FIBR120-01", "maren.ostrander@larkmoor.example"


def at_the_office(house: House, query: str) -> None:
    with closing(sqlite3.connect(house.folder / "office.sqlite")) as connection, connection:
        connection.execute(query, {"ref": REF})


def text(outcome: object) -> str:
    assert isinstance(outcome, Done)
    return outcome.text


def test_what_changed_on_the_roster_is_counted(house: House) -> None:
    section = house.section(SHORT)
    assert (
        text(update(section, house.act(section), house.gateway))
        == "Updated: 14 people on the registrar’s roster; nothing changed."
    )
    drop = "UPDATE roster SET status = 'withdrawn' WHERE section = :ref AND place = {}"
    at_the_office(house, drop.format(0))
    assert text(update(section, house.act(section), house.gateway)).endswith("1 change since is shown below.")
    at_the_office(house, drop.format(1))
    assert text(update(section, house.act(section), house.gateway)).endswith("2 changes since are shown below.")
    followed = follow_roster(section, house.act(section))
    assert text(followed).startswith("Roster changes applied: ")
    assert text(follow_roster(section, house.act(section))) == "The section agrees with the roster already."


@pytest.mark.parametrize("weather", ["down", "lost"])
def test_without_an_answer_nothing_changes(house: House, weather: str) -> None:
    section = house.section(SHORT)
    before = section.snapshot.version
    house.weather.now = weather
    told = update(section, house.act(section), house.gateway)
    assert isinstance(told, Done)
    assert told.trouble
    assert told.text.startswith("The registrar did not answer: ")
    assert section.fresh().snapshot.version == before
    quiet = refresh(section, house.act(section), house.gateway)
    assert text(quiet) == "The registrar does not answer now. This page shows what it said last time."


def test_a_section_there_belongs_to_one_here(house: House) -> None:
    section = house.section(SHORT)
    assert "FIBR 120-01 here is linked" not in text(link(section, house.act(section), house.gateway, EMAIL))
    house.connection.execute("UPDATE office_records SET office_ref = ? WHERE office_ref <> ?", (REF, REF))
    house.connection.execute("UPDATE office_records SET office_ref = NULL WHERE section_id = ?", (section.id,))
    house.connection.execute("UPDATE office_ref SET ref = ? WHERE section_id <> ?", (REF, section.id))
    house.connection.execute("DELETE FROM office_ref WHERE section_id = ?", (section.id,))
    told = link(section, house.act(section), house.gateway, EMAIL)
    assert isinstance(told, Done)
    assert told.trouble
    assert "here is linked to this section of the registrar already" in told.text
    assert registrar.hours_of(house.connection, section.id) is not None


def test_one_that_is_not_linked_cannot_be_updated(house: House) -> None:
    section = house.section(SHORT)
    house.connection.execute("UPDATE office_records SET office_ref = NULL WHERE section_id = ?", (section.id,))
    again = house.section(SHORT)
    for outcome in (update(again, house.act(again), house.gateway), refresh(again, house.act(again), house.gateway)):
        assert isinstance(outcome, Refused)
        assert not isinstance(outcome, Conflict)
