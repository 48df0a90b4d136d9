"""Signing: what is frozen, and that nothing is signed twice."""

import json

from tests.section.conftest import House
from tests.section.delivery.test_worker import ready
from vinemark.core.base.refused import Refused
from vinemark.section.acts.submit import frozen_findings, send, sign, withdraw_signature
from vinemark.section.outcome import Conflict, Done
from vinemark.section.submit_state import SubmitState
from vinemark.store import submissions


def test_signed_twice_from_two_windows_it_is_signed_once(house: House) -> None:
    section = ready(house)
    count = len(section.of_run.submissions)
    assert isinstance(sign(section, house.act(section)), Done)
    assert isinstance(sign(section, house.act(section)), Refused)
    assert len(section.fresh().of_run.submissions) == count + 1


def test_what_the_signer_saw_is_what_is_frozen(house: House) -> None:
    section = ready(house)
    expected = frozen_findings(section)
    rows = SubmitState(section).submittable
    sign(section, house.act(section))
    made = section.fresh().of_run.submissions[-1]
    assert list(made.rows) == list(rows)
    text = submissions.signed_text(house.connection, section.id, made.id)
    assert text is not None
    assert text.endswith(expected)


def test_a_midterm_signature_freezes_the_midterms_findings(house: House) -> None:
    section = house.section("HYDR 230-01", "midterm")
    final = house.section("HYDR 230-01")
    frozen = json.loads(frozen_findings(section))
    assert [f["message"] for f in frozen["findings"]] == [f.message for f in section.of_run.findings]
    assert set(frozen["let_stand"]) <= {f.key for f in section.of_run.findings}
    assert frozen["findings"] != json.loads(frozen_findings(final))["findings"]


def test_a_signature_is_withdrawn_until_it_went_out(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section))
    made = section.fresh().of_run.submissions[-1]
    assert isinstance(withdraw_signature(section, house.act(section), made.id), Done)
    sign(section, house.act(section))
    sent = section.fresh().of_run.submissions[-1]
    assert sent.key != made.key
    house.weather.now = "lost"
    send(section, house.act(section), house.gateway, sent)
    assert isinstance(withdraw_signature(section, house.act(section), sent.id), Conflict)


def test_sent_again_after_a_lost_answer_the_office_has_it_once(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section))
    made = section.fresh().of_run.submissions[-1]
    house.weather.now = "lost"
    send(section, house.act(section), house.gateway, made)
    assert section.fresh().of_run.submissions[-1].state == "waiting"
    house.weather.now = "fine"
    send(section, house.act(section), house.gateway, section.fresh().of_run.submissions[-1])
    received = section.fresh().of_run.submissions[-1]
    assert received.state == "received"
    assert received.receipt is not None
    assert received.receipt.digest == made.digest
    assert send(section, house.act(section), house.gateway, received) == Done()
