"""The registrar misbehaves in thirty ways; each ends in a true sentence, and nothing is believed that was not seen."""

import json
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

import httpx
import pytest

from tests.section.conftest import House
from tests.section.delivery.test_worker import ready
from vinemark.core.submit.grade_row import row_values
from vinemark.core.submit.submission import Submission
from vinemark.office import client as office_client
from vinemark.office.client import OfficeClient
from vinemark.section.acts.submit import sign
from vinemark.section.delivery.courier import courier_of
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.store import history, submissions

Answer = Callable[[dict[str, Any]], httpx.Response]


def receipt_of(sent: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """A receipt that is right, but for the changes."""
    rows = [{"id": row["id"], "code": row["code"], "accepted": True, "reason": None} for row in sent["rows"]]
    whole = {"number": "R-7", "received_at": "2026-12-19T10:21:00", "accepted": len(rows), "refused": 0,
             "digest": sent["digest"], "rows": rows}  # fmt: skip
    return {**whole, **changes}


def says(**changes: Any) -> Answer:
    return lambda sent: httpx.Response(200, json=receipt_of(sent, **changes))


def lacks(key: str) -> Answer:
    return lambda sent: httpx.Response(200, json={k: v for k, v in receipt_of(sent).items() if k != key})


def status(code: int, **body: Any) -> Answer:
    return lambda sent: httpx.Response(code, json=body)


def raw(data: bytes, code: int = 200, **headers: str) -> Answer:
    return lambda sent: httpx.Response(code, content=data, headers=headers)


def rows(change: Callable[[list[dict[str, Any]]], Any]) -> Answer:
    return lambda sent: httpx.Response(200, json=receipt_of(sent, rows=change(receipt_of(sent)["rows"])))


def raises(error: Exception) -> Answer:
    def answer(_: dict[str, Any]) -> httpx.Response:
        raise error

    return answer


class Trickle(httpx.SyncByteStream):
    """A byte now and then, for ever."""

    def __iter__(self) -> Iterator[bytes]:
        while True:
            time.sleep(0.02)
            yield b" "


LATE = "it did not answer within"
UNREAD = "its answer could not be read"
OTHER = "its receipt is for other rows"
UNANSWERED: list[tuple[str, Answer, str]] = [
    ("it cannot be reached", raises(httpx.ConnectError("x")), "it could not be reached"),
    ("it breaks off", raises(httpx.RemoteProtocolError("x")), "the connection broke before it answered"),
    ("it says nothing", raises(httpx.ReadTimeout("x")), LATE),
    ("it trickles", lambda _: httpx.Response(200, stream=Trickle()), LATE),
    ("an error", status(500), "it answered 500"),
    ("an error of something between", raw(b"<h1>Bad gateway</h1>", 502), "it answered 502"),
    ("another sign-in", status(401, error="sign in"), "it answered 401: sign in"),
    ("forbidden by something between", raw(b"<h1>Forbidden</h1>", 403), "it answered 403"),
    ("nothing at that address", status(404, error="no such page"), "it answered 404: no such page"),
    ("too slow for something between", status(408), "it answered 408"),
    ("busy without a time", status(423, error="locked"), f"{UNREAD} (until)"),
    ("busy until a word", status(423, error="locked", until="soon"), f"{UNREAD} (until)"),
    ("too many", status(429, error="slow down", key="another"), "it answered 429: slow down"),
    ("a refusal of another key", status(409, error="closed", key="another-key-of-them"), "it answered 409: closed"),
    ("a refusal of no key", status(409, error="closed"), "it answered 409: closed"),
    ("a refusal in ten million signs", raw(b"x" * 10_000_000, 409), "its answer is too large to be read"),
    ("a redirect", raw(b"", 302, Location="/sign-in"), UNREAD),
    ("a page", raw(b"<!doctype html><title>Welcome</title>"), UNREAD),
    ("nothing at all", raw(b""), UNREAD),
    ("half of it", lambda sent: httpx.Response(200, content=json.dumps(receipt_of(sent))[:90]), UNREAD),
    ("nested without end", raw(b"[" * 200_000), UNREAD),
    ("packed", raw(b"x", 200, **{"Content-Encoding": "gzip"}), "its answer is packed and could not be read"),
    ("no signs", raw(b"\xff\xfe\x00"), UNREAD),
    ("a list", lambda _: httpx.Response(200, json=[]), UNREAD),
    ("null", raw(b"null"), UNREAD),
    ("no number", lacks("number"), f"{UNREAD} (receipt.number: is missing)"),
    ("a number of two lines", says(number="R-7\nR-8"), f"{UNREAD} (receipt.number: must be one line"),
    ("a number that is a number", says(number=7), f"{UNREAD} (receipt.number: must be a text)"),
    ("no time", says(received_at="now"), f"{UNREAD} (receipt.received_at: must be a date with a time)"),
    ("null for the rows", says(rows=None), f"{UNREAD} (receipt.rows: must be a list)"),
    ("a count as text", says(accepted="32"), f"{UNREAD} (receipt.accepted: must be a whole number"),
    ("counts that do not agree", says(refused=3), f"{UNREAD} (receipt.accepted: does not agree with the rows)"),
    ("a student twice", rows(lambda found: [*found[1:], found[1]]), "is there twice"),
    ("another digest", says(digest="0" * 64), OTHER),
    ("other students", rows(lambda found: [{**found[0], "id": "X"}, *found[1:]]), OTHER),
    ("other codes", rows(lambda found: [{**found[0], "code": "Q"}, *found[1:]]), "its receipt names other codes"),
    ("half of a sign", lambda sent: httpx.Response(200, content=json.dumps(receipt_of(sent, number="\ud800"))), UNREAD),
]


class Registrar(httpx.BaseTransport):
    """Answers one sending as it is told, and tells what it has."""

    def __init__(self, answer: Answer, held: Callable[[], list[dict[str, Any]]] = list) -> None:
        self.answer, self.held = answer, held

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        if request.method == "POST":
            return self.answer(json.loads(request.content))
        return httpx.Response(200, json={"grades": self.held(), "posted_at": None, "fell_back": [], "changes": []})


def signed(house: House) -> tuple[SectionState, Submission]:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    return section.fresh(), section.fresh().of_run.submissions[-1]


def deliver(house: House, section: SectionState, made: Submission, answer: Answer, **held: Any) -> Done:
    gateway = Gateway(OfficeClient("http://office", "token", Registrar(answer, **held)))
    going = courier_of(house.connection, gateway, house.act(section), section.record)
    assert going is not None
    outcome = going.deliver(made)
    assert isinstance(outcome, Done)
    return outcome


@pytest.mark.parametrize(("answer", "words"), [case[1:] for case in UNANSWERED], ids=[case[0] for case in UNANSWERED])
def test_whatever_is_no_answer_leaves_it_open(
    house: House, answer: Answer, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    section, made = signed(house)
    # Short for the one that never ends, and for nothing else: a busy machine may be slow with an answer that comes.
    with monkeypatch.context() as soon:
        if words == LATE:
            soon.setattr(office_client, "DEADLINE_SECONDS", 0.3)
        outcome = deliver(house, section, made, answer)
    assert outcome.trouble
    assert outcome.text.startswith("The registrar did not confirm: ")
    assert words in outcome.text
    assert len(outcome.text) < 700
    now = section.fresh()
    state = SubmitState(now)
    assert state.under_way is not None
    assert (state.under_way.state, state.under_way.unconfirmed) == ("waiting", "could not be reached" not in words)
    assert state.count("received") == state.count("answered") == 0
    assert now.snapshot.stem.nodes[4].words == "nothing sent yet"
    assert [e for e in history.entries_of(house.connection, section.id) if "not delivered" in e["what"]]
    # Then it answers as it should: the same key, one receipt.
    sent = [row_values(row) for row in made.rows]
    deliver(house, now, state.under_way, says(), held=lambda: sent)
    done = SubmitState(section.fresh())
    assert done.under_way is None
    assert done.count("received") == len(made.rows)


def test_a_verdict_on_this_key_is_one(house: House) -> None:
    section, made = signed(house)
    deliver(house, section, made, status(503))
    outcome = deliver(house, section, made, status(409, error="the run\nis closed", key=made.key))
    assert outcome.text == "The registrar did not accept the submission: the run is closed."
    found = submissions.submission_of(house.connection, section.id, made.id)
    assert found is not None
    assert (found.state, found.trouble) == ("refused", "the run is closed")


def test_busy_does_not_settle_what_an_earlier_attempt_left_open(house: House) -> None:
    section, made = signed(house)
    busy = status(423, error="a transfer runs", until="2026-12-19T23:59:00")
    deliver(house, section, made, busy)
    first = submissions.submission_of(house.connection, section.id, made.id)
    assert first is not None
    assert (first.unconfirmed, first.may_be_withdrawn) == (False, True)
    deliver(house, section, first, status(504))
    deliver(house, section, first, busy)
    second = submissions.submission_of(house.connection, section.id, made.id)
    assert second is not None
    assert (second.unconfirmed, second.may_be_withdrawn) == (True, False)


HELD: list[tuple[str, Callable[[list[dict[str, Any]]], list[dict[str, Any]]], int]] = [
    ("it has nothing", lambda rows: [], 32),
    ("it has yesterday's", lambda rows: rows[:10], 22),
    ("one row is another", lambda rows: [{**rows[0], "code": "W"}, *rows[1:]], 1),
    ("a date is another", lambda rows: [{**rows[0], "last_attended": "2026-11-01"}, *rows[1:]], 1),
    ("somebody is there whom nobody sent", lambda rows: [*rows, {"id": "Z1", "code": "A"}], 1),
    ("all rows are another section's", lambda rows: [{**row, "code": "A+"} for row in rows], 32),
]


@pytest.mark.parametrize(("change", "least"), [case[1:] for case in HELD], ids=[case[0] for case in HELD])
def test_a_receipt_is_not_believed_over_what_is_there(
    house: House, change: Callable[[list[dict[str, Any]]], list[dict[str, Any]]], least: int
) -> None:
    section, made = signed(house)
    there = change([row_values(row) for row in made.rows])
    deliver(house, section, made, says(), held=lambda: there)
    now = section.fresh()
    run, state = now.of_run, SubmitState(now)
    differing = len(run.differences)
    assert differing == {32: len(made.rows), 22: len(made.rows) - 10}.get(least, least)
    assert "a different grade than was submitted" in run.alarms[0]
    assert now.snapshot.stem.nodes[4].words == f"{differing} differ there"
    mine = {row.id for row in made.rows}
    lost = [line.student_id for line in run.differences if line.student_id in mine]
    assert {row.student_id for row in state.rows if row.state in {"ready", "to correct"}} >= set(lost)
    assert [row.id for row in state.submittable if row.id in lost] or not lost


def test_answered_is_not_received_while_it_was_not_seen(house: House) -> None:
    section, made = signed(house)
    gone: Callable[[], list[dict[str, Any]]] = lambda: [{"id": None}]  # noqa: E731
    outcome = deliver(house, section, made, says(), held=gone)
    assert outcome.trouble
    state = SubmitState(section.fresh())
    assert (state.count("answered"), state.count("received")) == (len(made.rows), 0)
    assert section.fresh().snapshot.stem.nodes[4].words == "nothing sent yet"


def test_what_changed_after_signing_does_not_go_out(house: House) -> None:
    section, made = signed(house)
    first = made.rows[0]
    other = replace(section.course.settled[first.id], grade="I", reason="the report is missing", owed="the report")
    house.connection.execute(
        "UPDATE settled SET settled = json_set(settled, '$.grade', ?) WHERE section_id = ? AND student_id = ?"
        " AND run = 'final'", (other.grade, section.id, first.id),
    )  # fmt: skip
    house.snapshots.__init__()  # type: ignore[misc]
    gateway = Gateway(OfficeClient("http://office", "token", Registrar(says())))
    going = courier_of(house.connection, gateway, house.act(section), section.record)
    assert going is not None
    stopped = going.deliver(made)
    assert not isinstance(stopped, Done)
    assert "changed after signing, so nothing was sent" in str(stopped)
    assert SubmitState(section.fresh()).changed_since_signed
