"""An office of a former and of a later version: grades go out, are received, read back and posted all the same."""

import re
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import httpx
import pytest

from tests.section.conftest import NOW, House
from tests.section.delivery.test_worker import ready
from vinemark.core.base.moments import moment_of
from vinemark.office import ledger_grades
from vinemark.office.client import OfficeClient
from vinemark.section.acts.registrar import update
from vinemark.section.acts.submit import send, sign
from vinemark.section.delivery.courier import needed_courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done
from vinemark.section.snapshot import Snapshots
from vinemark.store.database import connect

ELSEWHERE = ZoneInfo("Pacific/Auckland")
OFFSET = re.compile(r"(T\d\d:\d\d:\d\d)[+-]\d\d:\d\d")


class Version(httpx.BaseTransport):
    """The office, whose answers are as those of another version."""

    def __init__(self, office: httpx.BaseTransport, said: Callable[[Any], Any]) -> None:
        self.office, self.said = office, said

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        answer = self.office.handle_request(request)
        answer.read()
        return httpx.Response(answer.status_code, json=self.said(answer.json()))


def former(value: Any) -> Any:
    """No seal of a history, no code beside a row's answer, times by the college's clock without an offset."""
    if isinstance(value, dict):
        plain = {key: former(inner) for key, inner in value.items() if key != "history_seal"}
        return {key: plain[key] for key in plain if not (key == "code" and "accepted" in plain)}
    if isinstance(value, list):
        return [former(inner) for inner in value]
    return OFFSET.sub(r"\1", value) if isinstance(value, str) else value


def later_one(value: Any) -> Any:
    """Keys that nobody knows yet at every place, and moments in another zone."""
    if isinstance(value, dict):
        return {**{key: later_one(inner) for key, inner in value.items()}, "since_2031": {"more": [1, None, "x"]}}
    if isinstance(value, list):
        return [later_one(inner) for inner in value]
    if isinstance(value, str) and OFFSET.search(value):
        return datetime.fromisoformat(value).astimezone(ELSEWHERE).isoformat()
    return value


@pytest.mark.parametrize("said", [former, later_one])
def test_grades_go_their_whole_way(house: House, said: Callable[[Any], Any]) -> None:
    there = replace(house, gateway=Gateway(OfficeClient("http://office", "token", Version(house.weather, said))))
    section = ready(there)
    assert isinstance(update(section, there.act(section), there.gateway), Done)
    section = section.fresh()
    assert isinstance(sign(section, there.act(section), reason="looked at"), Done)
    made = section.fresh().of_run.submissions[-1]
    outcome = send(section, there.act(section), there.gateway, made)
    assert isinstance(outcome, Done), outcome
    kept = section.fresh().of_run.submissions[-1]
    assert kept.state == "received"
    assert kept.receipt is not None
    assert moment_of(kept.receipt.received_at) == NOW
    assert {row.id for row in kept.receipt.rows} == {row.id for row in made.rows}
    office = connect(there.folder / "office.sqlite")
    ref = section.record.office_ref
    assert ref is not None
    ledger_grades.post(office, ref, "final", NOW + timedelta(hours=1))
    office.close()
    going = needed_courier(there.connection, there.gateway, there.act(section), section.record)
    assert isinstance(going.check_copy("final"), Done)
    fresh = replace(there, snapshots=Snapshots()).section(section.record.name.short)
    assert fresh.of_run.copy is not None
    assert set(fresh.of_run.copy.rows) >= kept.receipt.accepted_ids
    assert moment_of(str(fresh.of_run.posted_at)) == NOW + timedelta(hours=1)
