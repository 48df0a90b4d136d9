"""A person's section in this moment."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.section.conftest import NOW, House
from vinemark.section.state import STALE_AFTER, open_section


def test_anothers_section_is_not_there(house: House) -> None:
    section = house.section("HYDR 230-01")
    assert open_section(house.connection, house.snapshots, house.person + 1, section.id, NOW) is None
    assert open_section(house.connection, house.snapshots, house.person, 10**6, NOW) is None


def test_a_run_is_carried_by_addresses_but_for_the_final_one(house: House) -> None:
    section = house.section("HYDR 230-01")
    assert (section.run_arg, section.at("midterm").run_arg) == (None, "midterm")
    assert section.at("midterm").of_run is not section.of_run
    assert section.at("midterm").window_due != section.window_due


@pytest.mark.parametrize(("ago", "stale"), [(STALE_AFTER, False), (STALE_AFTER + timedelta(seconds=1), True)])
def test_the_registrar_is_asked_again_after_a_while_by_the_instructor_alone(
    house: House, ago: timedelta, stale: bool
) -> None:
    section = house.section("HYDR 230-01")
    record = replace(section.record, pulled_at=NOW - ago)
    assert replace(section, record=record).registrar_stale is stale
    assert not replace(section, record=replace(record, role="reviewer")).registrar_stale
    assert not replace(section, record=replace(record, archive="a.zip")).registrar_stale
    assert replace(section, record=replace(record, pulled_at=None)).registrar_stale


def test_what_the_registrar_has_is_not_asked_for_before_there_is_anything(house: House) -> None:
    section = house.section("HYDR 230-01")
    assert section.registrar_asked_at is None
    assert not section.copy_stale
