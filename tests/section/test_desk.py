"""The Desk: a lane for each run, and nothing worked out twice."""

from datetime import datetime

import pytest

from tests.section.conftest import NOW, House
from vinemark.core.audit import run as audit_run
from vinemark.core.audit.finding import Facts
from vinemark.section import snapshot
from vinemark.section.desk import desk_entry
from vinemark.section.state import state_of
from vinemark.store import sections


def test_the_final_run_comes_first_and_every_lane_has_its_marks(house: House) -> None:
    section = house.section("HYDR 230-01")
    entry = desk_entry(section)
    assert [lane.section.run for lane in entry.lanes] == ["final", "midterm"]
    for lane in entry.lanes:
        assert lane.milestones
    assert [lane.closed for lane in entry.lanes] == [False, True]


def test_each_section_is_audited_once_however_often_the_desk_is_looked_at(
    house: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    counted: list[str] = []

    def counting(facts: Facts) -> audit_run.Audit:
        counted.append(facts.course.section.short)
        return audit_run.whole_audit(facts)

    monkeypatch.setattr(snapshot, "whole_audit", counting)
    monkeypatch.setattr(snapshot, "midterm_findings", lambda facts: pytest.fail("the Desk shows none of the midterm"))
    records = sections.sections_of(house.connection, house.person)
    for _ in range(2):
        for record in records:
            desk_entry(state_of(house.connection, house.snapshots, record, NOW, house.person))
    assert counted
    assert len(counted) == len(set(counted))


def test_incompletes_that_wait_stand_on_the_desk_and_press_once_their_day_is_past(house: House) -> None:
    (waiting,) = desk_entry(house.section("HYDR 410-01")).incompletes
    assert (waiting.code, waiting.state, waiting.days_left) == ("I", "open", 133)
    assert desk_entry(house.section("HYDR 230-01")).incompletes == []
    later = desk_entry(house.section("HYDR 410-01", now=datetime(2027, 5, 2, 9, 0)))
    assert [one.state for one in later.incompletes] == ["past"]
    assert later.pressing
