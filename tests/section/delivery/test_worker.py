"""Going round: one process at a time, everything that waits, and nothing twice."""

from datetime import date, time, timedelta

import pytest

from tests.section.conftest import NOW, House
from vinemark.clock import Clock
from vinemark.section.acts.submit import sign
from vinemark.section.delivery.worker import Worker
from vinemark.section.outcome import Done
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.store import leases, sections, submissions

LATER = time(10, 40)


def worker(house: House, at: time = LATER, seconds: int = 20) -> Worker:
    return Worker(str(house.folder / "vinemark.sqlite"), Clock(date(2026, 12, 19), at), seconds, house.gateway)


def ready(house: House) -> SectionState:
    """A section of the demo that has something to sign."""
    for record in sections.sections_of(house.connection, house.person):
        section = house.section(record.name.short)
        if record.role == "instructor" and section.linked and SubmitState(section).submittable:
            return section
    raise AssertionError("the demo has nothing to sign")


def ready_section(house: House) -> int:
    """The section that has something under way."""
    row = house.connection.execute(
        "SELECT g.section_id FROM sending d JOIN signing g ON g.id = d.signing_id WHERE d.state = 'waiting'"
    ).fetchone()
    return int(row["section_id"])


def waiting(house: House) -> int:
    section = ready(house)
    assert isinstance(sign(section, house.act(section), reason="looked at"), Done)
    (made,) = [s for s in section.fresh().of_run.submissions if s.under_way]
    submissions.note_submission_waiting(
        house.connection, house.act(section), made.id, "the registrar is down", None, True
    )
    return made.id


def state(house: House, made: int) -> str:
    return str(house.connection.execute("SELECT state FROM sending WHERE id = ?", (made,)).fetchone()["state"])


def test_what_waits_goes_out_under_its_key_and_only_once(house: House) -> None:
    made = waiting(house)
    assert worker(house).go_round()
    assert state(house, made) == "received"
    assert worker(house).go_round() == []


def test_with_the_office_down_it_waits_and_is_not_tried_again_at_once(
    house: House, caplog: pytest.LogCaptureFixture
) -> None:
    made = waiting(house)
    house.weather.now = "down"
    one = worker(house)
    assert one.go_round()
    key = house.connection.execute("SELECT key FROM sending WHERE id = ?", (made,)).fetchone()["key"]
    told = [record.getMessage() for record in caplog.records if record.name == "vinemark.delivery"]
    assert told == [f"section {ready_section(house)}, submission {key}: not confirmed: it could not be reached"]
    assert state(house, made) == "waiting"
    assert one.go_round() == []
    house.weather.now = "fine"
    assert worker(house, time(10, 50)).go_round()
    assert state(house, made) == "received"


def test_where_another_process_holds_the_lease_nothing_is_done(house: House) -> None:
    made = waiting(house)
    later = NOW.replace(hour=LATER.hour, minute=LATER.minute)
    assert leases.hold(house.connection, Worker.LEASE, "another", later, later + timedelta(minutes=2))
    assert worker(house).go_round() == []
    assert state(house, made) == "waiting"
    assert worker(house, time(10, 43)).go_round()
    assert state(house, made) == "received"


def test_the_lease_is_given_back_after_a_round_even_one_that_failed(house: House) -> None:
    waiting(house)
    one = worker(house)
    one.go_round()
    later = NOW.replace(hour=LATER.hour, minute=LATER.minute)
    assert leases.hold(house.connection, Worker.LEASE, "another", later, later + timedelta(minutes=2))
