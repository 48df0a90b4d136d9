"""A section's errands: each answer of the registrar leaves the one state it should."""

from datetime import datetime
from typing import Any

import pytest

from tests.section.conftest import NOW, Answers, House
from tests.section.delivery.test_worker import ready
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.submission import Submission
from vinemark.office.client import OfficeClient
from vinemark.section.acts.submit import sign
from vinemark.section.delivery.courier import Courier, courier_of
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Conflict, Done
from vinemark.store import grade_changes, history, submissions


def signed(house: House) -> tuple[Submission, Any]:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    return section.fresh().of_run.submissions[-1], section


def courier(house: House, section: Any, status: int, body: object, now: datetime = NOW) -> Courier:
    gateway = Gateway(OfficeClient("http://office", "token", Answers(status, body)))
    found = courier_of(house.connection, gateway, house.act(section, now=now), section.record)
    assert found is not None
    return found


def kept(house: House, made: Submission) -> Submission:
    found = submissions.submission_of(house.connection, made.section_id, made.id)
    assert found is not None
    return found


def test_a_wholly_refused_submission_is_recorded_with_its_reason_and_is_over(house: House) -> None:
    made, section = signed(house)
    outcome = courier(house, section, 409, {"error": "the run is closed", "key": made.key}).deliver(made)
    assert isinstance(outcome, Done)
    assert outcome.trouble
    assert "did not accept the submission" in outcome.text
    now = kept(house, made)
    assert (now.state, now.under_way) == ("refused", False)
    assert now.trouble
    assert section.fresh().of_run.submissions[-1].state == "refused"
    assert "refused" in history.entries_of(house.connection, section.id)[0]["what"]
    assert isinstance(courier(house, section, 200, {}).deliver(now), Conflict)


@pytest.mark.parametrize(("status", "body"), [(500, b""), (200, b"<html>"), (200, {})])
def test_without_an_answer_it_waits_under_its_key(house: House, status: int, body: object) -> None:
    made, section = signed(house)
    outcome = courier(house, section, status, body).deliver(made)
    assert isinstance(outcome, Done)
    assert outcome.trouble
    assert "What you signed is kept" in outcome.text
    now = kept(house, made)
    assert (now.state, now.key) == ("waiting", made.key)


def test_inside_a_transfer_it_waits_with_a_time_and_nothing_goes_out(house: House) -> None:
    made, section = signed(house)
    noon = NOW.replace(hour=12, minute=5)
    outcome = courier(house, section, 200, b"must not be asked", noon).deliver(made)
    assert isinstance(outcome, Done)
    assert not outcome.trouble
    now = kept(house, made)
    assert (now.state, now.send_after) == ("waiting", NOW.replace(hour=12, minute=20))


def test_a_copy_that_cannot_be_read_says_so_and_keeps_the_old_one(house: House) -> None:
    section = ready(house)
    before = section.of_run.copy
    outcome = courier(house, section, 200, {"rows": "none"}).check_copy("final")
    assert isinstance(outcome, Done)
    assert outcome.trouble
    assert section.fresh().of_run.copy == before


def test_nobody_goes_for_a_reviewer_or_for_a_section_that_is_not_linked(house: House) -> None:
    section = ready(house)
    for changed in ({"role": "reviewer"}, {"office_ref": None}, {"archive": "a.zip"}):
        record = type(section.record)(**{**vars(section.record), **changed})
        assert courier_of(house.connection, house.gateway, house.act(section), record) is None
    assert courier_of(house.connection, house.gateway, house.act(section), None) is None


def asked(house: House) -> tuple[GradeChange, Any]:
    section = house.section("HYDR 410-01")
    student = section.course.enrolled()[0]
    row = GradeRow(student.id, "A")
    change = GradeChange(0, "k", student.id, row, GradeRow(student.id, "B"), Settled("B", "regraded"), "regraded",
                         "the exam", None, "Maren", NOW, "waiting")  # fmt: skip
    made = grade_changes.write_request(house.connection, house.act(section), change, "maren@x", None, "asked")
    found = grade_changes.change_of(house.connection, section.id, made)
    assert found is not None
    return found, section


@pytest.mark.parametrize(
    ("status", "body", "state", "words"),
    [
        (500, b"", "waiting", "did not confirm"),
        (200, {}, "waiting", "did not confirm"),
        (409, {"error": "nothing is held"}, "waiting", "did not confirm"),
        (409, {"error": "nothing is held", "key": "k"}, "not taken", "did not accept the request"),
    ],
)
def test_a_change_that_is_not_taken_is_said_and_one_without_an_answer_waits(
    house: House, status: int, body: object, state: str, words: str
) -> None:
    change, section = asked(house)
    outcome = courier(house, section, status, body).ask(change)
    assert isinstance(outcome, Done)
    assert outcome.trouble
    assert words in outcome.text
    found = grade_changes.change_of(house.connection, section.id, change.id)
    assert found is not None
    assert (found.state, bool(found.trouble)) == (state, True)
