"""The one way to the registrar: every answer is one of a few plain kinds."""

from dataclasses import replace

import pytest

from tests.section.conftest import NOW, Answers, House
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt
from vinemark.core.submit.submission import Submission
from vinemark.office.client import OfficeClient
from vinemark.section.delivery.gateway import SEATS, Busy, Gateway, Unanswered

ROWS = [GradeRow("L1", "A")]
WANTED = Submission(1, 1, "k", "final", ROWS, digest(ROWS), "signed", None, None, NOW, "Maren", "m@x", "", None, False)
RECEIPT = {"number": "R-1", "received_at": "2026-12-19T10:21:00", "accepted": 1, "refused": 0, "digest": digest(ROWS),
           "rows": [{"id": "L1", "code": "A", "accepted": True}]}  # fmt: skip


def gateway(status: int, body: object) -> Gateway:
    return Gateway(OfficeClient("http://office", "token", Answers(status, body)))


def test_a_receipt_of_these_rows_is_an_answer() -> None:
    found = gateway(200, RECEIPT).submit("ref", WANTED)
    assert isinstance(found, Receipt)
    assert found.number == "R-1"


@pytest.mark.parametrize(
    "body",
    [
        {**RECEIPT, "digest": "of other rows"},
        {**RECEIPT, "accepted": 2},
        {"number": "R-1"},
        [],
        b"<html>a proxy's page</html>",
        b"",
    ],
)
def test_whatever_else_comes_with_200_is_no_answer_and_the_sending_waits(body: object) -> None:
    assert isinstance(gateway(200, body).submit("ref", WANTED), Unanswered)


@pytest.mark.parametrize("status", [500, 502, 503, 302])
def test_trouble_at_the_office_is_no_answer(status: int) -> None:
    assert isinstance(gateway(status, b"").submit("ref", WANTED), Unanswered | Busy)


def test_down_and_lost_are_no_answers_and_a_refusal_says_why(house: House) -> None:
    for weather in ("down", "lost"):
        house.weather.now = weather
        assert isinstance(house.gateway.for_instructor("maren.ostrander@larkmoor.example").sections(), Unanswered)
    house.weather.now = "fine"
    assert isinstance(house.gateway.for_instructor("maren.ostrander@larkmoor.example").sections(), list)
    refused = house.gateway.roster("no-such-section")
    assert isinstance(refused, Unanswered)
    assert refused.reason == "it answered 404: there is no such section of this instructor"


def test_strict_readers_stand_behind_every_call() -> None:
    odd = gateway(200, {"what": "is this"})
    answers = [odd.sections(), odd.roster("r"), odd.held("r", "final"), odd.ask_change("r", "k" * 16, "m", {})]
    assert {type(answer) for answer in answers} == {Unanswered}


def test_so_many_wait_at_once_and_the_worker_has_its_own_seat() -> None:
    busy = gateway(200, RECEIPT)
    for _ in range(SEATS):
        assert busy.seats.acquire(blocking=False)
    assert busy.submit("ref", WANTED) == Unanswered("others are waiting for its answers just now", reached=False)
    assert isinstance(busy.of_worker().submit("ref", WANTED), Receipt)
    busy.seats.release()
    assert isinstance(busy.submit("ref", WANTED), Receipt)
    assert isinstance(busy.submit("ref", WANTED), Receipt), "a seat is free again after each answer"


def test_it_is_silent_until_it_answers() -> None:
    down, up = gateway(503, b""), gateway(200, RECEIPT)
    assert not down.silent
    down.submit("ref", WANTED)
    assert down.silent
    replace(up, silence=down.silence).submit("ref", WANTED)
    assert not down.silent
